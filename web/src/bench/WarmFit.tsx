import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, api, type Light, type Schemas } from '../api/client'
import { Chart } from '../charts/Chart'
import { corrected } from '../document/readings'
import type { Change } from '../document/store'
import { nodeName } from '../document/names'
import { nodesOf } from '../document/tree'
import { FigureField } from '../figures/FigureField'
import { useSettings } from '../settings/SettingsProvider'
import { clock, digits, show, text } from '../units/quantity'

interface Props {
  light: Light
  variant: number
  log: Schemas['BenchLog']
  change: Change
}

/** How often a log that is being written is looked at anew, chosen. */
const againMs = 5000
const pick = { font: 'inherit', border: 0, background: 'none', color: 'var(--power-ink)' } as const

/** Where a warm-up is going, by the light's own heat with its figures fitted. */
export function WarmFit({ light, variant, log, change }: Props) {
  const { settings } = useSettings()
  const v = light.variants[variant]!
  const places = [...v.bodies.map((b) => ({ owner: b.id, figure: 'bodyC' as const, name: b.name })), ...nodesOf(v, '').filter((p) => p.node.array).map((p) => ({ owner: p.node.id, figure: 'caseC' as const, name: `solder point of ${nodeName(p.node)}` }))]
  const warm = log.channels.map((c, i) => ({ ...c, i })).filter((c) => c.quantity === 'temperature' || c.quantity === '')
  const [place, setPlace] = useState(0)
  const [channel, setChannel] = useState(warm[0]?.i ?? 0)
  const [from, setFrom] = useState<number>()
  const [to, setTo] = useState<number>()
  const [air, setAir] = useState<number>()
  const [then, setThen] = useState<number>()
  const [share, setShare] = useState<number>()
  const at = places[Math.min(place, places.length - 1)]
  const query = { variant, log: log.id, channel, owner: at?.owner ?? '', figure: at?.figure ?? ('bodyC' as const), fromS: from ?? 0, toS: to ?? 0, ambientC: air === undefined ? '' : String(air), thenC: then === undefined ? '' : String(then), share: share ?? 0 }
  const found = useQuery({ queryKey: ['warmfit', query, light, log.state === 'running' ? 0 : log.readings], refetchInterval: log.state === 'running' ? againMs : false, queryFn: ({ signal }) => answer(api.POST('/api/bench/warmfit', { signal, params: { query }, body: light })), enabled: at !== undefined, retry: false, placeholderData: (old) => old })
  if (warm.length === 0) return <Box sx={{ fontSize: 13, color: 'var(--ink-soft)' }}>It has no channel of temperatures.</Box>
  if (!at) return <Box sx={{ fontSize: 13, color: 'var(--ink-soft)' }}>This light has nothing yet that gets warm: say what it is mounted on, under Heat.</Box>
  // Tenths: the band is often narrower than a degree.
  const c = (x: number) => (settings.fahrenheit ? `${(x * 1.8 + 32).toFixed(1)} °F` : `${x.toFixed(1)} °C`)
  const f = found.isError ? undefined : found.data
  return (
    <Box data-testid="warmfit" sx={{ mt: 0.5 }}>
      <Box sx={{ display: 'flex', gap: 2, flexWrap: 'wrap', fontSize: 13 }}>
        {warm.length > 1 && <label>Channel <select value={channel} onChange={(e) => setChannel(Number(e.target.value))} style={pick}>{warm.map((w) => <option key={w.i} value={w.i}>{w.name}</option>)}</select></label>}
        <label>read at <select aria-label="Place of the probe" value={place} onChange={(e) => setPlace(Number(e.target.value))} style={pick}>{places.map((p, i) => <option key={p.owner + p.figure} value={i}>{p.name}</option>)}</select></label>
      </Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr 1fr' }, columnGap: 2 }}>
        <FigureField label="Switched on at" pointer="warm/from" quantity="duration" value={from} fallback="its start" onChange={setFrom} />
        <FigureField label="Look up to" pointer="warm/to" quantity="duration" value={to} fallback="its end" onChange={setTo} />
        <FigureField label="Air then" pointer="warm/air" quantity="temperature" value={air} fallback={text(show(light.conditions.ambientC, 'temperature', settings))} onChange={setAir} />
        <FigureField label="In other air" pointer="warm/then" quantity="temperature" value={then} fallback="not asked" onChange={setThen} />
        <FigureField label="At this share of its power" pointer="warm/share" quantity="fraction" value={share} fallback="all of it" onChange={setShare} />
      </Box>
      {found.isError && <Box role="alert" sx={{ fontSize: 13, color: 'var(--caution-ink)' }}>{found.error.message}</Box>}
      {!f && !found.isError && <Box sx={{ color: 'var(--ink-soft)' }}>Its heat is fitted…</Box>}
      {f && (
        <>
          {f.why ? <Box sx={{ color: 'var(--stop)' }}>It does not come to rest: {f.why}.</Box> : (
            <Box sx={{ display: 'flex', gap: 3, flexWrap: 'wrap', alignItems: 'baseline', mt: 1 }}>
              <Box><Box component="span" sx={{ color: 'var(--ink-soft)', fontSize: 13 }}>It ends at </Box><Box component="span" className="figure" sx={{ fontSize: 22 }} data-testid="warm-rest">{c(f.restC)}</Box><Box component="span" className="figure" sx={{ color: 'var(--ink-soft)', ml: 0.75 }}>{c(f.low)} … {c(f.high)}</Box></Box>
              {f.then && <Box sx={{ fontSize: 13 }}>then <span className="figure">{c(f.then.restC)}</span> <Box component="span" className="figure" sx={{ color: 'var(--ink-soft)' }}>{c(f.then.low)} … {c(f.then.high)}</Box></Box>}
              {f.junctionC != null && <Box sx={{ fontSize: 13 }}>junction <span className="figure">{c(f.junctionC)} ± {digits(f.junctionWithin, 2)} K</span></Box>}
              {f.kPerW != null && <Box sx={{ fontSize: 13 }}><span className="figure">{digits(f.kPerW, 3)} K/W</span> of heat{f.saidKPerW != null && <Box component="span" sx={{ color: 'var(--ink-soft)' }}>, {digits(f.saidKPerW, 3)} as said</Box>}</Box>}
            </Box>
          )}
          {f.measureOn && <Box sx={{ color: 'var(--caution-ink)' }}><span aria-hidden>◆</span> Measure on: {f.moreS != null ? <><span className="figure">{clock(f.moreS)}</span> more, and the end is known to 1 K.</> : 'more of the same will not tell the end to 1 K; shield it from draughts, or read it more often.'}</Box>}
          <Chart title="Warm-up, read and fitted" height={190} lines={[{ name: 'fitted', unit: '°C', colour: '--heat', axis: 0, dashed: true, points: f.t.map((t, i) => [t / 60, f.curve[i]!]) }, { name: 'read', unit: '°C', colour: '--ink', axis: 0, points: f.read.map((x, i) => [f.t[i]! / 60, x]) }]} x={{ name: 'Time, min', max: f.t.at(-1)! / 60, format: (x) => clock(x * 60) }} y={[{ name: 'Temperature, °C', max: Math.max(...f.curve, ...f.read) * 1.1 }]} levels={f.why ? [] : [{ value: f.restC, axis: 0, name: 'at rest', colour: '--ink-soft' }]} />
          <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)' }}>What the fit leaves is <span className="figure">{digits(f.noiseK, 2)} K</span>{f.togetherS > 0 && <>, which hangs together for some <span className="figure">{digits(f.togetherS, 2)} s</span>: a draught</>}.{f.asSaidC != null && <> As said alone it would end at <span className="figure">{c(f.asSaidC)}</span>.</>}{f.oneExponentialC != null && <> A single exponential would say <span className="figure">{c(f.oneExponentialC)}</span>: wrong where air moves by itself.</>}</Box>
          <Box component="table" aria-label="Figures of the heat" sx={{ width: '100%', fontSize: 13, borderCollapse: 'collapse', mt: 0.5, '& td, & th': { borderTop: '1px solid var(--line)', py: 0.3, pl: 1, textAlign: 'right', fontWeight: 400 }, '& th': { textAlign: 'left', pl: 0 } }}>
            <tbody>
              {f.figures.map((x) => (
                <tr key={x.label}>
                  <th scope="row">{x.label}</th>
                  <td className="figure">{digits(x.was, 3)}</td>
                  <td className="figure">{digits(x.value, 3)} <Box component="span" sx={{ color: 'var(--ink-soft)' }}>{digits(x.low, 3)} … {digits(x.high, 3)}</Box></td>
                  <td>{x.told > 0.1 && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => change((l) => corrected(l, variant, x.take), `Taken: ${x.label}`)}>Take</Button>}</td>
                </tr>
              ))}
            </tbody>
          </Box>
        </>
      )}
    </Box>
  )
}
