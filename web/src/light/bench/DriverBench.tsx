import Box from '@mui/material/Box'
import type { Part } from '../../api/client'
import { ReadRow } from '../FigureField'
import { nodesOf, partOf } from '../tree'
import { BenchTitle, Field, type BenchProps } from './fields'
import { PartLine, several, x } from './rows'

type Driver = NonNullable<Part['driver']>

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
