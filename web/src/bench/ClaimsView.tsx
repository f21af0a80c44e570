import Box from '@mui/material/Box'
import { useQuery } from '@tanstack/react-query'
import { answer, api, type Light } from '../api/client'
import { set } from '../document/pointer'
import type { Change } from '../document/store'
import { FigureField } from '../figures/FigureField'

const says = {
  holds: { word: 'nothing stands against it', shape: '●', tone: 'var(--margin-ink)' },
  doubtful: { word: 'doubtful', shape: '◆', tone: 'var(--caution-ink)' },
  impossible: { word: 'impossible', shape: '▲', tone: 'var(--stop)' },
  unknown: { word: 'not known', shape: '○', tone: 'var(--ink-soft)' },
} as const

const stated = [['powerW', 'Watts', 'power'], ['fluxLm', 'Light', 'luminousFlux'], ['runtimeH', 'Hours at that light', 'hours'], ['capacityAh', 'Capacity of a cell', 'charge'], ['energyWh', 'Energy of its pack', 'energy']] as const
const read = [['measuredV', 'At', 'voltage'], ['measuredA', 'it drew', 'current'], ['measuredW', 'or, at the wall', 'power']] as const

/** What is stated of the light, held against what was read and against energy. */
export function ClaimsView({ light, variant, change }: { light: Light; variant: number; change: Change }) {
  const at = `/variants/${variant}/claims`
  const c = light.variants[variant]?.claims
  const found = useQuery({ queryKey: ['claims', variant, light], queryFn: ({ signal }) => answer(api.POST('/api/bench/claims', { signal, params: { query: { variant } }, body: light })), retry: false, placeholderData: (old) => old })
  const field = (key: string, label: string, quantity: string) => <FigureField key={key} label={label} pointer={`${at}/${key}`} quantity={quantity} value={c?.[key as 'powerW']} fallback="not said" onChange={(x, done) => change((l) => set(l, `${at}/${key}`, x), label, done)} />
  return (
    <Box data-testid="claims" sx={{ mt: 1.5, display: 'grid', gridTemplateColumns: { xs: '1fr', lg: '280px 1fr' }, columnGap: 3, rowGap: 1 }}>
      <Box>
        <Box component="h2" sx={{ fontSize: 14, m: 0 }}>What is stated</Box>
        {stated.map(([key, label, quantity]) => field(key, label, quantity))}
        <Box sx={{ display: 'flex', gap: 1, alignItems: 'baseline', py: 0.35, borderBottom: '1px solid var(--line)' }}>
          <Box component="label" htmlFor="cell-size" sx={{ flex: 1, color: 'var(--ink-soft)' }}>Size of its cells</Box>
          <select id="cell-size" value={c?.cellSize ?? ''} onChange={(e) => change((l) => set(l, `${at}/cellSize`, e.target.value || undefined), 'Size of its cells')} style={{ font: 'inherit', border: 0, background: 'none', color: 'var(--power-ink)' }}>
            <option value="">not said</option>
            {['18650', '21700', '26650', '14500', 'AA', 'AAA'].map((s) => <option key={s}>{s}</option>)}
          </select>
        </Box>
        <FigureField label="How many cells" pointer={`${at}/cells`} quantity="count" value={c?.cells || undefined} fallback="not said" onChange={(x, done) => change((l) => set(l, `${at}/cells`, x), 'How many cells', done)} />
        <Box component="h2" sx={{ fontSize: 14, m: 0, mt: 1.5 }}>What was read</Box>
        {read.map(([key, label, quantity]) => field(key, label, quantity))}
      </Box>
      <Box>
        {found.data?.length === 0 && <Box sx={{ color: 'var(--ink-soft)', maxWidth: 460 }}>Type what its seller or its label says: watts, lumens, hours, capacity. Each is held against its draw and against what its cells can hold, in one line of arithmetic.</Box>}
        {found.data?.map((x) => (
          <Box key={x.what} sx={{ borderTop: '1px solid var(--line)', py: 0.75 }}>
            <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'baseline' }}><Box className="figure" sx={{ fontSize: 16 }}>{x.what}</Box><Box sx={{ color: says[x.says].tone }}><span aria-hidden>{says[x.says].shape}</span> {says[x.says].word}</Box></Box>
            {x.sum && <Box className="figure" sx={{ fontSize: 13 }}>{x.sum}</Box>}
            {x.sweeps && <Box sx={{ fontSize: 13 }}>{x.sweeps}</Box>}
            {x.lacks && <Box sx={{ fontSize: 13, color: 'var(--ink-soft)' }}>To tell more: {x.lacks}.</Box>}
          </Box>
        ))}
      </Box>
    </Box>
  )
}
