import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { set } from '../../document/pointer'
import { useSettings } from '../../settings/SettingsProvider'
import { show, text } from '../../units/quantity'
import { ReadRow } from '../FigureField'
import { nodeName, nodesOf } from '../tree'
import { BenchTitle, Choice, Field, type BenchProps } from './fields'

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
