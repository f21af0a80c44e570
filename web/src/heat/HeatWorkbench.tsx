import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { Light } from '../api/client'
import { append, set } from '../document/pointer'
import { useFigures, useSolution } from '../solved/useSolved'
import { useSettings } from '../settings/SettingsProvider'
import { show, text } from '../units/quantity'
import { Renamable } from '../figures/Renamable'
import { ReadRow } from '../figures/FigureField'
import { freshId, freshName, nodeName } from '../document/names'
import { idsOf, nodesOf } from '../document/tree'
import { WorkbenchTitle, Choice, Field, type WorkbenchProps } from '../workbench/fields'

export function HeatWorkbench(work: WorkbenchProps) {
  const { variant, at } = work
  const nodes = nodesOf(variant, at)
  const arrays = nodes.filter((p) => p.node.array)
  return (
    <>
      <WorkbenchTitle title="Heat path" keyName="5" />
      <Field work={work} label="Air around it" pointer="/conditions/ambientC" quantity="temperature" required />
      {variant.bodies.map((b, i) => (
          <Box key={b.id}>
            <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1, display: 'flex' }}><Renamable value={b.name} fallback="Body" strong onName={(name) => name && work.change((l) => set(l, `${at}/bodies/${i}/name`, name), 'Name of the body')} /></Box>
            <Field work={work} label="To the air" pointer={`${at}/bodies/${i}/kPerW`} quantity="thermalResistance" fallback="not known" />
            {b.heatCapacityJPerK !== undefined ? (
              <Field work={work} label="Heat capacity" pointer={`${at}/bodies/${i}/heatCapacityJPerK`} quantity="heatCapacity" />
            ) : (
              <Field work={work} label="Mass" pointer={`${at}/bodies/${i}/massKg`} quantity="mass" fallback="not known" />
            )}
            {b.maxC !== undefined && <Field work={work} label="Its material bears" pointer={`${at}/bodies/${i}/maxC`} quantity="temperature" fallback="not known" />}
            {b.joints?.map((l, k) => (
              <Box key={k}>
                <Field work={work} label={`To ${variant.bodies.find((o) => o.id === l.bodyId)?.name ?? l.bodyId}`} pointer={`${at}/bodies/${i}/joints/${k}/joint/kPerW`} quantity="thermalResistance" fallback="taken as perfect" />
                <Field work={work} label="and that joint bears" pointer={`${at}/bodies/${i}/joints/${k}/joint/maxC`} quantity="temperature" fallback="not known" />
              </Box>
            ))}
            <Readings body={b.id} />
          </Box>
      ))}
      {variant.bodies.length === 0 && (
        <Button data-pointer={`${at}/bodies`} onClick={() => work.change((l) => set(l, `${at}/bodies`, [{ id: 'body', name: 'Body', touchable: true }]), 'Body')}>Add a body</Button>
      )}
      {arrays.map((p) => {
        const j = p.node.array!.joint
        return (
          <Box key={p.node.id}>
            <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1 }}>Under {nodeName(p.node)}</Box>
            <MountedOn work={work} label="Mounted on" pointer={`${p.pointer}/bodyId`} />
            {j?.thicknessM !== undefined && j.kPerW === undefined ? (
              <>
                <Field work={work} label="Layer" pointer={`${p.pointer}/array/joint/thicknessM`} quantity="length" />
                <Field work={work} label="Conducts" pointer={`${p.pointer}/array/joint/conductivityWPerMK`} quantity="conductivity" />
                <Field work={work} label="Wetted share" pointer={`${p.pointer}/array/joint/coverage`} quantity="fraction" fallback="all" />
              </>
            ) : (
              <Field work={work} label="Each board to its body" pointer={`${p.pointer}/array/joint/kPerW`} quantity="thermalResistance" fallback="taken as perfect" />
            )}
            {j?.maxC !== undefined && <Field work={work} label="Its material bears" pointer={`${p.pointer}/array/joint/maxC`} quantity="temperature" fallback="not known" />}
          </Box>
        )
      })}
      {nodes.filter((p) => p.node.driver ?? p.node.strip ?? p.node.load).map((p) => <MountedOn key={p.node.id} work={work} label={`${nodeName(p.node)} sits on`} pointer={`${p.pointer}/bodyId`} />)}
      {variant.feeds.flatMap((f, i) => f.sources.map((s, k) => s.pack && <MountedOn key={s.id} work={work} label={`${s.name ?? 'Cells'}: in`} pointer={`${at}/feeds/${i}/sources/${k}/pack/bodyId`} />))}
      <Choice work={work} label="Count as heat" pointer="/conditions/heatSchool" standard="radiant" options={{ radiant: 'input less light', 'all-input': 'every watt (safe side)' }} />
    </>
  )
}

/** The body that something heats, or a new one for it. */
function MountedOn({ work, label, pointer }: { work: WorkbenchProps; label: string; pointer: string }) {
  const { variant, at } = work
  const fresh = (l: Light, picked: string | undefined): Light => {
    if (picked !== '+') return set(l, pointer, picked)
    const id = freshId('body', idsOf(variant))
    return set(append(l, `${at}/bodies`, { id, name: freshName('Body', variant.bodies.map((b) => b.name)), touchable: true }), pointer, id)
  }
  return <Choice work={work} label={label} pointer={pointer} standard="" options={{ '': 'loose in the air', ...Object.fromEntries(variant.bodies.map((b) => [b.id, b.name])), '+': 'a body of its own…' }} put={fresh} />
}

function Readings({ body }: { body: string }) {
  const { settings } = useSettings()
  const { bodyC: now } = useFigures(body, 'bodyC')
  const settled = useSolution((s) => (s.steady.converged ? s.steady.figures[body]?.bodyC : undefined))
  return (
    <>
      {now !== undefined && <ReadRow label="Now">{text(show(now, 'temperature', settings))}</ReadRow>}
      {settled !== undefined && <ReadRow label="If it ran for ever, full">{text(show(settled, 'temperature', settings))}</ReadRow>}
    </>
  )
}
