import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import { useQuery } from '@tanstack/react-query'
import { useId, useState } from 'react'
import { answer, api, type Light, type Schemas } from '../api/client'
import { taken } from '../document/assumed'
import { set } from '../document/pointer'
import { recorded } from '../document/readings'
import type { Change } from '../document/store'
import { useSettings } from '../settings/SettingsProvider'
import { useKept } from '../settings/useKept'
import { amps, digits, show, text, within } from '../units/quantity'
import { FigureField } from '../figures/FigureField'
import { nodeName } from '../document/names'
import { nodesOf, type Placed } from '../document/tree'

type Plan = Schemas['Plan']
type Step = Schemas['Step']

interface Range {
  low?: number
  high?: number
}

interface Props {
  light: Light
  variant: number
  driver: Placed
  change: Change
}

/** Every driver of a light, and what hangs on a source without one, in the order of the current. */
export function SetUps({ light, variant, at, change, chosen }: Omit<Props, 'driver'> & { at: string; chosen: string | undefined }) {
  const nodes = nodesOf(light.variants[variant]!, at)
  const bare = (p: Placed) => !p.above.some((a) => a.node.driver)
  const list = nodes.filter((p) => p.node.driver ?? ((p.node.array ?? p.node.strip ?? p.node.load) && bare(p)))
  // The one that the workbench is about comes first.
  const first = list.find((p) => p.node.id === chosen)
  return [...(first ? [first] : []), ...list.filter((p) => p !== first)].map((p) => <SetUp key={p.node.id} light={light} variant={variant} driver={p} change={change} />)
}

/** Setting the driver up at the work: numbered steps, what the meter should show at each, and what it did show. */
function SetUp({ light, variant, driver, change }: Props) {
  const [series, setSeries] = useKept<'E12' | 'E24' | 'E96'>('series', 'E24')
  const [drawer, setDrawer] = useKept('drawer', '')
  const [way, setWay] = useState(0)
  const [clockMHz, setClockMHz] = useKept('clock-mhz', 16)
  const [shutter, setShutter] = useKept('shutter', 60)
  const node = driver.node.id
  const [tried, setTried] = useState<Range>({})
  const range = tried.low !== undefined && tried.high !== undefined && tried.low > 0 && tried.high >= tried.low ? { lowV: tried.low, highV: tried.high } : {}
  const query = { variant, node, series, drawer, clockHz: clockMHz * 1e6, shutterS: 1 / shutter, ...range }
  const asked = useQuery({ queryKey: ['setup', query, light], queryFn: ({ signal }) => answer(api.POST('/api/setup', { signal, params: { query }, body: light })), retry: false, placeholderData: (old) => old })
  if (asked.isError) return <Box role="alert" sx={{ color: 'var(--stop)' }}>{asked.error.message}</Box>
  const plan = asked.data
  if (!plan) return null
  if (plan.procedures.length === 0) return <Box sx={{ color: 'var(--ink-soft)' }}>Choose {nodeName(driver.node)} first: then the steps to set it up stand here.</Box>
  const procedure = plan.procedures[Math.min(way, plan.procedures.length - 1)]!
  const record = (step: Step, is: { ticked?: boolean; reading?: number }, done: boolean) => change((l) => recorded(l, variant, node, step.id, is), 'Set-up', done)
  return (
    <Box data-testid="setup" sx={{ '& + &': { mt: 2 } }}>
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1, flexWrap: 'wrap' }}>
        <Box component="h2" sx={{ fontSize: 14, m: 0 }}>{driver.node.driver ? 'Setting up' : 'Bringing up'} {nodeName(driver.node)}</Box>
        {plan.procedures.length > 1 && (
          <Select variant="standard" disableUnderline inputProps={{ 'aria-label': 'Way of setting up' }} value={Math.min(way, plan.procedures.length - 1)} onChange={(e) => setWay(Number(e.target.value))} sx={{ fontSize: 14, color: 'var(--power-ink)' }}>
            {plan.procedures.map((p, i) => (
              <MenuItem key={p.name} value={i} dense>
                {p.name}
              </MenuItem>
            ))}
          </Select>
        )}
        <Box sx={{ color: 'var(--ink-soft)', fontSize: 13 }}>{procedure.when}</Box>
      </Box>
      <Box component="ol" sx={{ m: 0, pl: 0, listStyle: 'none' }}>
        {procedure.steps.map((s, i) => (
          <OneStep key={s.id} step={s} number={i + 1} onTick={(ticked) => record(s, { ticked: ticked ? true : undefined }, true)} onRead={(reading, done) => record(s, { reading }, done)} onTake={(r) => change((l) => taken(l, variant, r), `Measured: ${r.label}`)} />
        ))}
      </Box>
      {plan.resistor && <Resistor plan={plan} series={series} drawer={drawer} onSeries={setSeries} onDrawer={setDrawer} onTake={(ohm) => change((l) => set(l, `${driver.pointer}/driver/${plan.resistor.purpose === 'sets' ? 'programOhm' : 'resistanceOhm'}`, Number(ohm.toPrecision(6))), 'Resistor')} />}
      {plan.line.length > 0 && <LineTable plan={plan} tried={tried} onTry={setTried} />}
      {plan.dimming && (
        <>
          <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1.5 }}>Dimming</Box>
          {plan.dimming.words.map((w) => (
            <Box key={w} sx={{ fontSize: 13, color: 'var(--ink-soft)' }}>{w}</Box>
          ))}
          {plan.dimming.duty != null && (
            <Box sx={{ display: 'flex', gap: 2, flexWrap: 'wrap' }}>
              <FigureField label="Counter’s clock, MHz" pointer="/clock" quantity="count" value={clockMHz} required onChange={(v, done) => done && v !== undefined && v > 0 && setClockMHz(v)} />
              <FigureField label="Camera’s shutter, 1/…s" pointer="/shutter" quantity="count" value={shutter} required onChange={(v, done) => done && v !== undefined && v > 0 && setShutter(v)} />
            </Box>
          )}
          {plan.dimming.flicker && <Box sx={{ fontSize: 13 }}>IEEE 1789: {plan.dimming.flicker.verdict}; at this frequency low risk ends at {(plan.dimming.flicker.lowRisk * 100).toFixed(0)} % modulation, no effect at {(plan.dimming.flicker.noEffect * 100).toFixed(1)} %.</Box>}
        </>
      )}
    </Box>
  )
}

const tones: Record<string, string> = { agrees: 'var(--margin-ink)', doubtful: 'var(--caution-ink)', differs: 'var(--stop)' }

function OneStep({ step, number, onTick, onRead, onTake }: { step: Step; number: number; onTick: (ticked: boolean) => void; onRead: (reading: number | undefined, done: boolean) => void; onTake: (r: Schemas['Replacement']) => void }) {
  const { settings } = useSettings()
  const id = useId()
  const r = step.reading
  return (
    <Box component="li" sx={{ display: 'grid', gridTemplateColumns: '20px 22px minmax(0, 1fr)', columnGap: 0.5, borderTop: '1px solid var(--line)', py: 0.5 }}>
      <input id={id} type="checkbox" checked={step.ticked} onChange={(e) => onTick(e.target.checked)} aria-label={`Step ${number} done`} style={{ alignSelf: 'start', marginTop: 3 }} />
      <Box className="figure" sx={{ color: 'var(--ink-soft)' }}>{number}</Box>
      <Box>
        <Box component="label" htmlFor={id} sx={{ textDecoration: step.ticked && !r ? 'line-through' : 'none', color: step.ticked ? 'var(--ink-soft)' : 'inherit' }}>{step.do}</Box>
        {step.caution && <Box sx={{ fontSize: 13, color: 'var(--caution-ink)' }}>▲ {step.caution}</Box>}
        {r && (
          <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', sm: 'minmax(0, 3fr) minmax(0, 1.6fr)' }, columnGap: 2, alignItems: 'baseline' }}>
            <Box sx={{ fontSize: 13 }}>
              <Box component="span" sx={{ color: 'var(--ink-soft)' }}>Expect, {r.what}: </Box>
              {r.open ? 'not known: read it' : (
                <Box component="span" className="figure" sx={{ whiteSpace: 'nowrap' }}>
                  {text(show(r.expected, r.quantity, settings))}
                  <Box component="span" sx={{ color: 'var(--ink-soft)' }}> ± {text(within(r.within, r.expected, r.quantity, settings))}</Box>
                </Box>
              )}
              {r.replaces && <Button sx={{ p: 0, ml: 1, minWidth: 0, fontSize: 13 }} onClick={() => onTake(r.replaces)}>Take {r.replaces.label}</Button>}
            </Box>
            <FigureField label="Read" pointer={`/step/${step.id}`} quantity={r.quantity} value={r.actual ?? undefined} fallback="type it" onChange={onRead}
              hint={r.calculated && (
                <Box component="span" data-testid="verdict">
                  <Box component="span" sx={{ color: tones[r.calculated] }}>{r.calculated === 'agrees' ? 'agrees with the calculation' : r.calculated === 'doubtful' ? 'doubtful against the calculation' : 'differs from the calculation'}</Box>
                  {r.asWanted && <Box component="span" sx={{ color: r.asWanted === 'as wanted' ? 'var(--margin-ink)' : 'var(--caution-ink)' }}> · {r.asWanted}</Box>}
                </Box>
              )} />
          </Box>
        )}
      </Box>
    </Box>
  )
}

function Resistor({ plan, series, drawer, onSeries, onDrawer, onTake }: { plan: Plan; series: string; drawer: string; onSeries: (s: 'E12' | 'E24' | 'E96') => void; onDrawer: (s: string) => void; onTake: (ohm: number) => void }) {
  const { settings } = useSettings()
  const id = useId()
  const r = plan.resistor
  const ohm = (x: number) => text(show(x, 'resistance', settings))
  return (
    <>
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1, flexWrap: 'wrap', mt: 1.5 }}>
        <Box component="h3" sx={{ fontSize: 13, m: 0 }}>
          {r.purpose === 'sets' ? 'Resistor that sets the current' : 'Resistor in series'}: <span className="figure">{ohm(r.ohm)}</span>
        </Box>
        <Select variant="standard" disableUnderline inputProps={{ 'aria-label': 'Standard values' }} value={series} onChange={(e) => onSeries(e.target.value as 'E12')} sx={{ fontSize: 13, color: 'var(--power-ink)' }}>
          {['E12', 'E24', 'E96'].map((s) => (
            <MenuItem key={s} value={s} dense>
              {s}
            </MenuItem>
          ))}
        </Select>
        <label htmlFor={id} style={{ fontSize: 13, color: 'var(--ink-soft)' }}>In the drawer, Ω:</label>
        <Box component="input" id={id} defaultValue={drawer} placeholder="1, 2.2, 4.7" onBlur={(e) => onDrawer(e.target.value)} sx={{ width: 150, font: 'inherit', fontSize: 13, color: 'var(--power-ink)', background: 'none', border: 0, borderBottom: '1px dotted var(--power)' }} />
      </Box>
      <Box component="table" sx={{ width: '100%', fontSize: 13, borderCollapse: 'collapse', '& td, & th': { textAlign: 'left', verticalAlign: 'top', borderTop: '1px solid var(--line)', py: 0.25, pr: 1, fontWeight: 400 }, '& th': { color: 'var(--ink-soft)' } }}>
        <thead>
          <tr><th>From</th><th>Value</th><th>{r.purpose === 'sets' ? 'Current, with tolerance' : 'Full · half · drained'}</th><th>Heat, rate</th><th /></tr>
        </thead>
        <tbody>
          {r.choices.map((c) => (
            <tr key={`${c.source}${c.ohm.join('/')}`}>
              <td>{c.source}</td>
              <td>
                <span className="figure">{c.ohm.map(ohm).join(' ∥ ')}</span>
                <Box component="span" sx={{ display: 'block', fontSize: 12, color: 'var(--ink-soft)' }}>{c.costs}</Box>
              </td>
              <td className="figure">{r.purpose === 'sets' ? `${amps(c.currentA)} (${amps(c.lowA)} to ${amps(c.highA)})` : `${amps(c.highA)} · ${amps(c.halfA)} · ${amps(c.lowA)}`}</td>
              <td className="figure">{c.lossW > 0 ? `${digits(c.lossW, 2)} W, ${digits(c.rateW, 2)} W` : '—'}</td>
              <td><Box component="button" onClick={() => onTake(c.wholeOhm)} sx={{ border: 0, background: 'none', color: 'var(--power-ink)', font: 'inherit', cursor: 'pointer', p: 0 }}>Take</Box></td>
            </tr>
          ))}
        </tbody>
      </Box>
    </>
  )
}

/** The driver's output over the range of its own source, and over any other that is asked for. */
function LineTable({ plan, tried, onTry }: { plan: Plan; tried: Range; onTry: (range: Range) => void }) {
  const { low, high } = tried
  const inOrder = low === undefined || high === undefined || high >= low
  return (
    <>
      <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1.5 }}>Over the range of {plan.source}</Box>
      <Points list={plan.line} />
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' }, columnGap: 2, mt: 1 }}>
        <FigureField label="Try any source, from" pointer="/tried/low" quantity="voltage" value={low} fallback="a voltage" onChange={(v) => onTry({ ...tried, low: v })} />
        <FigureField label="to" pointer="/tried/high" quantity="voltage" value={high} fallback="a voltage" error={inOrder ? undefined : 'The higher one stands here'} onChange={(v) => onTry({ ...tried, high: v })} />
      </Box>
      {plan.tried.length > 0 && <Points list={plan.tried} />}
    </>
  )
}

function Points({ list }: { list: Plan['line'] }) {
  const behind = list.some((l) => l.sourceV - l.inV > 0.02 * l.sourceV)
  return (
    <Box component="table" sx={{ width: '100%', fontSize: 13, borderCollapse: 'collapse', '& td, & th': { textAlign: 'left', borderTop: '1px solid var(--line)', py: 0.25, fontWeight: 400 }, '& th': { color: 'var(--ink-soft)' } }}>
      <thead>
        <tr><th>Source</th>{behind && <th>At the driver</th>}<th>Out</th><th>Lost</th><th>It is in</th></tr>
      </thead>
      <tbody>
        {list.map((l) => (
          <tr key={`${l.name}${l.sourceV}`}>
            <td><span className="figure">{digits(l.sourceV, 3)} V</span>{l.name === 'tried' ? '' : `, ${l.name}`}</td>
            {behind && <td className="figure">{digits(l.inV, 3)} V</td>}
            <td className="figure">{digits(l.outV, 3)} V · {amps(l.outA)}</td>
            <td className="figure">{digits(l.lossW, 2)} W</td>
            <td>{l.mode}</td>
          </tr>
        ))}
      </tbody>
    </Box>
  )
}
