import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useState } from 'react'
import { answer, api, type Light, type Schemas } from '../api/client'
import { nodeName } from '../document/names'
import { nodesOf } from '../document/tree'
import { FigureField } from '../figures/FigureField'
import type { Instrument } from './useInstruments'

interface Props {
  id: string
  light: Light
  variant: number
  plan: Schemas['ReadingPlan'] | undefined
  instruments: Instrument[]
  onBegun: (log: Schemas['BenchLog']) => void
}

const pick = { font: 'inherit', fontSize: 13, border: 0, background: 'none', color: 'var(--power-ink)', maxWidth: '100%' } as const

interface Place {
  key: string
  name: string
  probe: Schemas['Probe']
}

/** What a figure is called for as long as it is read. */
const figures: Record<string, string> = { busV: 'volts', busA: 'draw', bodyC: '', caseC: 'solder point', junctionC: 'junction', peakA: 'current out', peakV: 'volts out', outA: 'current out', outV: 'volts out', inV: 'volts in', inA: 'current in', stringA: 'string current', fluxLm: 'light' }

/** The names of what has figures, by its id. */
function namesOf(light: Light, variant: number): Map<string, string> {
  const v = light.variants[variant]!
  return new Map([...v.feeds.map((f) => [f.id, f.sources?.[0]?.name ?? 'Source'] as const), ...v.bodies.map((b) => [b.id, b.name] as const), ...nodesOf(v, '').map((p) => [p.node.id, nodeName(p.node)] as const)])
}

/** Places of a light where an instrument can stay: each figure of its readings once. */
function placesOf(plan: Schemas['ReadingPlan'] | undefined, names: Map<string, string>, quantity: string): Place[] {
  const out = new Map<string, Place>()
  for (const row of plan?.stages.flatMap((s) => s.rows) ?? []) {
    if (row.reading?.quantity !== quantity || !row.probe || row.probe.figure === 'openV') continue
    const key = `${row.probe.owner} ${row.probe.figure} ${row.probe.times ?? ''} ${row.probe.over}`
    const owner = names.get(row.probe.owner)
    const name = row.probe.times || row.probe.owner === '' ? lasting(row.reading.what) : [owner, figures[row.probe.figure] ?? row.probe.figure].filter(Boolean).join(', ')
    if (!out.has(key)) out.set(key, { key, name, probe: row.probe })
  }
  return [...out.values()]
}

/** What a place is called for as long as it is read: not "after 5 min", nor "full". */
const lasting = (name: string) => name.replace(/,? (after [\d. ]+\w*|at rest|full|half|drained|cold|warm)\b.*$/i, '')

/** Which instruments are read again and again, how often, and at which pace stand-ins run. */
export function LiveForm({ id, light, variant, plan, instruments, onBegun }: Props) {
  const names = namesOf(light, variant)
  const [at, setAt] = useState<Record<string, string>>({})
  const [name, setName] = useState('')
  const [everyS, setEveryS] = useState(1)
  const [pace, setPace] = useState(10)
  const [wrong, setWrong] = useState('')
  const [busy, setBusy] = useState(false)
  const keyOf = (i: Instrument) => i.standIn?.id ?? `${i.address} ${i.quantity}`
  const room = instruments.find((i) => i.standIn)?.standIn?.room
  const used = instruments.filter((i) => at[keyOf(i)])
  const alone = used.length > 0 && used.every((i) => i.standIn)
  const begin = async () => {
    const channels = used.flatMap((i): Schemas['LiveChannel'][] => {
      if (!i.standIn) return [{ name: `${i.quantity}, ${i.address}`.slice(0, 60), quantity: i.quantity as 'voltage', address: i.address }]
      if (i.quantity === 'load') return [{ name: 'Pack under load', quantity: 'voltage', meter: i.standIn.id }, { name: 'Load', quantity: 'current', meter: i.standIn.id }]
      const place = placesOf(plan, names, i.quantity).find((p) => p.key === at[keyOf(i)])
      return place ? [{ name: place.name.slice(0, 60), quantity: i.quantity as 'voltage', meter: i.standIn.id, probe: place.probe }] : []
    })
    channels.forEach((c, i) => {
      const before = channels.slice(0, i).filter((o) => o.name.replace(/ \(\d+\)$/, '') === c.name).length
      if (before > 0) c.name = `${c.name.slice(0, 55)} (${before + 1})`
    })
    setBusy(true)
    setWrong('')
    try {
      const standing = used.some((i) => i.standIn)
      onBegun(await answer(api.POST('/api/lights/{id}/logs/live', { params: { path: { id } }, body: { name: name.trim() || `logged, ${new Date().toISOString().slice(0, 16).replace('T', ' ')}`, everyS: Math.max(everyS, alone ? pace / 10 : 0.1), pace: alone ? pace : 1, ...(standing && room ? { room } : {}), channels } })))
    } catch (e) {
      setWrong((e as Error).message)
    }
    setBusy(false)
  }
  if (instruments.length === 0) return <Box sx={{ mt: 1, color: 'var(--ink-soft)', maxWidth: 560 }}>No instrument is at hand: set stand-ins up, or add one of your own by its address, under Instruments.</Box>
  return (
    <Box data-testid="live-form" sx={{ mt: 1, fontSize: 13, maxWidth: 620, display: 'grid', gap: 0.5 }}>
      {instruments.map((i) => {
        const key = keyOf(i)
        const places = placesOf(plan, names, i.quantity)
        if (i.standIn && i.quantity !== 'load' && places.length === 0) return null
        return (
          <Box key={key} sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1.4fr)', columnGap: 1 }}>
            <Box>{i.name.replace(/^Stand-in /, '')}</Box>
            <select aria-label={`Where ${i.name} reads`} value={at[key] ?? ''} onChange={(e) => setAt({ ...at, [key]: e.target.value })} style={pick}>
              <option value="">is not logged</option>
              {i.standIn && i.quantity !== 'load' ? places.map((p) => <option key={p.key} value={p.key}>{p.name}</option>) : <option value="on">{i.quantity === 'load' ? 'its volts and amperes' : i.quantity}</option>}
            </select>
          </Box>
        )
      })}
      <Box sx={{ display: 'flex', gap: 2, flexWrap: 'wrap', alignItems: 'baseline' }}>
        <Box sx={{ width: 240 }}><FigureField label="A row every" pointer="live/every" quantity="duration" value={everyS} onChange={(s) => s !== undefined && setEveryS(Math.min(Math.max(s, 0.1), 3600))} /></Box>
        {alone && <label>time runs{' '}<select aria-label="Pace of the stand-ins" value={pace} onChange={(e) => setPace(Number(e.target.value))} style={pick}>{[[1, 'as it does'], [10, '10 times as fast'], [60, '60 times as fast'], [600, '600 times as fast']].map(([p, w]) => <option key={p} value={p}>{w}</option>)}</select></label>}
      </Box>
      {alone && everyS < pace / 10 && <Box sx={{ color: 'var(--ink-soft)' }}>At this pace a row every <span className="figure">{pace / 10} s</span> of the light’s time is the most.</Box>}
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'baseline' }}>
        <Box component="input" aria-label="Name of the log" placeholder="name: warm-up on the shelf…" maxLength={120} value={name} onChange={(e: React.ChangeEvent<HTMLInputElement>) => setName(e.target.value)} sx={{ flex: 1, minWidth: 0, font: 'inherit', border: 0, borderBottom: '1px dotted var(--power)', background: 'none', color: 'inherit' }} />
        <Button variant="outlined" sx={{ py: 0 }} disabled={used.length === 0 || busy} onClick={() => void begin()}>{used.some((i) => i.standIn) ? 'Switch on and log' : 'Log'}</Button>
      </Box>
      {wrong && <Box role="alert" sx={{ color: 'var(--caution-ink)' }}>{wrong}</Box>}
    </Box>
  )
}
