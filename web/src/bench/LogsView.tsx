import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useMemo, useRef, useState } from 'react'
import { answer, api, type Light, type Schemas } from '../api/client'
import { sendLog } from '../api/log'
import { Chart } from '../charts/Chart'
import type { Line } from '../charts/lines'
import type { Change } from '../document/store'
import { useKept } from '../settings/useKept'
import { clock, digits, mark, markEvery } from '../units/quantity'
import { DischargeFit } from './DischargeFit'
import { WarmFit } from './WarmFit'

type BenchLog = Schemas['BenchLog']

interface Props {
  id: string
  light: Light
  variant: number
  change: Change
}

const units: Record<string, string> = { temperature: '°C', voltage: 'V', current: 'A', power: 'W', illuminance: 'lx' }
const colours = ['--heat', '--power', '--light', '--margin', '--ink', '--caution']
/** At most so many channels have a line. */
const mostLines = 6

/** Logs of a light: brought in from a file or pasted, charted, and what they say of its heat and its pack. */
export function LogsView({ id, light, variant, change }: Props) {
  const client = useQueryClient()
  const [open, setOpen] = useState<string>()
  const [note, setNote] = useState('')
  const [paste, setPaste] = useState<string>()
  const file = useRef<HTMLInputElement>(null)
  const found = useQuery({ queryKey: ['logs', id], queryFn: ({ signal }) => answer(api.GET('/api/lights/{id}/logs', { signal, params: { path: { id } } })), retry: false })
  const logs: BenchLog[] = found.data ?? []
  const log = logs.find((l) => l.id === open) ?? logs.at(-1)
  const bring = async (name: string, body: Blob | string) => {
    setNote('The log is read…')
    try {
      const made = await sendLog(id, name, body)
      await client.invalidateQueries({ queryKey: ['logs', id] })
      setOpen(made.id)
      setNote('')
      setPaste(undefined)
    } catch (e) {
      setNote((e as Error).message)
    }
  }
  const drop = async (l: BenchLog) => {
    await api.DELETE('/api/lights/{id}/logs/{log}', { params: { path: { id, log: l.id } } })
    await client.invalidateQueries({ queryKey: ['logs', id] })
  }
  return (
    <Box data-testid="logs" sx={{ mt: 1 }}>
      <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', alignItems: 'baseline' }}>
        {logs.map((l) => (
          <Button key={l.id} aria-pressed={l === log} variant={l === log ? 'outlined' : 'text'} sx={{ borderRadius: 4, py: 0, minWidth: 0 }} onClick={() => setOpen(l.id)}>{l.name}</Button>
        ))}
        <Button sx={{ p: 0, minWidth: 0 }} onClick={() => file.current?.click()}>Bring a log in…</Button>
        <Button sx={{ p: 0, minWidth: 0 }} onClick={() => setPaste(paste === undefined ? '' : undefined)}>Paste one…</Button>
        <input ref={file} type="file" aria-label="File of a log" accept=".csv,.txt,.tsv,text/csv,text/plain" hidden
          onChange={(e) => {
            const f = e.target.files?.[0]
            if (f) void bring(f.name.replace(/\.[a-z]+$/i, '').slice(0, 120) || 'log', f)
            e.target.value = ''
          }} />
      </Box>
      {paste !== undefined && (
        <Box sx={{ mt: 1 }}>
          <Box component="textarea" aria-label="Readings of a log" value={paste} rows={6} onChange={(e: React.ChangeEvent<HTMLTextAreaElement>) => setPaste(e.target.value)} placeholder={'time (s); housing (°C)\n0; 20,1\n10; 20,6'} sx={{ width: '100%', font: 'inherit', fontFamily: 'var(--mono)', fontSize: 13, border: '1px dotted var(--power)', background: 'none', color: 'inherit', p: 0.5 }} />
          <Button variant="outlined" sx={{ py: 0 }} disabled={paste.trim() === ''} onClick={() => void bring(`pasted, ${new Date().toISOString().slice(0, 10)}`, paste)}>Take it</Button>
        </Box>
      )}
      {note && <Box role="alert" sx={{ fontSize: 13, color: 'var(--caution-ink)', mt: 0.5 }}>{note}</Box>}
      {!log && !note && found.isSuccess && <Box sx={{ color: 'var(--ink-soft)', mt: 1, maxWidth: 560 }}>Nothing is logged yet. A few minutes of a warm-up, read every few seconds, tell where it ends; a pack run down tells its capacity. Any logger’s CSV will do: commas, semicolons or tabs, a time in front.</Box>}
      {log && <OneLog key={log.id} id={id} log={log} light={light} variant={variant} change={change} onDrop={() => void drop(log)} />}
    </Box>
  )
}

function OneLog({ id, log, light, variant, change, onDrop }: { id: string; log: BenchLog; light: Light; variant: number; change: Change; onDrop: () => void }) {
  const [zoom, setZoom] = useState<[number, number]>()
  const query = { fromS: zoom?.[0] ?? 0, toS: zoom?.[1] ?? 0, points: 600 }
  const series = useQuery({ queryKey: ['log', log.id, query], queryFn: ({ signal }) => answer(api.GET('/api/lights/{id}/logs/{log}', { signal, params: { path: { id, log: log.id }, query } })), retry: false, placeholderData: (old) => old, staleTime: Infinity })
  // What a log is of is remembered by its headings.
  const [kind, setKind] = useKept(`log-kind-${log.channels.map((c) => c.name).join('|').slice(0, 80)}`, log.channels.some((c) => c.quantity === 'temperature') ? 'warm' : 'pack')
  const chart = useMemo(() => {
    const s = series.data
    if (!s || s.s.length === 0) return undefined
    const first = log.channels[0]?.quantity ?? ''
    const lines: Line[] = log.channels.slice(0, mostLines).map((c, i) => ({ name: c.name, unit: units[c.quantity] ?? '', colour: colours[i]!, axis: c.quantity === first ? 0 : 1, points: s.s.flatMap((t, k) => { const y = s.mean[i]?.[k]; return y == null ? [] : [[t, y] as [number, number]] }) }))
    const of = (axis: 0 | 1) => lines.filter((l) => l.axis === axis).flatMap((l) => l.points.map(([, y]) => y))
    const span = (axis: 0 | 1) => { const ys = of(axis); return { min: Math.min(0, ...ys), max: Math.max(...ys) * 1.05 } }
    const second = lines.find((l) => l.axis === 1)
    return { lines, from: s.s[0]!, to: s.s.at(-1)!, y: [{ name: `${log.channels[0]!.quantity || 'reading'}, ${units[first] ?? ''}`, ...span(0) }, second ? { name: `${second.name}`, ...span(1) } : undefined] as const }
  }, [series.data, log])
  return (
    <Box sx={{ mt: 1 }}>
      <Box sx={{ fontSize: 13, color: 'var(--ink-soft)', display: 'flex', gap: 1.5, flexWrap: 'wrap', alignItems: 'baseline' }}>
        <span><span className="figure">{log.readings}</span> readings over <span className="figure">{clock(log.seconds)}</span></span>
        {log.bad > 0 && <details><summary style={{ color: 'var(--caution-ink)', cursor: 'pointer' }}>{log.bad} {log.bad === 1 ? 'row' : 'rows'} kept aside</summary>{log.aside.map((b) => <Box key={b.line} className="figure">line {b.line}: {b.why}</Box>)}</details>}
        <a href={`/api/lights/${id}/logs/${log.id}/csv`} download>CSV</a>
        {zoom ? <Button sx={{ p: 0, minWidth: 0 }} onClick={() => setZoom(undefined)}>All of it</Button> : log.seconds > 0 && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => setZoom([0, log.seconds / 10])}>Its first tenth, exactly</Button>}
        <Button sx={{ p: 0, minWidth: 0, ml: 'auto', color: 'var(--ink-soft)' }} onClick={onDrop}>Take it out</Button>
      </Box>
      {chart && <Chart title={log.name} lines={chart.lines} x={{ name: 'Time', min: chart.from, max: chart.to, format: (t) => clock(t), every: markEvery(chart.to - chart.from), mark }} y={chart.y[1] ? [chart.y[0], chart.y[1]] : [chart.y[0]]} height={kind === 'warm' ? 150 : 220} />}
      {series.data && !series.data.exact && <Box sx={{ fontSize: 12, color: 'var(--ink-soft)' }}>Averaged over <span className="figure">{digits((chart ? chart.to - chart.from : 0) / Math.max(1, series.data.s.length), 2)} s</span> each.</Box>}
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
