import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, api, type Light } from '../api/client'
import { set } from '../document/pointer'
import type { Change } from '../document/store'
import { nodeName } from '../document/names'
import type { Placed } from '../document/tree'
import { useKept } from '../settings/useKept'
import { amps, clock } from '../units/quantity'

/** A figure as it would be typed. */
const short = (x: number) => String(Number(x.toPrecision(4)))

/** A lamp known by its draw alone, laid over the pack of its light. */
export function DrawView({ id, light, variant, load, change }: { id: string; light: Light; variant: number; load: Placed; change: Change }) {
  const [typed, setTyped] = useKept(`draw-${id}-${load.node.id}`, (load.node.load?.points ?? light.parts.find((p) => p.id === load.node.load?.partId)?.load?.points ?? []).map((p) => `${short(p.voltageV)} V ${short(p.currentA * 1000)} mA${p.relativeLight === undefined ? '' : ` ${short(p.relativeLight * 100)}`}`).join('\n'))
  const [asked, setAsked] = useState(typed)
  const query = { variant, node: load.node.id, readings: asked }
  const found = useQuery({ queryKey: ['draw', query, light], queryFn: ({ signal }) => answer(api.POST('/api/bench/draw', { signal, params: { query }, body: light })), enabled: asked.trim() !== '', retry: false, placeholderData: (old) => old })
  const d = found.isError ? undefined : found.data
  const part = light.parts.findIndex((p) => p.id === load.node.load?.partId)
  const take = () => {
    if (!d) return
    const points = d.points
    change((l) => (part >= 0 ? set(set(l, `/parts/${part}/load/points`, points), `/parts/${part}/basis`, 'measured') : set(l, `${load.pointer}/load/points`, points)), 'Readings of draw')
  }
  return (
    <Box data-testid="draw" sx={{ mt: 1.5, display: 'grid', gridTemplateColumns: { xs: '1fr', lg: '260px 1fr' }, columnGap: 3, rowGap: 1 }}>
      <Box>
        <Box component="label" htmlFor="draws" sx={{ fontWeight: 600 }}>What {nodeName(load.node)} draws</Box>
        <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)' }}>A reading a line, in any order: volts, amperes, and light in any unit if it was read. One that moves as from–to. Nobody knows its voltage? From zero under a current limit, until light or current stops rising.</Box>
        <Box component="textarea" id="draws" rows={8} value={typed} onChange={(e: React.ChangeEvent<HTMLTextAreaElement>) => setTyped(e.target.value)} onBlur={() => setAsked(typed)} sx={{ width: '100%', mt: 0.5, font: 'inherit', fontFamily: 'var(--mono)', fontSize: 13.5, border: '1px dotted var(--power)', background: 'none', color: 'var(--power-ink)', p: 0.5 }} />
        <Button variant="outlined" sx={{ py: 0 }} onClick={() => setAsked(typed)}>How long does it last</Button>
      </Box>
      <Box>
        {found.isError && <Box role="alert" sx={{ color: 'var(--caution-ink)' }}>{found.error.message}</Box>}
        {d?.contradicts.map((c) => <Box key={c.why} sx={{ color: 'var(--caution-ink)', mb: 0.5 }}><span aria-hidden>◆</span> {c.why}</Box>)}
        {d && (
          <>
            {d.endS != null ? (
              <Box><Box component="span" className="figure" sx={{ fontSize: 22 }} data-testid="draw-end">{clock(d.endS)}</Box> {d.lowS != null && d.highS != null && <Box component="span" className="figure" sx={{ color: 'var(--ink-soft)' }}>{clock(d.lowS)} … {clock(d.highS)}</Box>} <Box component="span" sx={{ color: 'var(--ink-soft)' }}>until the pack is empty or cut off</Box></Box>
            ) : <Box sx={{ color: 'var(--ink-soft)' }}>It has no pack that ends: give it one under Source, and its hours stand here.</Box>}
            {d.meanA != null && <Box sx={{ fontSize: 13 }}>on average <span className="figure">{amps(d.meanA)}</span>, from <span className="figure">{amps(d.fromA)}</span> to <span className="figure">{amps(d.toA)}</span></Box>}
            {d.lightAtEnd != null && <Box sx={{ fontSize: 13 }}>light at the end <span className="figure">{(d.lightAtEnd * 100).toFixed(0)} %</span> of that at the start</Box>}
            <Box sx={{ fontSize: 13, color: 'var(--ink-soft)' }}>the readings scatter by ± {(d.scatter * 100).toFixed(1)} %{d.extrapolated && '; the pack goes outside the voltages that were read: read there too'}</Box>
            <Button sx={{ p: 0, minWidth: 0, mt: 0.5 }} onClick={take}>Take these readings as what it draws</Button>
          </>
        )}
      </Box>
    </Box>
  )
}
