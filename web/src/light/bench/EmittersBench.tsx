import Box from '@mui/material/Box'
import { useSettings } from '../../settings/SettingsProvider'
import { show, text } from '../../units/quantity'
import { ReadRow } from '../FigureField'
import { nodeName, nodesOf, partOf } from '../tree'
import { BenchTitle, Field, type BenchProps } from './fields'
import { PartLine, several, x } from './rows'

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
