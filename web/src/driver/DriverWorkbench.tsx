import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { Light, Part, Variant } from '../api/client'
import { freshNode, hangOn, putBefore } from '../document/edits'
import { get, set } from '../document/pointer'
import { digits } from '../units/quantity'
import { ReadRow } from '../figures/FigureField'
import { nodeName } from '../document/names'
import { chosenOf, litOf, nodesOf, partOf, type Placed } from '../document/tree'
import { WorkbenchTitle, Choice, Field, Tick, type WorkbenchProps } from '../workbench/fields'
import { useAnyFigures, useFigures, useMode, useSolution } from '../solved/useSolved'
import { Modes } from './Modes'
import { AlikeRow, Chooser, PartLine, ToTree, x } from '../workbench/rows'

type Driver = NonNullable<Part['driver']>

const families: Record<Driver['family'], string> = {
  none: 'Straight through', resistor: 'Series resistor', dropper: 'Fixed dropper', linear: 'Linear current', buck: 'Step-down current', boost: 'Step-up current', 'buck-boost': 'Step-up/down current',
  window: 'Mains current, window', voltage: 'Voltage, current limit',
}
const regulators = new Set<string>(['linear', 'buck', 'boost', 'buck-boost', 'window'])

/** Where the current knob begins to do anything, as the server works it out. */
function knobHint(travel: number | undefined, d: Driver): string | undefined {
  if (travel === undefined) return d.minCurrentA !== undefined && d.maxCurrentA !== undefined ? `${d.minCurrentA} to ${d.maxCurrentA} A` : undefined
  const what = d.minCurrentA !== undefined ? 'the knob' : 'the dimmer'
  if (travel >= 0.999) return `${what} dims over all its travel`
  return travel > 0 ? `${what} dims below ${(travel * 100).toFixed(0)} % of its travel` : `${what} does nothing with this load`
}

/** The knob's travel, the part of it that dims filled. */
function Travel({ share }: { share: number | undefined }) {
  if (share === undefined) return null
  return (
    <Box role="img" aria-label={`Dims over ${(share * 100).toFixed(0)} % of its travel`} sx={{ height: 8, background: 'var(--track)', borderRadius: 1, my: 0.5 }}>
      <Box sx={{ width: `${share * 100}%`, height: '100%', background: 'var(--light-flow)', borderRadius: 1 }} />
    </Box>
  )
}

export function DriverWorkbench(work: WorkbenchProps) {
  const { light, variant, at } = work
  const nodes = nodesOf(variant, at)
  const drivers = nodes.filter((p) => p.node.driver)
  const dimmers = nodes.filter((p) => p.node.dimmer)
  const p = chosenOf(drivers, work.chosen)
  const part = partOf(light, p?.node.driver?.partId)
  return (
    <>
      <WorkbenchTitle title="Driver" keyName="2" />
      {drivers.length === 0 && (
        <Box sx={{ fontSize: 13, color: 'var(--ink-soft)', py: 0.5 }}>
          No driver in this light: the source feeds what lights up directly, and its own resistance is all that limits the current.{' '}
          <Button sx={{ p: 0, minWidth: 0, verticalAlign: 'baseline' }} onClick={() => work.change((l) => withDriver(l, variant, at), 'Driver added')}>Put a driver in</Button>
        </Box>
      )}
      <Chooser work={work} label="Which driver" list={drivers} />
      {dimmers.map((p) => (
        <Box key={p.node.id}>
          <Field work={work} label={`${nodeName(p.node)}, level`} pointer={`${p.pointer}/dimmer/level`} quantity="fraction" required />
          <Choice work={work} label="Cuts the wave at its" pointer={`${p.pointer}/dimmer/edge`} standard="" options={{ '': 'not said', leading: 'leading edge', trailing: 'trailing edge' }} />
          <Field work={work} label="Least load" pointer={`${p.pointer}/dimmer/minLoadW`} quantity="power" fallback="not known" />
          <Field work={work} label="Greatest load" pointer={`${p.pointer}/dimmer/maxLoadW`} quantity="power" fallback="not known" />
        </Box>
      ))}
      {p && (
        <Box key={p.node.id}>
          <PartLine work={work} kind="driver" id={p.node.driver!.partId} usedAt={`${p.pointer}/driver/partId`} empty="No driver chosen yet" />
          <AlikeRow p={p} />
          <Settings work={work} p={p} d={part?.part.driver} from={part?.pointer} />
          <Readings work={work} p={p} d={part?.part.driver} />
          <More work={work} p={p} d={part?.part.driver} from={part?.pointer} />
        </Box>
      )}
    </>
  )
}

/** The currents that jumpers choose from, and the one that is set though none of them gives it. */
function jumpers(offered: number[], set: number | undefined): Record<string, string> {
  const options = Object.fromEntries(offered.map((a) => [String(a), `${a} A`]))
  return set === undefined || offered.includes(set) ? options : { ...options, [String(set)]: `${set} A, no jumper` }
}

/** A driver put before the first thing that lights up, or on the source where there is none. */
function withDriver(light: Light, variant: Variant, at: string): Light {
  const driver = freshNode(variant, 'driver')
  const lit = litOf(nodesOf(variant, at))[0]
  return lit ? putBefore(light, lit.pointer, driver) : hangOn(light, `${at}/feeds/0`, driver)
}

function Settings({ work, p, d, from }: { work: WorkbenchProps; p: Placed; d?: Driver; from?: string }) {
  const judged = useSolution((s) => s.judgedInputs[p.node.id])
  const travel = useSolution((s) => s.knobTravel[p.node.id])
  if (!d || !from) return null
  const use = p.node.driver!
  const here = `${p.pointer}/driver`
  const regulates = regulators.has(d.family)
  return (
    <>
      <ReadRow label="Family">{families[d.family]}</ReadRow>
      {regulates && d.jumperCurrentsA && (
        <Choice work={work} label="Jumpers" pointer={`${here}/setCurrentA`} standard={String(d.setCurrentA ?? '')} options={jumpers(d.jumperCurrentsA, use.setCurrentA)} number />
      )}
      {regulates && !d.jumperCurrentsA && (
        <Field work={work} label={d.programV !== undefined ? 'Wanted current' : 'Set current'} pointer={`${here}/setCurrentA`} quantity="current" fallback={d.setCurrentA !== undefined ? `${d.setCurrentA} A` : 'not set'} hint={d.minCurrentA !== undefined && d.maxCurrentA !== undefined ? `${d.minCurrentA} to ${d.maxCurrentA} A` : undefined} />
      )}
      {regulates && d.family !== 'window' && <Field work={work} label="Set by a resistor: reference" pointer={`${from}/driver/programV`} quantity="voltage" fallback="no resistor" />}
      {regulates && d.programV !== undefined && <Field work={work} label="times" pointer={`${from}/driver/programFactor`} quantity="count" fallback="1" hint="I = factor × reference ÷ resistor, as the data sheet has it" />}
      {regulates && d.programV !== undefined && <Field work={work} label="Setting resistor fitted" pointer={`${here}/programOhm`} quantity="resistance" fallback="none yet" hint="works out under Set up" />}
      {d.family === 'voltage' && <Field work={work} label="Set voltage" pointer={`${here}/setVoltageV`} quantity="voltage" fallback={d.setVoltageV !== undefined ? `${d.setVoltageV} V` : 'not set'} hint={d.minVoltageV !== undefined && d.maxVoltageV !== undefined ? `${d.minVoltageV} to ${d.maxVoltageV} V` : undefined} />}
      {d.family === 'voltage' && <Field work={work} label="Current limit" pointer={`${here}/setCurrentA`} quantity="current" fallback={d.maxCurrentA !== undefined ? `${d.maxCurrentA} A` : 'none'} hint={knobHint(travel, d)} />}
      {d.family === 'voltage' && <Travel share={travel} />}
      {d.family === 'voltage' && <Field work={work} label="Rated output" pointer={`${from}/driver/maxOutputW`} quantity="power" fallback="not known" />}
      {d.family === 'resistor' && <Field work={work} label="Series resistor" pointer={`${here}/resistanceOhm`} quantity="resistance" fallback={d.resistanceOhm !== undefined ? `${d.resistanceOhm} Ω` : 'not set'} />}
      {d.family === 'resistor' && <Field work={work} label="Wanted current" pointer={`${here}/setCurrentA`} quantity="current" fallback="not said" />}
      {d.family === 'dropper' && <Field work={work} label="Drops" pointer={`${from}/driver/dropV`} quantity="voltage" fallback="not known" />}
      {d.family === 'window' && <ReadRow label="Window">{`${d.minVoltageV ?? '?'} to ${d.maxVoltageV ?? '?'} V`}</ReadRow>}
      <ChannelOf work={work} p={p} d={d} />
      {((d.channels ?? 1) > 1 || (use.tiedChannels ?? 1) > 1) && <Field work={work} label={`Channels tied, of ${d.channels ?? 1}`} pointer={`${here}/tiedChannels`} quantity="count" fallback="1" hint={d.tieable ? 'these may be tied' : 'these must not be tied'} />}
      {(d.family === 'linear' || d.family === 'buck') && <Field work={work} label="Headroom it needs" pointer={`${from}/driver/headroomV`} quantity="voltage" fallback={d.family === 'buck' ? '0.8 V assumed' : '0.3 V assumed'} />}
      <Field work={work} label="Lowest input" pointer={`${from}/driver/inputMinV`} quantity="voltage" fallback="not known" />
      <Field work={work} label="Highest input" pointer={`${from}/driver/inputMaxV`} quantity="voltage" fallback="not known" />
      {judged && <ReadRow label="Input judged over">{judged.highV - judged.lowV < 0.005 * judged.highV ? x(judged.highV, 'V') : `${digits(judged.lowV, 3)} to ${x(judged.highV, 'V')}`}</ReadRow>}
    </>
  )
}

/** What is looked at less often: below the readings, which must not be scrolled to. */
function More({ work, p, d, from }: { work: WorkbenchProps; p: Placed; d?: Driver; from?: string }) {
  if (!d || !from) return null
  const use = p.node.driver!
  const here = `${p.pointer}/driver`
  const dimmable = d.dimming !== undefined && d.dimming !== 'none'
  const dimmed = use.dimming !== undefined || (use.modes?.length ?? 0) > 0
  return (
    <>
      {!['none', 'resistor', 'dropper', 'linear'].includes(d.family) && <Efficiency work={work} p={p} d={d} from={from} />}
      {d.class === 'I' && <Tick work={work} label="Its earth is connected" pointer={`${here}/unearthed`} inverted />}
      <Button sx={{ p: 0, minWidth: 0, mr: 2 }} onClick={() => work.onFigures(from)}>All figures…</Button>
      {!dimmed && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => work.change((l) => set(l, `${here}/dimming`, { current: 1 }), 'Dimming')}>{dimmable ? 'Dim it…' : 'Dim it (its data do not say how)…'}</Button>}
      {dimmed && <Modes work={work} p={p} d={d} />}
      {['none', 'resistor', 'dropper', 'voltage'].includes(d.family) ? null : use.stepDown ? <StepDown work={work} here={`${here}/stepDown`} /> : <Button sx={{ p: 0, minWidth: 0, display: 'block' }} onClick={() => work.change((l) => set(l, `${here}/stepDown`, { to: 0.5, afterS: 300 }), 'Goes down by itself')}>It goes down by itself…</Button>}
    </>
  )
}

/** How a driver goes down by itself: after a time, or while it is hot. */
function StepDown({ work, here }: { work: WorkbenchProps; here: string }) {
  return (
    <Box sx={{ pl: 1.5, borderLeft: '2px solid var(--line)' }}>
      <Field work={work} label="Goes down by itself to" pointer={`${here}/to`} quantity="fraction" required />
      <Field work={work} label="after" pointer={`${here}/afterS`} quantity="duration" fallback="not by time" />
      <Field work={work} label="or above" pointer={`${here}/atC`} quantity="temperature" fallback="not by heat" />
      {(get(work.light, `${here}/atC`) as number | undefined) !== undefined && (
        <>
          <Field work={work} label="and is back below" pointer={`${here}/backC`} quantity="temperature" fallback="5 K lower" />
          <Choice work={work} label="Its sensor sits on" pointer={`${here}/bodyId`} standard="" options={{ '': 'what the driver sits on', ...Object.fromEntries(work.variant.bodies.map((b) => [b.id, b.name])) }} />
        </>
      )}
      <Button sx={{ p: 0, minWidth: 0 }} onClick={() => work.change((l) => set(l, here, undefined), 'Does not go down')}>It does not go down</Button>
    </Box>
  )
}

/** The efficiency as it is typed, with the point it is meant at: typing it writes that point down. */
function Efficiency({ work, p, d, from }: { work: WorkbenchProps; p: Placed; d: Driver; from: string }) {
  const at = `${from}/driver`
  const here = useSolution((s) => s.nominalPoints[p.node.id])
  const rounded = (n: number) => Number(n.toPrecision(5))
  const meant = (l: Light, value: number | undefined): Light => {
    if (value === undefined || !here || d.efficiencyFlat) return l
    const stated = get(l, at) as Driver
    const put = (to: Light, name: keyof Driver, n: number) => (stated[name] === undefined ? set(to, `${at}/${name}`, rounded(n)) : to)
    return put(put(put(l, 'efficiencyAtA', here.outA), 'efficiencyAtInputV', here.inV), 'efficiencyAtOutputV', here.outV)
  }
  const table = (d.efficiencyPoints ?? []).length
  const nominal = (n: number | undefined, unit: string) => (n === undefined ? 'not known yet' : `${x(n, unit)} here`)
  if (table > 0) return <ReadRow label="Efficiency">{`by its table of ${table} points, as given`}</ReadRow>
  return (
    <>
      <Field work={work} label="Known efficiency" pointer={`${at}/efficiency`} quantity="fraction" fallback={d.family === 'buck-boost' ? '83 % assumed' : '88 % assumed'} also={meant} />
      <Choice work={work} label="It holds" pointer={`${at}/efficiencyFlat`} standard="false" options={{ false: 'at one point', true: 'everywhere' }} yesNo />
      {!d.efficiencyFlat && (
        <Box sx={{ pl: 1.5, borderLeft: '2px solid var(--line)' }}>
          <Field work={work} label="meant at an input of" pointer={`${at}/efficiencyAtInputV`} quantity="voltage" fallback={nominal(here?.inV, 'V')} />
          <Field work={work} label="at an output of" pointer={`${at}/efficiencyAtOutputV`} quantity="voltage" fallback={nominal(here?.outV, 'V')} />
          <Field work={work} label={(d.channels ?? 1) > 1 ? 'and, each channel,' : 'and'} pointer={`${at}/efficiencyAtA`} quantity="current" fallback={nominal(here?.outA, 'A')} />
        </Box>
      )}
    </>
  )
}

/** Of which part with several channels this is one. */
function ChannelOf({ work, p, d }: { work: WorkbenchProps; p: Placed; d: Driver }) {
  const { variant, at } = work
  const others = nodesOf(variant, at).filter((q) => q.node.id !== p.node.id && q.node.driver?.partId === p.node.driver!.partId)
  if (((d.channels ?? 1) < 2 || others.length === 0) && !p.node.driver!.chip) return null
  const here = `${p.pointer}/driver/chip`
  const chips = new Map<string, string>()
  for (const q of others) chips.set(q.node.driver!.chip ?? q.node.id, `the same as ${nodeName(q.node)}`)
  const mine = p.node.driver!.chip
  if (mine !== undefined && !chips.has(mine)) chips.set(mine, 'one of its own')
  const join = (light: Light, chip: string | undefined): Light => {
    // One that was on its own until now gets the word too.
    const other = others.find((q) => q.node.id === chip && !q.node.driver!.chip)
    return set(other ? set(light, `${other.pointer}/driver/chip`, chip) : light, here, chip)
  }
  return <Choice work={work} label={`One part has ${d.channels ?? 1} channel${(d.channels ?? 1) > 1 ? 's' : ''}; this is of`} pointer={here} standard="" options={{ '': 'one of its own', ...Object.fromEntries(chips) }} put={join} />
}

function Readings({ work, p, d }: { work: WorkbenchProps; p: Placed; d?: Driver }) {
  const figures = useFigures(p.node.id, 'inV', 'inA', 'inW', 'outV', 'outA', 'outW', 'peakV', 'peakA', 'lossW')
  const f: typeof figures = useAnyFigures(...(p.node.loads ?? []).map((n) => n.id)) ? figures : {}
  const mode = useMode(p.node.id)
  // The rows stand before there are figures: what lies below them is not to move under the pointer.
  if (!d) return null
  const { inW = 0, outW = 0, outA = 0 } = f
  const margin = (f.inV ?? 0) - (f.peakV ?? 0) - (d.headroomV ?? 0)
  const pulsed = (f.peakA ?? 0) > outA * 1.001
  const boards = (p.node.loads ?? []).reduce((n, k) => n + (k.array ? (k.array.count ?? 1) * Math.max(k.count ?? 1, 1) : 0), 0)
  return (
    <>
      <ReadRow label="In">{`${x(f.inV, 'V')} · ${x(f.inA, 'A')}`}</ReadRow>
      <ReadRow label={pulsed ? 'Out, mean' : 'Out'}>{`${x(f.outV, 'V')} · ${x(f.outA, 'A')}`}</ReadRow>
      {pulsed && <ReadRow label="Out, while on">{`${x(f.peakV, 'V')} · ${x(f.peakA, 'A')}`}</ReadRow>}
      {boards > 1 && <ReadRow label="Each board">{f.outA === undefined ? '—' : `${x(outA / boards, 'A')} · ${x(outW / boards, 'W')}`}</ReadRow>}
      <ReadRow label="Lost in the driver" tone="var(--heat-ink)">{`${x(f.lossW, 'W')} · ${inW > 0 ? ((100 * outW) / inW).toFixed(0) : '—'} %`}</ReadRow>
      {(d.family === 'linear' || d.family === 'buck') && <ReadRow label="Headroom to spare" tone={margin < 0 ? 'var(--caution-ink)' : 'var(--margin-ink)'}>{outW > 0 ? `${margin.toFixed(2)} V` : '—'}</ReadRow>}
      <ReadRow label="It is in" tone={['uncontrolled', 'hiccup', 'locked out'].includes(mode ?? '') ? 'var(--stop)' : undefined}>{mode ?? '—'}</ReadRow>
      {get(work.light, `${p.pointer}/loads`) === undefined && <ToTree work={work}>Nothing hangs on it yet.</ToTree>}
    </>
  )
}
