import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { LightNode, Part } from '../../api/client'
import { set } from '../../document/pointer'
import { useSettings } from '../../settings/SettingsProvider'
import { clock, digits, show, text } from '../../units/quantity'
import { ReadRow } from '../FigureField'
import { nodeName, nodesOf, partOf, type Placed } from '../tree'
import { BenchTitle, Choice, Field, type BenchProps } from './fields'

type Driver = NonNullable<Part['driver']>

const x = (n: number | undefined, unit: string, figures = 3) => (n === undefined ? '—' : `${digits(n, figures)} ${unit}`)

function PartLine({ bench, kind, id, usedAt, empty }: { bench: BenchProps; kind: 'emitter' | 'driver' | 'cell'; id: string | undefined; usedAt: string; empty: string }) {
  const part = partOf(bench.light, id)?.part
  return (
    <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1, borderBottom: '1px solid var(--line)', py: 0.35 }}>
      <Box sx={{ flex: 1, fontWeight: part ? 600 : 400, color: part ? 'inherit' : 'var(--caution-ink)' }}>
        {part?.name ?? empty}
        {part?.basis && <Box component="span" sx={{ ml: 1, fontSize: 11.5, fontWeight: 400, color: 'var(--ink-soft)' }}>{part.basis}</Box>}
      </Box>
      <Button sx={{ p: 0, minWidth: 0 }} onClick={() => bench.onParts(kind, usedAt)}>
        {part ? 'Change…' : 'Choose…'}
      </Button>
    </Box>
  )
}

const several = (list: Placed[], node: LightNode) => (list.length > 1 ? <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1.5 }}>{nodeName(node)}</Box> : null)

export function SourceBench(bench: BenchProps) {
  const { light, variant, at, moment, solution } = bench
  const between = nodesOf(variant, at).filter((p) => (p.node.switch ?? p.node.auxiliary) && !p.above.some((a) => a.node.driver))
  return (
    <>
      <BenchTitle title="Source" keyName="1" />
      {variant.feeds.map((f, i) => {
        const source = f.sources[0]
        const here = `${at}/feeds/${i}/sources/0`
        if (source?.supply) {
          return (
            <Box key={f.id}>
              <ReadRow label="Supply">{source.name ?? source.id}</ReadRow>
              <Field bench={bench} label="Voltage without load" pointer={`${here}/supply/voltageV`} quantity="voltage" required />
              <Field bench={bench} label="Source resistance" pointer={`${here}/supply/resistanceOhm`} quantity="resistance" fallback="0 Ω" />
              <Field bench={bench} label="Current limit" pointer={`${here}/supply/maxCurrentA`} quantity="current" fallback="none" />
            </Box>
          )
        }
        if (source?.mains) {
          return (
            <Box key={f.id}>
              <ReadRow label="Mains">{source.name ?? source.id}</ReadRow>
              <Field bench={bench} label="Voltage" pointer={`${here}/mains/voltageV`} quantity="voltage" required />
              {moment && <ReadRow label="Takes from the wall">{x(moment.figure(f.id, 'sourceW'), 'W')}</ReadRow>}
              {moment && <ReadRow label="In a day, lit all day">{x(((moment.figure(f.id, 'sourceW') ?? 0) * 24) / 1000, 'kWh')}</ReadRow>}
            </Box>
          )
        }
        const pack = source?.pack
        const part = partOf(light, pack?.partId)
        const bus = moment?.figure(f.id, 'busA') ?? 0
        const openPack = () => bench.edit(set(light, here, { id: 'pack', pack: { series: 1, parallel: 1 } }), 'Pack')
        if (!pack) return <Button key={f.id} onClick={openPack}>Add a pack</Button>
        const capacity = part?.part.cell ? part.part.cell.capacityAh * (part.part.cell.health ?? 1) * pack.parallel : undefined
        const driver = nodesOf(variant, at).find((p) => p.node.driver && p.feed === i)
        const ledA = driver && moment?.figure(driver.node.id, 'outA')
        const a = solution?.answers
        return (
          <Box key={f.id}>
            <PartLine bench={bench} kind="cell" id={pack.partId} usedAt={`${here}/pack/partId`} empty="No cell chosen yet" />
            <Field bench={bench} label="Cells in series" pointer={`${here}/pack/series`} quantity="count" required />
            <Field bench={bench} label="Strings in parallel" pointer={`${here}/pack/parallel`} quantity="count" required />
            {part && <Field bench={bench} label="Capacity of a cell" pointer={`${part.pointer}/cell/capacityAh`} quantity="charge" required />}
            {part && <Field bench={bench} label="Resistance of a cell" pointer={`${part.pointer}/cell/resistanceOhm`} quantity="resistance" required />}
            <Field bench={bench} label="Springs, strip, wires" pointer={`${here}/pack/contactOhm`} quantity="resistance" fallback="0 Ω" />
            <Field bench={bench} label="Cut-off, each cell" pointer={`${here}/pack/cutoffCellV`} quantity="voltage" fallback={`${part?.part.cell?.minV ?? 2.8} V`} />
            {moment && <ReadRow label="At the terminals">{`${x(moment.figure(f.id, 'busV'), 'V')} · ${x(bus, 'A')}`}</ReadRow>}
            {moment && <ReadRow label="Charge left">{`${((moment.figure(f.id, 'charge') ?? 0) * 100).toFixed(0)} %`}</ReadRow>}
            {a?.endS != null && capacity !== undefined && ledA !== undefined && ledA > 0 && (
              <ReadRow label="Rule of thumb, mAh ÷ LED mA">{clock((capacity / ledA) * 3600)}</ReadRow>
            )}
          </Box>
        )
      })}
      {between.map((p) => (
        <Box key={p.node.id}>
          {p.node.switch && <Field bench={bench} label={`${nodeName(p.node)}, contact`} pointer={`${p.pointer}/switch/contactOhm`} quantity="resistance" fallback="0 Ω" />}
          {p.node.auxiliary && <Field bench={bench} label={`${nodeName(p.node)}, draw`} pointer={`${p.pointer}/auxiliary/currentA`} quantity="current" fallback="0 A" />}
        </Box>
      ))}
    </>
  )
}

const families: Record<string, string> = { none: 'Straight through', resistor: 'Series resistor', linear: 'Linear current', buck: 'Step-down current', voltage: 'Voltage, current limit' }

/** Where the current knob begins to do anything, as the server works it out. */
function knobHint(solution: BenchProps['solution'], node: string, d: Driver): string | undefined {
  const travel = solution?.knobTravel[node]
  if (travel === undefined) return d.minCurrentA !== undefined && d.maxCurrentA !== undefined ? `${d.minCurrentA} to ${d.maxCurrentA} A` : undefined
  if (travel >= 0.999) return 'the knob dims over all its travel'
  return travel > 0 ? `the knob dims below ${(travel * 100).toFixed(0)} % of its travel` : 'the knob does nothing with this load'
}

export function DriverBench(bench: BenchProps) {
  const { light, variant, at, moment, solution } = bench
  const drivers = nodesOf(variant, at).filter((p) => p.node.driver)
  return (
    <>
      <BenchTitle title="Driver" keyName="2" />
      {drivers.length === 0 && <p>No driver in this light: the source feeds the emitters directly.</p>}
      {drivers.map((p) => {
        const use = p.node.driver!
        const found = partOf(light, use.partId)
        const d = found?.part.driver
        const figure = (name: string) => moment?.figure(p.node.id, name)
        const inW = (figure('inV') ?? 0) * (figure('inA') ?? 0)
        const outW = (figure('outV') ?? 0) * (figure('outA') ?? 0)
        const margin = (figure('inV') ?? 0) - (figure('outV') ?? 0) - (d?.headroomV ?? 0)
        const regulates = d?.family === 'linear' || d?.family === 'buck'
        return (
          <Box key={p.node.id}>
            {several(drivers, p.node)}
            <PartLine bench={bench} kind="driver" id={use.partId} usedAt={`${p.pointer}/driver/partId`} empty="No driver chosen yet" />
            {d && <ReadRow label="Family">{families[d.family]}</ReadRow>}
            {regulates && <Field bench={bench} label="Set current" pointer={`${p.pointer}/driver/setCurrentA`} quantity="current" fallback={d?.setCurrentA !== undefined ? `${d.setCurrentA} A` : 'not set'} hint={d?.minCurrentA !== undefined && d.maxCurrentA !== undefined ? `${d.minCurrentA} to ${d.maxCurrentA} A` : undefined} />}
            {d?.family === 'voltage' && <Field bench={bench} label="Set voltage" pointer={`${p.pointer}/driver/setVoltageV`} quantity="voltage" fallback={d.setVoltageV !== undefined ? `${d.setVoltageV} V` : 'not set'} hint={d.minVoltageV !== undefined && d.maxVoltageV !== undefined ? `${d.minVoltageV} to ${d.maxVoltageV} V` : undefined} />}
            {d?.family === 'voltage' && <Field bench={bench} label="Current limit" pointer={`${p.pointer}/driver/setCurrentA`} quantity="current" fallback={d.maxCurrentA !== undefined ? `${d.maxCurrentA} A` : 'none'} hint={knobHint(solution, p.node.id, d)} />}
            {d?.family === 'voltage' && found && <Field bench={bench} label="Rated output" pointer={`${found.pointer}/driver/maxOutputW`} quantity="power" fallback="not known" />}
            {d?.family === 'resistor' && <Field bench={bench} label="Series resistor" pointer={`${p.pointer}/driver/resistanceOhm`} quantity="resistance" fallback={d.resistanceOhm !== undefined ? `${d.resistanceOhm} Ω` : 'not set'} />}
            {regulates && found && <Field bench={bench} label="Headroom it needs" pointer={`${found.pointer}/driver/headroomV`} quantity="voltage" fallback={d.family === 'buck' ? '0.8 V assumed' : '0.3 V assumed'} />}
            {found && <Field bench={bench} label="Lowest input" pointer={`${found.pointer}/driver/inputMinV`} quantity="voltage" fallback="not known" />}
            {found && <Field bench={bench} label="Highest input" pointer={`${found.pointer}/driver/inputMaxV`} quantity="voltage" fallback="not known" />}
            {(d?.family === 'buck' || d?.family === 'voltage') && found && <Field bench={bench} label="Known efficiency" pointer={`${found.pointer}/driver/efficiency`} quantity="fraction" fallback="88 % assumed" />}
            {moment && d && (
              <>
                <ReadRow label="In">{`${x(figure('inV'), 'V')} · ${x(figure('inA'), 'A')}`}</ReadRow>
                <ReadRow label="Out">{`${x(figure('outV'), 'V')} · ${x(figure('outA'), 'A')}`}</ReadRow>
                <ReadRow label="Lost in the driver" tone="var(--heat-ink)">{`${x(figure('lossW'), 'W')} · ${inW > 0 ? ((100 * outW) / inW).toFixed(0) : '—'} %`}</ReadRow>
                {regulates && <ReadRow label="Headroom to spare" tone={margin < 0 ? 'var(--caution-ink)' : 'var(--margin-ink)'}>{outW > 0 ? `${margin.toFixed(2)} V` : '—'}</ReadRow>}
                <ReadRow label="It is in">{moment.mode(p.node.id) ?? '—'}</ReadRow>
              </>
            )}
          </Box>
        )
      })}
    </>
  )
}

export function EmittersBench(bench: BenchProps) {
  const { light, variant, at, moment } = bench
  const { settings } = useSettings()
  const arrays = nodesOf(variant, at).filter((p) => p.node.array ?? p.node.load)
  return (
    <>
      <BenchTitle title="Emitters" keyName="3" />
      {arrays.map((p) => {
        const figure = (name: string) => moment?.figure(p.node.id, name)
        const a = p.node.array
        if (!a) {
          return (
            <Box key={p.node.id}>
              {several(arrays, p.node)}
              <ReadRow label="Known by its draw alone">{nodeName(p.node)}</ReadRow>
              <ReadRow label="Takes">{`${x(figure('inV'), 'V')} · ${x(figure('inA'), 'A')}`}</ReadRow>
            </Box>
          )
        }
        const found = partOf(light, a.partId)
        const e = found?.part.emitter
        const current = figure('stringA')
        const ratio = current !== undefined && e?.ratedCurrentA ? current / e.ratedCurrentA : undefined
        const limit = e?.maxJunctionC
        const junction = figure('junctionC')
        return (
          <Box key={p.node.id}>
            {several(arrays, p.node)}
            <PartLine bench={bench} kind="emitter" id={a.partId} usedAt={`${p.pointer}/array/partId`} empty="No emitter chosen yet" />
            <Field bench={bench} label="In series" pointer={`${p.pointer}/array/series`} quantity="count" required />
            <Field bench={bench} label="Strings in parallel" pointer={`${p.pointer}/array/parallel`} quantity="count" required />
            <Field bench={bench} label="Equal boards" pointer={`${p.pointer}/array/count`} quantity="count" fallback="1" />
            {found && <Field bench={bench} label="Rated current" pointer={`${found.pointer}/emitter/ratedCurrentA`} quantity="current" fallback="not known" />}
            {found && <Field bench={bench} label="Highest junction" pointer={`${found.pointer}/emitter/maxJunctionC`} quantity="temperature" fallback="not known" />}
            {found && <Field bench={bench} label="Junction to case" pointer={`${found.pointer}/emitter/rThKPerW`} quantity="thermalResistance" fallback="not known" />}
            <Field bench={bench} label="Star or board" pointer={`${p.pointer}/array/boardKPerW`} quantity="thermalResistance" fallback="0 K/W" />
            {moment && (
              <>
                <ReadRow label="Each emitter" tone={ratio !== undefined && ratio > 1.0001 ? 'var(--caution-ink)' : undefined}>{`${x(current, 'A')}${ratio !== undefined ? ` · ${(ratio * 100).toFixed(0)} % rated` : ''}`}</ReadRow>
                <ReadRow label="Forward voltage">{x((figure('inV') ?? 0) / a.series, 'V')}</ReadRow>
                <ReadRow label="Heat, all of them" tone="var(--heat-ink)">{x(figure('lossW'), 'W')}</ReadRow>
                {junction !== undefined && <ReadRow label="Junction" tone={limit !== undefined && junction > limit ? 'var(--stop)' : undefined}>{`${text(show(junction, 'temperature', settings))}${limit !== undefined ? ` of ${show(limit, 'temperature', settings).number}` : ''}`}</ReadRow>}
              </>
            )}
          </Box>
        )
      })}
    </>
  )
}

export function LightBench(bench: BenchProps) {
  const { variant, at, moment, solution } = bench
  const arrays = nodesOf(variant, at).filter((p) => p.node.array)
  const flux = moment?.figure('total', 'fluxLm')
  const input = moment?.figure('total', 'inputW')
  const a = solution?.answers
  return (
    <>
      <BenchTitle title="Light" keyName="4" />
      {arrays.map((p) => (
        <Box key={p.node.id}>
          {several(arrays, p.node)}
          <Field bench={bench} label="Optic lets through" pointer={`${p.pointer}/array/opticEfficiency`} quantity="fraction" fallback="all of it" />
          <Field bench={bench} label="Beam, full at half" pointer={`${p.pointer}/array/beamDeg`} quantity="angle" fallback="no optic" />
          {moment && <ReadRow label="Out of the front">{x(moment.figure(p.node.id, 'fluxLm'), 'lm')}</ReadRow>}
        </Box>
      ))}
      <ReadRow label="All together">{x(flux, 'lm')}</ReadRow>
      <ReadRow label="For each watt from the source">{flux !== undefined && input ? `${(flux / input).toFixed(0)} lm/W` : '—'}</ReadRow>
      <ReadRow label="Radiated power" tone="var(--light-ink)">{x(moment?.figure('total', 'lightW'), 'W')}</ReadRow>
      {a?.fluxLm != null && <ReadRow label="At 30 s, the reference">{x(a.fluxLm, 'lm')}</ReadRow>}
      {a?.halfS != null && <ReadRow label="Half of that after">{clock(a.halfS)}</ReadRow>}
      {a?.tenthS != null && <ReadRow label="A tenth of it after">{clock(a.tenthS)}</ReadRow>}
      <Field bench={bench} label="Wanted output" pointer="/brief/outputLm" quantity="luminousFlux" fallback="not said" />
    </>
  )
}

export function HeatBench(bench: BenchProps) {
  const { light, variant, at, moment, solution } = bench
  const { settings } = useSettings()
  const arrays = nodesOf(variant, at).filter((p) => p.node.array)
  return (
    <>
      <BenchTitle title="Heat path" keyName="5" />
      <Field bench={bench} label="Air around it" pointer="/conditions/ambientC" quantity="temperature" required />
      {variant.bodies.map((b, i) => {
        const settled = solution?.steady.converged ? solution.steady.figures[b.id]?.bodyC : undefined
        const now = moment?.figure(b.id, 'bodyC')
        return (
          <Box key={b.id}>
            <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1 }}>{b.name}</Box>
            <Field bench={bench} label="To the air" pointer={`${at}/bodies/${i}/kPerW`} quantity="thermalResistance" fallback="not known" />
            {b.heatCapacityJPerK !== undefined ? (
              <Field bench={bench} label="Heat capacity" pointer={`${at}/bodies/${i}/heatCapacityJPerK`} quantity="heatCapacity" />
            ) : (
              <Field bench={bench} label="Mass" pointer={`${at}/bodies/${i}/massKg`} quantity="mass" fallback="not known" />
            )}
            {now !== undefined && <ReadRow label="Now">{text(show(now, 'temperature', settings))}</ReadRow>}
            {settled !== undefined && <ReadRow label="If it ran for ever, full">{text(show(settled, 'temperature', settings))}</ReadRow>}
          </Box>
        )
      })}
      {variant.bodies.length === 0 && (
        <Button onClick={() => bench.edit(set(light, `${at}/bodies`, [{ id: 'body', name: 'Body', touchable: true }]), 'Body')}>Add a body</Button>
      )}
      {arrays.map((p) => {
        const j = p.node.array!.joint
        return (
          <Box key={p.node.id}>
            <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1 }}>Joint under {nodeName(p.node)}</Box>
            {j?.thicknessM !== undefined && j.kPerW === undefined ? (
              <>
                <Field bench={bench} label="Layer" pointer={`${p.pointer}/array/joint/thicknessM`} quantity="length" />
                <Field bench={bench} label="Conducts" pointer={`${p.pointer}/array/joint/conductivityWPerMK`} quantity="conductivity" />
                <Field bench={bench} label="Wetted share" pointer={`${p.pointer}/array/joint/coverage`} quantity="fraction" fallback="all" />
              </>
            ) : (
              <Field bench={bench} label="Each board to its body" pointer={`${p.pointer}/array/joint/kPerW`} quantity="thermalResistance" fallback="taken as perfect" />
            )}
          </Box>
        )
      })}
      <Choice bench={bench} label="Count as heat" pointer="/conditions/heatSchool" standard="radiant" options={{ radiant: 'input less light', 'all-input': 'every watt (safe side)' }} />
    </>
  )
}

export function OverviewBench(bench: BenchProps) {
  const { light, edit } = bench
  return (
    <>
      <BenchTitle title="What it must do" keyName="0" />
      <Field bench={bench} label="Output" pointer="/brief/outputLm" quantity="luminousFlux" fallback="not said" />
      <Field bench={bench} label="Hours to half light" pointer="/brief/runtimeH" quantity="count" fallback="not said" />
      <Field bench={bench} label="Hottest touch" pointer="/brief/touchC" quantity="temperature" fallback={light.conditions.handheld ? '48 °C' : '65 °C'} />
      <Box component="h2" sx={{ fontSize: 15, m: 0, mt: 2 }}>Conditions</Box>
      <Field bench={bench} label="Air around it" pointer="/conditions/ambientC" quantity="temperature" required />
      <Field bench={bench} label="Charge at switch-on" pointer="/conditions/charge" quantity="fraction" fallback="full" />
      <Box sx={{ display: 'flex', alignItems: 'center', py: 0.5, borderBottom: '1px solid var(--line)' }}>
        <Box component="label" htmlFor="handheld" sx={{ flex: 1, color: 'var(--ink-soft)' }}>Held in the hand</Box>
        <input id="handheld" type="checkbox" checked={light.conditions.handheld ?? false} onChange={(e) => edit(set(light, '/conditions/handheld', e.target.checked ? true : undefined), 'Held in the hand')} />
      </Box>
      <Choice bench={bench} label="How far it is" pointer="/progress" standard="idea" options={{ idea: 'idea', parts: 'parts', built: 'built', measured: 'measured' }} />
    </>
  )
}
