import Box from '@mui/material/Box'
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { answer, api, type Light } from '../api/client'
import { Chart } from '../charts/Chart'
import type { Axis, Line } from '../charts/lines'
import { useSettings } from '../settings/SettingsProvider'
import { amps, digits, show, text } from '../units/quantity'
import { nodeName } from '../document/names'
import { type Placed } from '../document/tree'

/** Shown where there is room. */
const wide = { display: { xs: 'none', sm: 'table-cell' } }

/** A strip along its length: voltage and light from end to end, and the list to cut it by. */
export function StripRun({ light, variant, strip }: { light: Light; variant: number; strip: Placed }) {
  const { settings } = useSettings()
  const node = strip.node.id
  const found = useQuery({ queryKey: ['strip', variant, node, light], queryFn: async ({ signal }) => (await answer(api.POST('/api/strip', { signal, params: { query: { variant, node } }, body: light }))) ?? [], retry: false, placeholderData: (old) => old })
  const chart = useMemo(() => {
    const runs = found.data?.filter((r) => r.along.length > 0) ?? []
    if (runs.length === 0) return undefined
    const dash = [false, true, 'dotted'] as const
    const lines = runs.slice(0, 3).flatMap((r, i): Line[] => {
      const piece = runs.length > 1 ? `, piece ${r.piece + 1}` : ''
      return [
        { name: `voltage${piece}`, unit: 'V', colour: '--power', axis: 0, points: r.along.map((s): [number, number] => [s.atM, s.voltageV]), dashed: dash[i], digits: 2 },
        { name: `light${piece}`, unit: '%', colour: '--light', axis: 1, points: r.along.map((s): [number, number] => [s.atM, 100 * s.light]), dashed: dash[i], digits: 0 },
      ]
    })
    return { lines, x: { name: 'Along the piece from its fed end, m', max: Math.max(...runs.map((r) => r.cutM)), format: (m: number) => `${Number(m.toPrecision(3))} m`, mark: String }, y: [{ name: 'Voltage, V', min: Math.floor(0.95 * Math.min(...runs.map((r) => r.farV))) }, { name: 'Light, % of rated', min: 0 }] as [Axis, Axis] }
  }, [found.data])
  if (found.isError) return <Box sx={{ color: 'var(--ink-soft)' }}>{found.error.message}</Box>
  if (!found.data) return <Box sx={{ color: 'var(--ink-soft)' }}>Following the strip…</Box>
  const metres = (m: number) => text(show(m, 'length', settings, 4))
  const whole = found.data.reduce((sum, r) => sum + r.cutM, 0)
  return (
    <Box data-testid="strip-run">
      <Box component="table" aria-label={`Cut list of ${nodeName(strip.node)}`} sx={{ width: '100%', fontSize: 13, borderCollapse: 'collapse', '& td, & th': { textAlign: 'right', borderTop: '1px solid var(--line)', py: 0.3, pl: 1, fontWeight: 400 }, '& th': { color: 'var(--ink-soft)', verticalAlign: 'bottom' }, '& td:first-of-type, & th:first-of-type': { textAlign: 'left', pl: 0 } }}>
        <thead>
          <tr><th scope="col">Cut list</th><th scope="col">Cut to</th><Box component="th" scope="col" sx={wide}>Segments</Box><th scope="col">Takes</th><th scope="col">Light</th><th scope="col">Darkest segment</th></tr>
        </thead>
        <tbody>
          {found.data.map((r) => (
            <tr key={r.piece}>
              <td>Piece {r.piece + 1}{r.over && <Box component="span" sx={{ color: 'var(--caution-ink)' }}> (asked {metres(r.askedM)})</Box>}</td>
              <td className="figure">{metres(r.cutM)}</td>
              <Box component="td" className="figure" sx={wide}>{r.segments}</Box>
              <td className="figure">{amps(r.currentA)}</td>
              <td className="figure">{r.fluxLm > 0 ? `${digits(r.fluxLm, 3)} lm` : '—'}</td>
              <td className="figure" style={{ color: r.dark ? 'var(--caution-ink)' : undefined }}>{digits(r.farV, 3)} V · {(100 * r.farLight).toFixed(0)} %</td>
            </tr>
          ))}
          {found.data.length > 1 && (
            <tr><td>In all</td><td className="figure">{metres(whole)}</td><Box component="td" className="figure" sx={wide}>{found.data.reduce((n, r) => n + r.segments, 0)}</Box><td className="figure">{amps(found.data.reduce((a, r) => a + r.currentA, 0))}</td><td className="figure">{digits(found.data.reduce((lm, r) => lm + r.fluxLm, 0), 3)} lm</td><td /></tr>
          )}
        </tbody>
      </Box>
      {chart && <Chart title="Along the strip" {...chart} height={180} />}
      <Box sx={{ fontSize: 12, color: 'var(--ink-soft)' }}>{strip.node.strip?.bothEnds ? 'Fed from both ends: the middle is darkest.' : 'Fed from one end. Fed from both, the copper carries half as far, and a quarter of the drop is left.'} Cut at the marked lines only; mark plus and minus before soldering.</Box>
    </Box>
  )
}
