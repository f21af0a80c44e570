import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { Light, Variant } from '../api/client'
import { append, set, without } from '../document/pointer'
import { nodeName } from '../document/names'
import { nodesOf } from '../document/tree'
import usual from '../parts/usual.gen.json'
import { Choice, Field, Tick, type WorkbenchProps } from '../workbench/fields'
import { PartLine } from '../workbench/rows'

type Body = Variant['bodies'][number]
type Shape = NonNullable<Body['shape']>
type Kind = Shape['kind']

const kinds: Record<Kind, string> = { plate: 'a flat or folded sheet', fins: 'plate fins on a base', profile: 'a profile, by its perimeter', tube: 'a round tube', box: 'a closed housing', disc: 'a washer or pill', cooler: 'a cooler, by its K/W and fan', area: 'its surface alone' }

/** Measures to begin with, assumed until they are measured. */
const begin: Record<Kind, Shape> = {
  plate: { kind: 'plate', lengthM: 0.15, widthM: 0.1, thicknessM: 0.002 },
  fins: { kind: 'fins', lengthM: 0.08, widthM: 0.07, thicknessM: 0.004, fins: 9, finHeightM: 0.025, finThicknessM: 0.0015 },
  profile: { kind: 'profile', lengthM: 0.15, perimeterM: 0.8, thicknessM: 0.002, widthM: 0.1, heightM: 0.035 },
  tube: { kind: 'tube', lengthM: 0.12, diameterM: 0.032, thicknessM: 0.002 },
  box: { kind: 'box', lengthM: 0.16, widthM: 0.12, heightM: 0.06, thicknessM: 0.002 },
  disc: { kind: 'disc', diameterM: 0.026, thicknessM: 0.003 },
  cooler: { kind: 'cooler', coolerKPerW: 0.6 },
  area: { kind: 'area', areaM2: 0.04 },
}

type Measure = keyof Shape
const asks: Record<Kind, [measure: Measure, label: string, quantity: string][]> = {
  plate: [['lengthM', 'Length, or its height', 'length'], ['widthM', 'Width', 'length'], ['thicknessM', 'Thickness', 'length']],
  fins: [['lengthM', 'Length, along the fins', 'length'], ['widthM', 'Width, across them', 'length'], ['fins', 'Fins', 'count'], ['finHeightM', 'Height of a fin', 'length'], ['finThicknessM', 'Thickness of a fin', 'length'], ['thicknessM', 'Thickness of the base', 'length']],
  profile: [['lengthM', 'Length cut', 'length'], ['perimeterM', 'Perimeter, with all fins', 'length'], ['widthM', 'Outer width', 'length'], ['heightM', 'Outer depth', 'length'], ['thicknessM', 'Mean thickness of its walls', 'length']],
  tube: [['lengthM', 'Length', 'length'], ['diameterM', 'Diameter', 'length'], ['thicknessM', 'Wall', 'length']],
  box: [['lengthM', 'Length', 'length'], ['widthM', 'Width', 'length'], ['heightM', 'Height', 'length'], ['thicknessM', 'Wall', 'length']],
  disc: [['diameterM', 'Diameter', 'length'], ['thicknessM', 'Thickness', 'length']],
  cooler: [['coolerKPerW', 'To the air, its fan running', 'thermalResistance'], ['stillKPerW', 'with its fan stopped', 'thermalResistance']],
  area: [['areaM2', 'Whole surface', 'area'], ['lengthM', 'Height it stands', 'length']],
}
const optional: Partial<Record<Measure, string>> = { thicknessM: 'not known', heightM: 'not known', stillKPerW: 'a sixth of it taken' }
const poses: Record<Kind, Record<string, string>> = {
  plate: { upright: 'standing', level: 'lying' }, fins: { upright: 'fins standing', up: 'lying, fins up', down: 'hanging, fins down', across: 'fins level, base standing' },
  profile: { upright: 'standing', level: 'lying' }, tube: { upright: 'standing', level: 'level' }, disc: { upright: 'standing', level: 'lying', up: 'lying, face up', down: 'lying, face down' }, cooler: { upright: 'standing' }, box: { upright: 'standing' }, area: { upright: 'standing' },
}
const surfaces = { bare: 'bare', polished: 'polished', painted: 'painted', anodised: 'anodised' }
const materials = Object.fromEntries(usual.materials.map((m) => [m.key, m.word]))

/** A body by what a ruler tells of it, or by its K/W. */
export function ShapeRows({ work, index, body }: { work: WorkbenchProps; index: number; body: Body }) {
  const { at, variant } = work
  const here = `${at}/bodies/${index}`
  const shape = body.shape
  const kind = body.kPerW !== undefined ? 'kPerW' : (shape?.kind ?? '')
  const put = (l: Light, picked: string | undefined): Light => {
    if (!picked || picked === 'kPerW') return set(l, `${here}/shape`, undefined)
    if (picked === shape?.kind) return set(l, `${here}/kPerW`, undefined) // its measures were there beside the K/W
    const next = begin[picked as Kind]
    // Its mass and heat capacity follow from its measures, where those tell them.
    const bare = next.thicknessM === undefined ? l : set(set(l, `${here}/massKg`, undefined), `${here}/heatCapacityJPerK`, undefined)
    const placed = set(set(bare, `${here}/kPerW`, undefined), `${here}/shape`, { ...next, material: shape?.material, surface: shape?.surface })
    return Object.keys(next).filter((m) => m !== 'kind').reduce((light, m) => append(light, `${at}/assumed`, { at: `/bodies/${body.id}/shape/${m}`, why: 'of a usual size until it is measured' }), placed)
  }
  const fans = nodesOf(variant, at).filter((p) => p.node.auxiliary?.purpose === 'fan')
  const fanAt = `${here}/shape/fan`
  return (
    <>
      <Choice work={work} label="Known by" pointer={`${here}/shape`} value={kind} options={{ ...(kind === '' && { '': 'nothing yet' }), ...kinds, kPerW: 'its K/W to the air' }} put={put} />
      {(kind === 'kPerW' || kind === '') && <Field work={work} label="To the air" pointer={`${here}/kPerW`} quantity="thermalResistance" fallback="not known" hint={kind === '' ? 'if it is known; else say what it is' : undefined} />}
      {kind !== 'kPerW' && kind !== '' && shape && (
        <>
          {kind === 'profile' && <PartLine work={work} kind="profile" id={shape.partId} usedAt={`${here}/shape/partId`} empty="Measured, or from the cabinet" optional />}
          {asks[kind].filter(([m]) => m !== 'perimeterM' || !shape.drawnFins).map(([m, label, quantity]) => <Field key={m} work={work} label={label} pointer={`${here}/shape/${m}`} quantity={quantity} fallback={(shape.partId !== undefined && m !== 'lengthM' ? 'as its profile' : undefined) ?? optional[m] ?? (kind === 'area' && m === 'lengthM' ? '100 mm taken' : 'needed')} />)}
          {kind === 'profile' && <DrawnFins work={work} here={`${here}/shape`} shape={shape} />}
          <Choice work={work} label="Made of" pointer={`${here}/shape/material`} standard="aluminium" options={materials} />
          <Choice work={work} label="Its surface" pointer={`${here}/shape/surface`} standard="bare" options={surfaces} />
          <Field work={work} label="Its emissivity, if known" pointer={`${here}/shape/emissivity`} quantity="fraction" fallback="its usual" />
          {Object.keys(poses[kind]).length > 1 && <Choice work={work} label="It is" pointer={`${here}/shape/pose`} standard="upright" options={poses[kind]} />}
          {(kind === 'plate' || kind === 'disc' || kind === 'fins') && <Tick work={work} label={kind === 'fins' ? 'Its back lies against something' : 'One face lies against something'} pointer={`${here}/shape/oneFace`} />}
          <Field work={work} label="Air past it" pointer={`${here}/shape/airSpeedMPerS`} quantity="speed" fallback="still" hint="walking about 1, riding about 5" />
          <Field work={work} label="Share a hand covers" pointer={`${here}/shape/heldShare`} quantity="fraction" fallback="none" />
          <Tick work={work} label="Wet from rain or spray" pointer={`${here}/shape/wet`} />
          <Tick work={work} label="Under water" pointer={`${here}/shape/submerged`} />
          {shape.fan ? (
            <Box sx={{ pl: 1.5, borderLeft: '2px solid var(--line)' }}>
              {kind !== 'cooler' && <Field work={work} label="Fan moves" pointer={`${fanAt}/flowM3PerH`} quantity="airFlow" required />}
              <Choice work={work} label="fed by" pointer={`${fanAt}/nodeId`} standard="" options={{ '': 'nothing here: it runs by itself', ...Object.fromEntries(fans.map((p) => [p.node.id, nodeName(p.node)])) }} />
              {shape.fan.nodeId && <Field work={work} label="at its rated" pointer={`${fanAt}/ratedVoltageV`} quantity="voltage" fallback="any voltage" />}
              {kind === 'fins' && <Choice work={work} label="It blows" pointer={`${fanAt}/onto`} standard="false" options={{ false: 'along the fins', true: 'down onto them' }} yesNo />}
              <Tick work={work} label="It has stopped" pointer={`${fanAt}/stopped`} />
              <Button sx={{ p: 0, minWidth: 0 }} onClick={() => work.change((l) => set(l, fanAt, undefined), 'Fan taken away')}>Take the fan away</Button>
            </Box>
          ) : (
            (kind === 'fins' || kind === 'profile' || kind === 'cooler') && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => work.change((l) => set(l, fanAt, { flowM3PerH: 20 }), 'Fan')}>{kind === 'cooler' ? 'What feeds its fan…' : 'A fan blows through it…'}</Button>
          )}
        </>
      )}
    </>
  )
}

/** The fins of a profile as they are drawn, in the stead of its perimeter. */
function DrawnFins({ work, here, shape }: { work: WorkbenchProps; here: string; shape: Shape }) {
  const fins = shape.drawnFins
  if (!fins) return <Button sx={{ p: 0, minWidth: 0 }} onClick={() => work.change((l) => set(set(l, `${here}/perimeterM`, undefined), `${here}/drawnFins`, [{ count: 8, heightM: 0.03, thicknessM: 0.0015 }]), 'Fins drawn')}>Draw its fins instead of its perimeter…</Button>
  return (
    <>
      {fins.map((_, i) => (
        <Box key={i} sx={{ pl: 1.5, borderLeft: '2px solid var(--line)' }}>
          <Field work={work} label="Fins alike" pointer={`${here}/drawnFins/${i}/count`} quantity="count" required />
          <Field work={work} label="each stands out" pointer={`${here}/drawnFins/${i}/heightM`} quantity="length" required />
          <Field work={work} label="each thick" pointer={`${here}/drawnFins/${i}/thicknessM`} quantity="length" required />
          <Button sx={{ p: 0, minWidth: 0 }} onClick={() => work.change((l) => (fins.length > 1 ? without(l, `${here}/drawnFins`, i) : set(l, `${here}/drawnFins`, undefined)), 'Fins taken away')}>Take these away</Button>
        </Box>
      ))}
      <Button sx={{ p: 0, minWidth: 0 }} onClick={() => work.change((l) => append(l, `${here}/drawnFins`, { count: 2, heightM: 0.02, thicknessM: 0.002 }), 'Fins drawn')}>Fins of another height…</Button>
    </>
  )
}
