import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { Light } from '../../api/client'
import { set } from '../../document/pointer'
import { useSettings } from '../../settings/SettingsProvider'
import { show, text } from '../../units/quantity'
import { ReadRow } from '../FigureField'
import { freshId, idsOf, nodeName, nodesOf } from '../tree'
import { BenchTitle, Choice, Field, type BenchProps } from './fields'

export function HeatBench(bench: BenchProps) {
  const { light, variant, at, moment, solution } = bench
  const { settings } = useSettings()
  const nodes = nodesOf(variant, at)
  const arrays = nodes.filter((p) => p.node.array)
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
            {b.maxC !== undefined && <Field bench={bench} label="Its material bears" pointer={`${at}/bodies/${i}/maxC`} quantity="temperature" fallback="not known" />}
            {b.joints?.map((l, k) => (
              <Box key={k}>
                <Field bench={bench} label={`To ${variant.bodies.find((o) => o.id === l.bodyId)?.name ?? l.bodyId}`} pointer={`${at}/bodies/${i}/joints/${k}/joint/kPerW`} quantity="thermalResistance" fallback="taken as perfect" />
                <Field bench={bench} label="and that joint bears" pointer={`${at}/bodies/${i}/joints/${k}/joint/maxC`} quantity="temperature" fallback="not known" />
              </Box>
            ))}
            {now !== undefined && <ReadRow label="Now">{text(show(now, 'temperature', settings))}</ReadRow>}
            {settled !== undefined && <ReadRow label="If it ran for ever, full">{text(show(settled, 'temperature', settings))}</ReadRow>}
          </Box>
        )
      })}
      {variant.bodies.length === 0 && (
        <Button data-pointer={`${at}/bodies`} onClick={() => bench.edit(set(light, `${at}/bodies`, [{ id: 'body', name: 'Body', touchable: true }]), 'Body')}>Add a body</Button>
      )}
      {arrays.map((p) => {
        const j = p.node.array!.joint
        return (
          <Box key={p.node.id}>
            <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1 }}>Under {nodeName(p.node)}</Box>
            <MountedOn bench={bench} label="Mounted on" pointer={`${p.pointer}/bodyId`} />
            {j?.thicknessM !== undefined && j.kPerW === undefined ? (
              <>
                <Field bench={bench} label="Layer" pointer={`${p.pointer}/array/joint/thicknessM`} quantity="length" />
                <Field bench={bench} label="Conducts" pointer={`${p.pointer}/array/joint/conductivityWPerMK`} quantity="conductivity" />
                <Field bench={bench} label="Wetted share" pointer={`${p.pointer}/array/joint/coverage`} quantity="fraction" fallback="all" />
              </>
            ) : (
              <Field bench={bench} label="Each board to its body" pointer={`${p.pointer}/array/joint/kPerW`} quantity="thermalResistance" fallback="taken as perfect" />
            )}
            {j?.maxC !== undefined && <Field bench={bench} label="Its material bears" pointer={`${p.pointer}/array/joint/maxC`} quantity="temperature" fallback="not known" />}
          </Box>
        )
      })}
      {nodes.filter((p) => p.node.driver ?? p.node.strip ?? p.node.load).map((p) => <MountedOn key={p.node.id} bench={bench} label={`${nodeName(p.node)} sits on`} pointer={`${p.pointer}/bodyId`} />)}
      {variant.feeds.flatMap((f, i) => f.sources.map((s, k) => s.pack && <MountedOn key={s.id} bench={bench} label={`${s.name ?? 'Cells'}: in`} pointer={`${at}/feeds/${i}/sources/${k}/pack/bodyId`} />))}
      <Choice bench={bench} label="Count as heat" pointer="/conditions/heatSchool" standard="radiant" options={{ radiant: 'input less light', 'all-input': 'every watt (safe side)' }} />
    </>
  )
}

/** The body that something heats, or a new one for it. */
function MountedOn({ bench, label, pointer }: { bench: BenchProps; label: string; pointer: string }) {
  const { light, variant, at } = bench
  const fresh = (l: Light, picked: string | undefined): Light => {
    if (picked !== '+') return set(l, pointer, picked)
    const id = freshId('body', idsOf(variant))
    return set(set(l, `${at}/bodies`, [...variant.bodies, { id, name: 'Body', touchable: true }]), pointer, id)
  }
  return <Choice bench={bench} label={label} pointer={pointer} standard="" options={{ '': 'loose in the air', ...Object.fromEntries(variant.bodies.map((b) => [b.id, b.name])), '+': 'a body of its own…' }} change={(picked) => fresh(light, picked)} />
}
