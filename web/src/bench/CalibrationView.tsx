import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { calibrate } from '../api/calibrate'
import type { Light, Schemas } from '../api/client'
import { set } from '../document/pointer'
import { corrected } from '../document/readings'
import type { Change } from '../document/store'
import { useSettings } from '../settings/SettingsProvider'
import { useSolution } from '../solved/useSolved'
import { digits, clock, show, text } from '../units/quantity'
import { typedAs } from './quantities'
import { goToRow, keyOf } from './ReadingsView'

interface Props {
  light: Light
  variant: number
  query: { variant: number; tools: string[]; ways: string[] }
  change: Change
  onReadings: () => void
}

const cells = { display: { xs: 'block', md: 'table' }, overflowX: 'auto', width: '100%', fontSize: 13, borderCollapse: 'collapse', mt: 0.5, '& td': { whiteSpace: 'nowrap' }, '& td, & th': { borderTop: '1px solid var(--line)', py: 0.4, pl: 1, textAlign: 'right', fontWeight: 400 }, '& th[scope=row]': { textAlign: 'left', pl: 0 }, '& thead th': { color: 'var(--ink-soft)', borderTop: 0 } } as const

/** What the readings make of the figures: each is taken by itself, beside the document, and goes again by a press. */
export function CalibrationView({ light, variant, query, change, onReadings }: Props) {
  const { settings } = useSettings()
  const [tried, setTried] = useState(0)
  const found = useQuery<Schemas['Calibration']>({ queryKey: ['calibration', query, light], queryFn: ({ signal }) => calibrate(light, query, signal, setTried), retry: false, placeholderData: (old) => old })
  if (found.isError) return <Box role="alert" sx={{ color: 'var(--ink-soft)', mt: 1.5 }}>{found.error.message}</Box>
  if (!found.data) return <Box role="status" sx={{ color: 'var(--ink-soft)', mt: 1.5 }}>The figures are fitted…{tried > 0 && <> <span className="figure">{tried}</span> lights with other figures were tried.</>}</Box>
  const c = found.data
  const at = `/variants/${variant}/corrected`
  const list = light.variants[variant]?.corrected ?? []
  const put = (f: Schemas['Calibrated']) => change((l) => corrected(l, variant, f.take), `Taken: ${f.label}`)
  const drop = (where: string) => change((l) => {
    const rest = (l.variants[variant]?.corrected ?? []).filter((x) => x.at !== where)
    return set(l, at, rest.length === 0 ? undefined : rest)
  }, 'Correction taken back')
  const all = () => change((l) => set(l, at, c.figures.filter((f) => !f.unknown && !f.far).map((f) => f.take)), 'All taken')
  if (c.used === 0) {
    return <Box sx={{ mt: 1.5, maxWidth: 520, color: 'var(--ink-soft)' }}>No reading of this sitting speaks of a figure yet{c.left > 0 && ', or a slip is asked about'}. <Button sx={{ p: 0, minWidth: 0, verticalAlign: 'baseline' }} onClick={onReadings}>To the readings</Button>{c.next && ': the one that would tell most is marked there'}</Box>
  }
  const known = c.figures.filter((f) => !f.unknown)
  const unknown = c.figures.filter((f) => f.unknown)
  return (
    <Box data-testid="calibration" sx={{ mt: 1.5 }}>
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'baseline', flexWrap: 'wrap' }}>
        <Box component="h2" sx={{ fontSize: 14, m: 0 }}>What <span className="figure">{c.used}</span> readings make of the figures</Box>
        {known.length > 0 && <Button sx={{ p: 0, minWidth: 0 }} onClick={all}>Take all that lie within their tolerance</Button>}
      </Box>
      {c.cause && <Box sx={{ fontSize: 13, color: 'var(--caution-ink)' }}>▲ One thing is most likely wrong ({c.cause.why}): mend it, and read again, before you take figures that would hide it.</Box>}
      <RawBeside />
      <Box component="table" aria-label="Figures with the readings" sx={cells}>
        <thead><tr><th scope="row">Figure</th><th>said</th><th>with the readings</th><th>still open</th><th /></tr></thead>
        <tbody>
          {known.map((f) => (
            <tr key={f.pointer}>
              <th scope="row">{f.label}{f.far && <Box component="span" sx={{ display: 'block', fontSize: 12, color: 'var(--caution-ink)' }}>▲ beyond its own tolerance: look at it before you take it</Box>}</th>
              <td className="figure">{no(f.was, f.prior)} <Box component="span" sx={{ color: 'var(--ink-soft)' }}>± {digits(f.prior, 2)} {f.unit}</Box></td>
              <td className="figure">{no(f.value, f.within)} <Box component="span" sx={{ color: 'var(--ink-soft)' }}>± {digits(f.within, 2)} {f.unit}</Box></td>
              <td className="figure">{((f.within / f.prior) * 100).toFixed(0)} %</td>
              <td>{f.taken ? <Button sx={{ p: 0, minWidth: 0 }} onClick={() => drop(f.take.at)}>Take back</Button> : <Button sx={{ p: 0, minWidth: 0 }} onClick={() => put(f)}>Take</Button>}</td>
            </tr>
          ))}
        </tbody>
      </Box>
      {list.filter((x) => !c.figures.some((f) => f.take.at === x.at)).map((x) => <Box key={x.at} sx={{ fontSize: 13 }}>{x.label}: corrected to <span className="figure">{digits(x.value, 3)}</span> earlier <Button sx={{ p: 0, minWidth: 0 }} onClick={() => drop(x.at)}>Take back</Button></Box>)}
      {unknown.length > 0 && <Box sx={{ fontSize: 13, color: 'var(--ink-soft)', mt: 0.5 }}>The readings say next to nothing of {unknown.map((f) => f.label).join(' · ')}.{c.next && <> <Button sx={{ p: 0, minWidth: 0, verticalAlign: 'baseline' }} onClick={() => { onReadings(); setTimeout(() => goToRow(keyOf(c.next)), 100) }}>The reading that would tell most</Button></>}</Box>}
      <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1.5 }}>The readings before and after</Box>
      <Box component="table" aria-label="Readings before and after" sx={cells}>
        <thead><tr><th scope="row">Reading</th><th>read</th><th>as said</th><th>with the readings</th></tr></thead>
        <tbody>
          {c.rows.map((r) => {
            const say = (x: number) => text(show(x, typedAs(r.quantity), settings))
            const off = (x: number) => `${x > r.read ? '+' : '−'}${digits(Math.abs(x - r.read) / r.within, 2)} bands`
            return (
              <tr key={r.what}>
                <th scope="row">{r.what}</th>
                <td className="figure">{say(r.read)}</td>
                <td className="figure">{say(r.before)} <Box component="span" sx={{ color: 'var(--ink-soft)' }}>{off(r.before)}</Box></td>
                <td className="figure">{say(r.after)} <Box component="span" sx={{ color: 'var(--ink-soft)' }}>{off(r.after)}</Box></td>
              </tr>
            )
          })}
        </tbody>
      </Box>
    </Box>
  )
}

/** A figure with no more decimals than its band has. */
const no = (value: number, within: number) => value.toFixed(Math.min(8, Math.max(0, 1 - Math.floor(Math.log10(Math.max(within, 1e-9))))))

/** The answers as the document says beside those that are corrected. */
function RawBeside() {
  const { settings } = useSettings()
  const raw = useSolution((s) => s.raw)
  const now = useSolution((s) => s.answers)
  const stale = useSolution((s) => s.stale)
  const degrees = (c: number | null | undefined) => (c == null ? '—' : text(show(c, 'temperature', settings)))
  if (!raw || !now) return stale && stale.length > 0 ? <Box sx={{ fontSize: 13, color: 'var(--caution-ink)' }}>Left out, as this light has no such figure any more: {stale.map((x) => x.label).join(', ')}.</Box> : null
  const rows: [string, string, string][] = [
    ['Light', raw.fluxLm == null ? '—' : `${digits(raw.fluxLm, 3)} lm`, now.fluxLm == null ? '—' : `${digits(now.fluxLm, 3)} lm`],
    ['Until it is empty', raw.endS == null ? '—' : clock(raw.endS), now.endS == null ? '—' : clock(now.endS)],
    ['Taken in', `${digits(raw.inputW, 3)} W`, `${digits(now.inputW, 3)} W`],
    ['Hottest junction', degrees(raw.junctionC), degrees(now.junctionC)],
  ]
  return (
    <Box component="table" aria-label="Answers as said and corrected" sx={{ ...cells, maxWidth: 520 }}>
      <thead><tr><th scope="row">The answers</th><th>as said</th><th>corrected</th></tr></thead>
      <tbody>{rows.map(([name, a, b]) => <tr key={name}><th scope="row">{name}</th><td className="figure">{a}</td><td className="figure">{b}</td></tr>)}</tbody>
    </Box>
  )
}
