import { useMemo } from 'react'
import type { Schemas } from '../api/client'
import { Chart } from '../charts/Chart'
import type { Line } from '../charts/lines'
import { highest, series } from '../solved/trace'
import { useSolved } from '../solved/useSolved'
import { clock, mark, markEvery } from '../units/quantity'

/** How each school is called at its mark. */
const short = ['by emitters', 'by source', 'by watts']

/** Light and cell over the run, tied to the clock, with what the schools say as marks on the same axis, and the band of its end. */
export function RuntimeChart({ feed, schools, band }: { feed: string; schools: Schemas['RuntimeSchool'][]; band: Schemas['Span'] | undefined }) {
  const trace = useSolved((s) => s.trace)
  const t = useSolved((s) => s.t)
  const chart = useMemo(() => {
    if (!trace) return undefined
    const cell = series(trace, feed, 'cellV')
    const flux = series(trace, 'total', 'fluxLm')
    const lm = highest(flux, 0)
    const lines: Line[] = []
    if (flux && lm > 0) lines.push({ name: 'light', unit: 'lm', colour: '--light', axis: 0, digits: 0, points: trace.t.map((x, i) => [x, flux[i]!]) })
    if (cell) lines.push({ name: 'each cell', unit: 'V', colour: '--power', axis: lm > 0 ? 1 : 0, digits: 2, points: trace.t.map((x, i) => [x, cell[i]!]) })
    if (lines.length === 0) return undefined
    const top = lm > 0 ? lm : highest(cell, 0)
    if (band) lines.push({ name: 'eight of ten end here', unit: '', colour: '--ink', axis: 0, points: [[band.low, 0.05 * top], [band.high, 0.05 * top]] })
    const said = schools.slice(0, short.length).map((s, i) => ({ x: (s.hours ?? 0) * 3600, y: top * (0.75 - 0.22 * i), name: short[i]! })).filter((m) => m.x > 0)
    const end = Math.max(trace.endS, band?.high ?? 0, ...said.map((m) => m.x).filter((x) => x < 2 * trace.endS)) * 1.1
    const volt = { name: 'Each cell, V' }
    return { lines, marks: said.filter((m) => m.x <= end), end, y: (lm > 0 ? [{ name: 'Light, lm', min: 0 }, volt] : [volt]) as [{ name: string; min?: number }, { name: string }?] }
  }, [trace, feed, schools, band])
  if (!trace || !chart) return null
  return <Chart title="Running down" lines={chart.lines} marks={chart.marks} y={chart.y} x={{ name: 'Time since switch-on', max: chart.end, format: clock, every: markEvery(chart.end), mark }} cursor={Math.min(t, trace.endS)} height={210} />
}
