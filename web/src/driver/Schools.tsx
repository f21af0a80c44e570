import Box from '@mui/material/Box'
import { useQueries } from '@tanstack/react-query'
import { answer, api, type Light, type Solution } from '../api/client'
import { set } from '../document/pointer'
import { useSettings } from '../settings/SettingsProvider'
import { clock, digits, show, text } from '../units/quantity'
import { freshId } from '../document/names'
import { nodesOf, partOf, type Placed } from '../document/tree'

interface Props {
  light: Light
  variant: number
  driver: Placed
}

interface Way {
  name: string
  light: Light
}

const holdsCurrent = new Set(['linear', 'buck', 'boost', 'buck-boost', 'window', 'voltage'])
/** Fast enough that nobody sees it. */
const switchedHz = 2000

/** The same light made dimmer, or driven without a regulator, by the ways people argue about. */
function waysOf({ light, variant, driver }: Props): Way[] {
  const at = `/variants/${variant}`
  const use = `${driver.pointer}/driver`
  const family = partOf(light, driver.node.driver?.partId)?.part.driver?.family
  const drivers = nodesOf(light.variants[variant]!, at).filter((p) => p.node.driver?.partId !== undefined)
  const level = (to: Light, pointer: string, dimming: object) => set(set(to, `${pointer}/mode`, undefined), `${pointer}/dimming`, dimming)
  const all = (dimming: object) => drivers.reduce((l, p) => level(l, `${p.pointer}/driver`, dimming), light)
  const ways: Way[] = [{ name: 'As it is', light }]
  if (family && holdsCurrent.has(family)) {
    ways.push({ name: 'Current lowered to half', light: all({ current: 0.5 }) }, { name: 'Switched, on half of the time', light: all({ duty: 0.5, frequencyHz: switchedHz }) })
  }
  if (drivers.length > 1) ways.push({ name: 'Half of the groups off', light: drivers.slice(Math.ceil(drivers.length / 2)).reduce((l, p) => set(l, `${p.pointer}/fault`, { state: 'open' }), light) })
  if (light.variants[variant]!.feeds[driver.feed]?.sources[0]?.pack && family !== 'none') {
    const id = freshId('straight', light.parts.map((p) => p.id))
    const straight = set(set(light, '/parts', [...light.parts, { id, name: 'Straight wire', driver: { family: 'none' } }]), use, { partId: id })
    ways.push({ name: 'Straight from the source', light: straight })
  }
  return ways
}

/** The schools side by side: what each does to light, power, warmth and hours, all from the same solver. */
export function Schools(props: Props) {
  const { variant } = props
  const { settings } = useSettings()
  const ways = waysOf(props)
  const found = useQueries({ queries: ways.map((w) => ({ queryKey: ['school', w.name, variant, w.light], queryFn: ({ signal }: { signal: AbortSignal }) => answer(api.POST('/api/solve', { signal, params: { query: { variant } }, body: w.light })), retry: false })) })
  const row = (label: string, cell: (s: Solution) => string, tone?: (s: Solution) => string | undefined) => (
    <tr>
      <th scope="row">{label}</th>
      {found.map((f, i) => (
        <td key={ways[i]!.name} className="figure" style={{ color: f.data && tone?.(f.data) }}>
          {f.data ? cell(f.data) : f.isError ? '—' : '…'}
        </td>
      ))}
    </tr>
  )
  const count = (s: Solution, severity: string) => s.findings.filter((f) => f.severity === severity).length
  return (
    <Box data-testid="schools" sx={{ overflowX: { xs: 'auto', md: 'visible' } }}>
      <Box component="table" aria-label="Ways of driving it, side by side" sx={{ width: '100%', fontSize: 13, borderCollapse: 'collapse', '& td, & th': { borderTop: '1px solid var(--line)', py: 0.4, pl: 1, textAlign: 'right', fontWeight: 400 }, '& th[scope=row]': { textAlign: 'left', color: 'var(--ink-soft)', pl: 0, whiteSpace: 'nowrap' }, '& thead th': { fontWeight: 700, verticalAlign: 'bottom' }, '& thead th, & thead td': { borderTop: 0 } }}>
        <thead>
          <tr>
            <td />
            {ways.map((w) => <th key={w.name} scope="col">{w.name}</th>)}
          </tr>
        </thead>
        <tbody>
          {row('Light', (s) => (s.answers.fluxLm == null ? (s.answers.fluxWhy || 'not known') : `${digits(s.answers.fluxLm, 3)} lm`))}
          {row('Takes', (s) => `${digits(s.answers.inputW, 3)} W`)}
          {row('Gives', (s) => (s.answers.efficacyLmPerW == null ? '—' : `${s.answers.efficacyLmPerW.toFixed(0)} lm/W`))}
          {row('Half light', (s) => (s.answers.halfS == null ? '—' : clock(s.answers.halfS)))}
          {row('Ends', (s) => (s.answers.endS == null ? s.answers.endsBy : `${clock(s.answers.endS)}, ${s.answers.endsBy}`))}
          {row('Junction', (s) => (s.answers.junctionC == null ? 'not known' : text(show(s.answers.junctionC, 'temperature', settings))))}
          {row('Stops, cautions', (s) => `${count(s, 'stop')}, ${count(s, 'caution')}`, (s) => (count(s, 'stop') > 0 ? 'var(--stop)' : count(s, 'caution') > 0 ? 'var(--caution-ink)' : 'var(--margin-ink)'))}
        </tbody>
      </Box>
      <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)', mt: 0.5 }}>Light and power at 30 s; hours from a full source; junction at its hottest.</Box>
      <Box component="ul" sx={{ fontSize: 12.5, color: 'var(--ink-soft)', pl: 2.25, mt: 1 }}>
        <li>Lowered current gains lumens a watt, never flickers, and shifts the colour a little; switching keeps the colour and the lumens a watt, and may flicker.</li>
        <li>Groups off are plain, each as efficient as before, and leave parts dark; all dimmed is cooler and more even.</li>
        <li>A regulator holds the light and then ends at once; straight from the source it begins bright, fades, and warns of the end.</li>
      </Box>
    </Box>
  )
}
