import Box from '@mui/material/Box'
import { useQuery } from '@tanstack/react-query'
import { answer, api, type Light } from '../api/client'
import { useSettings } from '../settings/SettingsProvider'
import { amps, digits, show, text } from '../units/quantity'
import { nodeName } from '../document/names'
import { type Placed } from '../document/tree'

/** The same light driven hard, gently and gentler still: what each costs and gains. */
export function RatioView({ light, variant, array }: { light: Light; variant: number; array: Placed }) {
  const { settings } = useSettings()
  const node = array.node.id
  const found = useQuery({ queryKey: ['ratios', variant, node, light], queryFn: async ({ signal }) => (await answer(api.POST('/api/ratios', { signal, params: { query: { variant, array: node } }, body: light }))) ?? [], retry: false, placeholderData: (old) => old })
  if (found.isError) return <Box sx={{ color: 'var(--ink-soft)' }}>{found.error.message}</Box>
  const rows = found.data ?? []
  const line = (label: string, cell: (r: (typeof rows)[number]) => string) => (
    <tr key={label}>
      <th scope="row">{label}</th>
      {rows.map((r) => <td key={r.share} className="figure">{r.why ? '—' : cell(r)}</td>)}
    </tr>
  )
  return (
    <Box data-testid="ratios">
      <Box component="h2" sx={{ fontSize: 14, m: 0 }}>The light of {nodeName(array.node)}, driven at a share of its rating</Box>
      <Box component="table" sx={{ width: '100%', borderCollapse: 'collapse', '& td, & th': { borderTop: '1px solid var(--line)', py: 0.4, textAlign: 'right', fontWeight: 400 }, '& th[scope=row]': { textAlign: 'left', color: 'var(--ink-soft)' }, '& thead th': { fontWeight: 700 } }}>
        <thead>
          <tr>
            <td />
            {rows.map((r) => <th key={r.share} scope="col">{(100 * r.share).toFixed(0)} %</th>)}
          </tr>
        </thead>
        <tbody>
          {line('Each emitter', (r) => amps(r.eachA))}
          {line('Emitters for it', (r) => String(r.emitters))}
          {line('Light, warm', (r) => `${digits(r.fluxLm, 3)} lm`)}
          {line('Into the emitters', (r) => `${digits(r.arrayW, 3)} W`)}
          {line('Of them', (r) => `${r.lmPerW.toFixed(0)} lm/W`)}
          {line('Heat in them', (r) => `${digits(r.heatW, 3)} W`)}
          {line('Junction', (r) => (r.junctionC == null ? 'not known' : text(show(r.junctionC, 'temperature', settings))))}
          {line('To 70 % of the light', (r) => (r.lifeH == null ? 'no test points' : `${r.lifeAtLeast ? 'over ' : 'about '}${(r.lifeH / 1000).toFixed(0)} 000 h`))}
          {settings.pricePerKWh !== undefined && line('1000 h of it cost', (r) => (r.arrayW * settings.pricePerKWh!).toFixed(2))}
          {line('Emitters cost', (r) => (r.price == null ? 'no price' : r.price.toFixed(2)))}
        </tbody>
      </Box>
      {rows.filter((r) => r.why).map((r) => <Box key={r.share} sx={{ fontSize: 13, color: 'var(--caution-ink)' }}>{(100 * r.share).toFixed(0)} %: {r.why}</Box>)}
      <Box sx={{ fontSize: 12, color: 'var(--ink-soft)', mt: 0.5 }}>
        Same body and source; whole strings, so the light may be a little more. Gently driven emitters last longer, stay cooler and give more lumens a watt; hard driven ones are fewer and cheaper. Life is a projection that real lamps miss by a factor of two.
      </Box>
    </Box>
  )
}
