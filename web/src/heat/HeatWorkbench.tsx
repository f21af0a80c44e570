import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { Light, LightNode } from '../api/client'
import { append, get, set, without } from '../document/pointer'
import { useFigures, useSolution } from '../solved/useSolved'
import { useSettings } from '../settings/SettingsProvider'
import { show, text } from '../units/quantity'
import { Renamable } from '../figures/Renamable'
import { ReadRow } from '../figures/FigureField'
import { freshId, freshName, nodeName } from '../document/names'
import { idsOf, nodesOf, partOf, type Placed } from '../document/tree'
import usual from '../parts/usual.gen.json'
import { ShapeRows } from './ShapeRows'
import { WorkbenchTitle, Choice, Field, Tick, type WorkbenchProps } from '../workbench/fields'

export function HeatWorkbench(work: WorkbenchProps) {
  const { variant, at } = work
  const nodes = nodesOf(variant, at)
  const arrays = nodes.filter((p) => p.node.array)
  return (
    <>
      <WorkbenchTitle title="Heat path" keyName="5" />
      <Field work={work} label="Air around it" pointer="/conditions/ambientC" quantity="temperature" required />
      <Field work={work} label="Sun on what stands in it" pointer="/conditions/sunWPerM2" quantity="irradiance" fallback="shade" hint="full sun is about 1000" />
      {variant.bodies.map((b, i) => (
          <Box key={b.id}>
            <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1, display: 'flex' }}><Renamable value={b.name} fallback="Body" strong onName={(name) => name && work.change((l) => set(l, `${at}/bodies/${i}/name`, name), 'Name of the body')} /></Box>
            <ShapeRows work={work} index={i} body={b} />
            {b.heatCapacityJPerK !== undefined ? (
              <Field work={work} label="Heat capacity" pointer={`${at}/bodies/${i}/heatCapacityJPerK`} quantity="heatCapacity" />
            ) : (
              <Field work={work} label="Mass" pointer={`${at}/bodies/${i}/massKg`} quantity="mass" fallback={b.shape?.thicknessM !== undefined ? 'as measured' : 'not known'} />
            )}
            <Field work={work} label="Its material bears" pointer={`${at}/bodies/${i}/maxC`} quantity="temperature" fallback="not known" />
            <Tick work={work} label="A hand may touch it" pointer={`${at}/bodies/${i}/touchable`} />
            {b.touchable && <Choice work={work} label="and stays on it" pointer={`${at}/bodies/${i}/touchedFor`} standard="" options={{ '': work.light.conditions.handheld ? 'as long as it is held' : 'a second', ...stays }} />}
            {work.light.conditions.sunWPerM2 !== undefined && <Field work={work} label="The sun strikes" pointer={`${at}/bodies/${i}/sunlitM2`} quantity="area" fallback="nothing of it" />}
            {variant.bodies.length > 1 && !variant.bodies.some((o) => o.insideId === b.id) && <Choice work={work} label="It stands in" pointer={`${at}/bodies/${i}/insideId`} standard="" options={{ '': 'the open', ...Object.fromEntries(variant.bodies.filter((o) => o.id !== b.id && o.insideId === undefined).map((o) => [o.id, o.name])) }} />}
            {variant.bodies.some((o) => o.insideId === b.id) && (
              <>
                <Field work={work} label="Air exchanged" pointer={`${at}/bodies/${i}/ventilationM3PerH`} quantity="airFlow" fallback="closed" />
                <Tick work={work} label="Its light stays in it too" pointer={`${at}/bodies/${i}/keepsLight`} />
                <Inside body={b.id} />
              </>
            )}
            {b.joints?.map((l, k) => (
              <Box key={k}>
                <Field work={work} label={`To ${variant.bodies.find((o) => o.id === l.bodyId)?.name ?? l.bodyId}`} pointer={`${at}/bodies/${i}/joints/${k}/joint/kPerW`} quantity="thermalResistance" fallback="perfect" />
                <Field work={work} label="and that joint bears" pointer={`${at}/bodies/${i}/joints/${k}/joint/maxC`} quantity="temperature" fallback="not known" />
                <Button sx={{ p: 0, minWidth: 0 }} onClick={() => work.change((l) => without(l, `${at}/bodies/${i}/joints`, k), 'Joint taken away')}>Take that joint away</Button>
              </Box>
            ))}
            {variant.bodies.length > 1 && (
              <Choice work={work} label="Joined to" pointer={`${at}/bodies/${i}/joints`} value="" options={{ '': (b.joints?.length ?? 0) > 0 ? 'no other' : 'nothing', ...Object.fromEntries(variant.bodies.filter((o) => o.id !== b.id && !b.joints?.some((j) => j.bodyId === o.id)).map((o) => [o.id, o.name])) }}
                put={(l, picked) => (picked ? append(l, `${at}/bodies/${i}/joints`, { bodyId: picked, joint: {} }) : l)} />
            )}
            <Button sx={{ p: 0, minWidth: 0 }} onClick={() => work.change((l) => withoutBody(l, at, b.id), `${b.name} taken away`)}>Take {b.name} away</Button>
            <Readings body={b.id} />
          </Box>
      ))}
      <Button data-pointer={`${at}/bodies`} onClick={() => work.change((l) => append(l, `${at}/bodies`, { id: freshId('body', idsOf(variant)), name: freshName('Body', variant.bodies.map((o) => o.name)), touchable: true }), 'Body')}>Add a body</Button>
      {arrays.map((p) => {
        const j = p.node.array!.joint
        return (
          <Box key={p.node.id}>
            <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1 }}>Under {nodeName(p.node)}</Box>
            <MountedOn work={work} label="Mounted on" pointer={`${p.pointer}/bodyId`} />
            <LayerOf work={work} label="The layer is" pointer={`${p.pointer}/array/joint`} path={`/feeds/${variant.feeds[p.feed]!.id}/loads/${p.node.id}/array/joint/areaM2`} />
            {j?.thicknessM !== undefined && j.kPerW === undefined ? (
              <>
                <Field work={work} label="Area under a board" pointer={`${p.pointer}/array/joint/areaM2`} quantity="area" required />
                <Field work={work} label="Layer" pointer={`${p.pointer}/array/joint/thicknessM`} quantity="length" />
                <Field work={work} label="Conducts" pointer={`${p.pointer}/array/joint/conductivityWPerMK`} quantity="conductivity" />
                <Field work={work} label="Wetted share" pointer={`${p.pointer}/array/joint/coverage`} quantity="fraction" fallback="all" />
              </>
            ) : (
              <Field work={work} label="Each board to its body" pointer={`${p.pointer}/array/joint/kPerW`} quantity="thermalResistance" fallback="perfect" />
            )}
            <Field work={work} label="Its material bears" pointer={`${p.pointer}/array/joint/maxC`} quantity="temperature" fallback="not known" />
          </Box>
        )
      })}
      {nodes.filter((p) => p.node.strip && p.node.bodyId).map((p) => <Adhesive key={p.node.id} work={work} p={p} />)}
      {nodes.filter((p) => p.node.driver ?? p.node.strip ?? p.node.load).map((p) => <MountedOn key={p.node.id} work={work} label={`${nodeName(p.node)} sits on`} pointer={`${p.pointer}/bodyId`} />)}
      {variant.feeds.flatMap((f, i) => f.sources.map((s, k) => s.pack && <MountedOn key={s.id} work={work} label={`${s.name ?? 'Cells'}: in`} pointer={`${at}/feeds/${i}/sources/${k}/pack/bodyId`} />))}
      <Choice work={work} label="Count as heat" pointer="/conditions/heatSchool" standard="radiant" options={{ radiant: 'input less light', 'all-input': 'every watt (safe side)' }} />
    </>
  )
}

/** What sticks a strip on, with the temperature of its back. */
function Adhesive({ work, p }: { work: WorkbenchProps; p: Placed }) {
  const { settings } = useSettings()
  const { caseC } = useFigures(p.node.id, 'caseC')
  const found = partOf(work.light, p.node.strip!.partId)
  const at = `${p.pointer}/strip/joint`
  return (
    <Box>
      <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1 }}>Under {nodeName(p.node)}</Box>
      <LayerOf work={work} label="Stuck on with" pointer={at} />
      {p.node.strip!.joint?.thicknessM !== undefined && (
        <>
          {found && <Field work={work} label="Width of the strip" pointer={`${found.pointer}/strip/widthM`} quantity="length" fallback="not known" />}
          <Field work={work} label="Layer" pointer={`${at}/thicknessM`} quantity="length" />
          <Field work={work} label="Conducts" pointer={`${at}/conductivityWPerMK`} quantity="conductivity" />
          <Field work={work} label="Wetted share" pointer={`${at}/coverage`} quantity="fraction" fallback="all" />
        </>
      )}
      {p.node.strip!.joint?.thicknessM === undefined && <Field work={work} label="All of it to its body" pointer={`${at}/kPerW`} quantity="thermalResistance" fallback="perfect" />}
      <Field work={work} label="The adhesive bears" pointer={`${at}/maxC`} quantity="temperature" fallback="not known" />
      {caseC !== undefined && <ReadRow label="Back of the strip now">{text(show(caseC, 'temperature', settings))}</ReadRow>}
    </Box>
  )
}

const stays = { second: 'a second', 'ten-seconds': 'ten seconds', minute: 'a minute', long: 'for long' }

/** What usually lies under a board, its thickness, what it conducts and bears. */
const layers: Record<string, { word: string; holds?: string; joint?: NonNullable<StripUse['joint']> }> = { known: { word: 'known by its K/W' }, ...Object.fromEntries(usual.layers.map((l) => [l.key, l])) }
type StripUse = NonNullable<LightNode['strip']>

const oneSquareCentimetre = 1e-4

/** The layer between a board and its body, by its material. */
function LayerOf({ work, label, pointer, path }: { work: WorkbenchProps; label: string; pointer: string; path?: string }) {
  const joint = get(work.light, pointer) as { thicknessM?: number; conductivityWPerMK?: number; areaM2?: number; kPerW?: number } | undefined
  const found = Object.entries(layers).find(([, m]) => m.joint && m.joint.thicknessM === joint?.thicknessM && m.joint.conductivityWPerMK === joint?.conductivityWPerMK)
  const kind = joint?.kPerW !== undefined || joint?.thicknessM === undefined ? 'known' : (found?.[0] ?? 'own')
  return (
    <>
    <Choice work={work} label={label} pointer={pointer} value={kind} options={{ ...Object.fromEntries(Object.entries(layers).map(([k, m]) => [k, m.word])), ...(kind === 'own' && { own: 'as said below' }) }}
      put={(l, picked) => {
        if (picked === 'own') return l
        const layer = picked && layers[picked]?.joint
        if (!layer) return set(l, pointer, undefined)
        if (!path) return set(l, pointer, layer) // its area is width times length
        const placed = set(l, pointer, { ...layer, areaM2: joint?.areaM2 ?? oneSquareCentimetre })
        return joint?.areaM2 === undefined ? append(placed, `${work.at}/assumed`, { at: path, why: 'one square centimetre under a board: measure it' }) : placed
      }} />
      {found?.[1].holds && <Box sx={{ fontSize: 12, color: 'var(--ink-soft)', py: 0.25 }}>{found[1].holds}.</Box>}
    </>
  )
}

/** A body taken away: what sat on it is loose, and joints to it go with it. */
function withoutBody(light: Light, at: string, id: string): Light {
  const variant = get(light, at) as Light['variants'][number]
  const node = (n: LightNode): LightNode => {
    const { bodyId, ...rest } = n
    return { ...rest, ...(bodyId !== undefined && bodyId !== id && { bodyId }), ...(n.loads && { loads: n.loads.map(node) }) }
  }
  const layouts = variant.layouts?.filter((l) => l.bodyId !== id)
  return set(light, at, {
    ...variant,
    layouts: layouts && layouts.length > 0 ? layouts : undefined,
    bodies: variant.bodies.filter((b) => b.id !== id).map((b) => set(b.joints ? set(b, '/joints', b.joints.filter((j) => j.bodyId !== id)) : b, '/insideId', b.insideId === id ? undefined : b.insideId)),
    feeds: variant.feeds.map((f) => ({ ...f, sources: f.sources.map((s) => (s.pack?.bodyId === id ? set(s, '/pack/bodyId', undefined) : s)), loads: f.loads.map(node) })),
  })
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

function Inside({ body }: { body: string }) {
  const { settings } = useSettings()
  const { insideC } = useFigures(body, 'insideC')
  return insideC === undefined ? null : <ReadRow label="Air in it now">{text(show(insideC, 'temperature', settings))}</ReadRow>
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
