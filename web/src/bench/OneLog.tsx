import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useMemo, useState } from 'react'
import { answer, api, type Light, type Schemas } from '../api/client'
import { Chart } from '../charts/Chart'
import type { Line } from '../charts/lines'
import type { Change } from '../document/store'
import { FigureField } from '../figures/FigureField'
import { useKept } from '../settings/useKept'
import { clock, digits, mark, markEvery } from '../units/quantity'
import { DischargeFit } from './DischargeFit'
import { LiveBar } from './LiveBar'
import { useFollow } from './useFollow'
import { WarmFit } from './WarmFit'

const units: Record<string, string> = { temperature: '°C', voltage: 'V', current: 'A', power: 'W', resistance: 'Ω', illuminance: 'lx', ppfd: 'µmol/m²s' }
const colours = ['--heat', '--power', '--light', '--margin', '--ink', '--caution']
/** At most so many channels have a line, and so many marks stand in a chart. */
const mostLines = 6
const mostMarks = 8

/** One log: its chart, what happened meanwhile, and what it says. */
export function OneLog({ id, log, light, variant, change, onDrop }: { id: string; log: Schemas['BenchLog']; light: Light; variant: number; change: Change; onDrop: () => void }) {
  const client = useQueryClient()
  const [zoom, setZoom] = useState<[number, number]>()
  const query = { fromS: zoom?.[0] ?? 0, toS: zoom?.[1] ?? 0, points: 600 }
  const series = useQuery({ queryKey: ['log', log.id, query], queryFn: ({ signal }) => answer(api.GET('/api/lights/{id}/logs/{log}', { signal, params: { path: { id, log: log.id }, query } })), retry: false, placeholderData: (old) => old, staleTime: Infinity })
  const { rows: fresh, lost } = useFollow(id, log, series.isPlaceholderData ? undefined : series.data?.seq)
  // What a log is of is remembered by its headings.
  const [kind, setKind] = useKept(`log-kind-${log.channels.map((c) => c.name).join('|').slice(0, 80)}`, log.channels.some((c) => c.quantity === 'temperature') ? 'warm' : 'pack')
  // A strip a quantity, one under the other on the same times.
  const strips = useMemo(() => {
    const s = series.data
    const coming = zoom ? [] : fresh
    if (!s || s.s.length + coming.length === 0) return undefined
    const names = new Set<string>()
    const lines = log.channels.slice(0, mostLines).map((c, i) => {
      let name = c.name
      for (let n = 2; names.has(name); n++) name = `${c.name} (${n})`
      names.add(name)
      const line: Line = { name, unit: units[c.quantity] ?? '', colour: colours[i]!, axis: 0, points: [...s.s.map((t, k) => [t, s.mean[i]?.[k]] as const), ...coming.map((r) => [r.s, r.values[i]] as const)].flatMap(([t, y]) => (y == null ? [] : [[t, y] as [number, number]])) }
      return { quantity: c.quantity, line }
    })
    const from = s.s[0] ?? coming[0]!.s
    const to = coming.at(-1)?.s ?? s.s.at(-1)!
    const happened = log.marks.filter((m) => m.s >= from && m.s <= to && m.s > 0).slice(-mostMarks)
    return {
      from, to,
      of: [...new Set(lines.map((l) => l.quantity))].map((quantity) => [quantity, lines.filter((l) => l.quantity === quantity)] as const).map(([quantity, of], k) => ({
        lines: of.map((l) => l.line),
        y: { name: `${quantity || 'reading'}, ${units[quantity] ?? ''}`, ...spanOf(of.flatMap((l) => l.line.points.map(([, y]) => y))) },
        marks: k > 0 ? [] : happened.map((m) => ({ x: m.s, y: nearest(of[0]!.line.points, m.s), name: m.text })),
      })),
    }
  }, [series.data, log, fresh, zoom])
  const closer = useCallback((from: number, to: number) => setZoom([Math.max(0, Number(from.toPrecision(4))), Number(to.toPrecision(4))]), [])
  const readings = Math.max(log.readings, fresh.at(-1)?.seq ?? 0)
  return (
    <Box sx={{ mt: 1 }}>
      <Box sx={{ fontSize: 13, color: 'var(--ink-soft)', display: 'flex', gap: 1.5, flexWrap: 'wrap', alignItems: 'baseline' }}>
        <span><span className="figure">{readings}</span> readings over <span className="figure">{clock(Math.max(log.seconds, fresh.at(-1)?.s ?? 0))}</span></span>
        {log.bad > 0 && <details><summary style={{ color: 'var(--caution-ink)', cursor: 'pointer' }}>{log.bad} {log.bad === 1 ? 'row' : 'rows'} kept aside</summary>{log.aside.map((b) => <Box key={b.line} className="figure">line {b.line}: {b.why}</Box>)}</details>}
        <a href={`/api/lights/${id}/logs/${log.id}/csv`} download>CSV</a>
        {zoom ? <Button sx={{ p: 0, minWidth: 0 }} onClick={() => { setZoom(undefined); void client.invalidateQueries({ queryKey: ['log', log.id] }) }}>All of it</Button> : log.seconds > 0 && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => setZoom([0, log.seconds / 10])}>Closer…</Button>}
        <Button sx={{ p: 0, minWidth: 0, ml: 'auto', color: 'var(--ink-soft)' }} onClick={onDrop}>Take it out</Button>
      </Box>
      {zoom && (
        <Box sx={{ display: 'flex', gap: 3, flexWrap: 'wrap', maxWidth: 460 }}>
          <Box sx={{ flex: '1 1 180px' }}><FigureField label="From" pointer="zoom/from" quantity="duration" value={zoom[0]} onChange={(from, done) => done && from !== undefined && from < zoom[1] && closer(from, zoom[1])} /></Box>
          <Box sx={{ flex: '1 1 180px' }}><FigureField label="to" pointer="zoom/to" quantity="duration" value={zoom[1]} onChange={(to, done) => done && to !== undefined && to > zoom[0] && closer(zoom[0], to)} /></Box>
        </Box>
      )}
      {log.state !== 'kept' && <LiveBar id={id} log={log} last={fresh.at(-1)} lost={lost} />}
      {strips?.of.map((strip, k) => <Chart key={strip.y.name} title={k === 0 ? log.name : strip.y.name} lines={strip.lines} marks={strip.marks} x={{ name: 'Time', min: strips.from, max: strips.to, format: (t) => clock(t), every: markEvery(strips.to - strips.from), mark }} y={[strip.y]} onStretch={log.seconds > 0 ? closer : undefined} height={strips.of.length > 1 ? 130 : kind === 'warm' ? 150 : 220} />)}
      {log.marks.length > 0 && <details style={{ fontSize: 13 }}><summary style={{ cursor: 'pointer', color: 'var(--ink-soft)' }}>What happened</summary>{log.marks.map((m, k) => <Box key={k}><span className="figure">{clock(m.s)}</span> {m.text}</Box>)}</details>}
      {zoom && series.data?.exact && <Box sx={{ fontSize: 12, color: 'var(--ink-soft)' }}>Every reading of this stretch.</Box>}
      {series.data && !series.data.exact && series.data.s.length > 1 && <Box sx={{ fontSize: 12, color: 'var(--ink-soft)' }}>Averaged over <span className="figure">{digits((strips ? strips.to - strips.from : 0) / Math.max(1, series.data.s.length), 2)} s</span> each; pull a stretch of it open to see it closer.</Box>}
      <Box component="label" sx={{ fontSize: 13 }}>
        It is{' '}
        <select value={kind} onChange={(e) => setKind(e.target.value)} style={{ font: 'inherit', border: 0, background: 'none', color: 'var(--power-ink)' }}>
          <option value="warm">a warm-up from switch-on</option>
          <option value="pack">a pack run down from full</option>
          <option value="other">something else</option>
        </select>
      </Box>
      {kind === 'warm' && <WarmFit light={light} variant={variant} log={log} change={change} />}
      {kind === 'pack' && <DischargeFit light={light} variant={variant} log={log} change={change} />}
    </Box>
  )
}

/** A log that moves little is drawn over its own range, which the chart rounds; else from 0. */
function spanOf(ys: number[]): { min?: number; max?: number } {
  const least = Math.min(...ys)
  const most = Math.max(...ys)
  return least > 0 && most - least < least / 3 ? {} : { min: Math.min(0, least), max: most > 0 ? most * 1.05 : 1 }
}

/** Where a line is at a time: its nearest point. */
function nearest(points: [number, number][], t: number): number {
  let best: [number, number] = points[0] ?? [0, 0]
  for (const p of points) if (Math.abs(p[0] - t) < Math.abs(best[0] - t)) best = p
  return best[1]
}
