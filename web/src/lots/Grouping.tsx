import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, api, type Schemas } from '../api/client'
import { FigureField } from '../figures/FigureField'
import { amps, digits } from '../units/quantity'

const row = { display: 'flex', gap: 1, borderBottom: '1px solid var(--line)', py: 0.25, fontSize: 13 }

/** The best pack the cells of a lot make, what is left, for how gentle a lamp it is, and what fewer newer cells would do. */
export function Grouping({ lot }: { lot: Schemas['Lot'] }) {
  const [series, setSeries] = useState(3)
  const [parallel, setParallel] = useState(4)
  const [grade, setGrade] = useState<'A' | 'B' | 'open'>('B')
  const [weakest, setWeakest] = useState(false)
  const [share, setShare] = useState(0.05)
  const query = { series, parallel, grade, weakest, costShare: share }
  const found = useQuery({ queryKey: ['grouping', query, lot], queryFn: ({ signal }) => answer(api.POST('/api/lots/group', { signal, params: { query }, body: lot })), retry: false, placeholderData: (old) => old })
  const g = found.isError ? undefined : found.data
  return (
    <Box data-testid="grouping">
      <Box component="h2" sx={{ fontSize: 15, m: 0 }}>Grouped into a pack</Box>
      <FigureField label="Groups in series" pointer="lot/series" quantity="count" value={series} required onChange={(x, done) => done && x !== undefined && setSeries(Math.min(Math.max(Math.round(x), 1), 100))} />
      <FigureField label="Cells in each group" pointer="lot/parallel" quantity="count" value={parallel} required onChange={(x, done) => done && x !== undefined && setParallel(Math.min(Math.max(Math.round(x), 1), 50))} />
      <Box sx={row}>
        <Box component="label" htmlFor="lot-grade" sx={{ flex: 1, color: 'var(--ink-soft)' }}>Of grade</Box>
        <select id="lot-grade" value={grade} onChange={(e) => setGrade(e.target.value as typeof grade)} style={{ font: 'inherit', border: 0, background: 'none', color: 'var(--power-ink)' }}>
          <option value="A">A alone</option><option value="B">A and B</option><option value="open">and those still open</option>
        </select>
      </Box>
      <Box sx={row}><Box component="label" sx={{ color: 'var(--ink-soft)' }}><input type="checkbox" checked={weakest} onChange={(e) => setWeakest(e.target.checked)} /> the weakest that will do: for a gentle lamp</Box></Box>
      {found.isError && <Alert severity="warning" sx={{ mt: 0.5 }}>{found.error.message}</Alert>}
      {g && (
        <>
          <Box sx={{ my: 0.75, fontSize: 13.5 }}>
            The pack holds <strong className="figure">{digits(g.grouped.weakestAh, 4)} Ah</strong>, its weakest group. {proof(g.grouped)}
          </Box>
          <Box component="ol" aria-label="Groups" sx={{ listStyle: 'none', m: 0, p: 0 }}>
            {g.grouped.groups.map((x, i) => (
              <Box component="li" key={i} sx={{ py: 0.35, borderTop: '1px solid var(--line)', fontSize: 12.5 }}>
                <Box sx={{ display: 'flex' }}><Box component="span" sx={{ flex: 1 }}>{x.labels.join(' · ')}</Box><span className="figure">{digits(x.capacityAh, 4)} Ah · {digits(x.resistanceOhm * 1000, 2)} mΩ</span></Box>
                <Box aria-hidden sx={{ height: 4, background: 'var(--track)' }}><Box sx={{ height: 4, width: `${(x.capacityAh / (g.grouped.weakestAh + g.grouped.spreadAh)) * 100}%`, background: 'var(--power-flow)' }} /></Box>
              </Box>
            ))}
          </Box>
          <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)' }}>{g.grouped.left.length === 0 ? 'None is left over.' : `Left over, the strongest first: ${g.grouped.left.join(', ')}.`}</Box>
          <FigureField label="Their resistance may cost" pointer="lot/share" quantity="fraction" value={share} required onChange={(x, done) => done && x !== undefined && setShare(Math.min(Math.max(x, 0.001), 0.5))} />
          <Box sx={{ fontSize: 13 }}>{g.gentleA == null ? `Not even at two charges an hour does their resistance cost ${Number(digits(share * 100, 2))} %.` : <>Up to <span className="figure">{amps(g.gentleA)}</span> from the pack their resistance costs less than {Number(digits(share * 100, 2))} % of what it gives: cells of high resistance belong in a lamp that draws no more.</>}</Box>
          {g.instead.length > 0 && (
            <>
              <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1 }}>Other cells that hold as much</Box>
              {g.instead.slice(0, 4).map((o) => <Box key={o.id} sx={row}><Box sx={{ flex: 1 }}>{o.cells} × {o.name}<Box component="span" sx={{ display: 'block', fontSize: 12, color: 'var(--ink-soft)' }}>{o.stock} on hand{o.cost != null && `, cost ${digits(o.cost, 3)}`}{o.kg != null && `, ${digits(o.kg * 1000, 3)} g`}</Box></Box><span className="figure">{digits(o.ah, 3)} Ah · {digits(o.ohm * 1000, 2)} mΩ</span></Box>)}
            </>
          )}
          <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)', mt: 0.5 }}>A light takes them on its Source page, under Pack.</Box>
        </>
      )}
    </Box>
  )
}

function proof(g: Schemas['Grouped']): string {
  const spread = `The groups lie ${Math.round(g.spreadAh * 1000)} mAh apart.`
  if (g.allProven) return `${spread} No grouping of these cells has a stronger one, nor with that groups more alike, nor with that a lower resistance: all were tried.`
  if (g.proven) return `${spread} No grouping of these cells has a stronger one.`
  return `${spread} At most ${digits(g.gapShare * 100, 2)} % better is possible: ${digits(g.boundAh, 4)} Ah is the mean of the groups.`
}
