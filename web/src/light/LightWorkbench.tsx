import Box from '@mui/material/Box'
import { ReadRow } from '../figures/FigureField'
import { litOf, nodesOf, timesOf } from '../document/tree'
import { nodeName } from '../document/names'
import { useAnyFigures, useFigures, useSolution } from '../solved/useSolved'
import { clock } from '../units/quantity'
import { Choice, Field, WorkbenchTitle, type WorkbenchProps } from '../workbench/fields'
import { x } from '../workbench/rows'
import { OpticRows } from './OpticRows'
import { SceneRows } from './SceneRows'
import { StandRows } from './StandRows'
import { useLook } from '../solved/useLook'

const kinds = { '': 'as is usual for what is wanted', beam: 'a beam over ground', area: 'an area', around: 'the ground round it', strip: 'along a strip', tank: 'a tank' }

export function LightWorkbench(work: WorkbenchProps) {
  const { variant, at, light } = work
  const lit = litOf(nodesOf(variant, at))
  const index = Number(at.split('/').at(-1))
  const look = useLook(light, index).data
  const kind = look?.kind ?? 'area'
  return (
    <>
      <WorkbenchTitle title="Light" keyName="4" />
      <Readings />
      <Field work={work} label="Wanted output" pointer="/brief/outputLm" quantity="luminousFlux" fallback="not said" />
      <Choice work={work} label="Looked at" pointer="/scene/kind" standard="" options={kinds} />
      <SceneRows work={work} kind={kind} />
      {look && look.stands.length > 0 && <StandRows work={work} stands={look.stands} kind={kind} />}
      {lit.map((p) => (
        <Box key={p.node.id} component="section" aria-label={`Optic of ${nodeName(p.node)}`}>
          <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1 }}>{nodeName(p.node)}</Box>
          <OpticRows work={work} p={p} />
          <Front label={timesOf(p) > 1 ? `Out of the front, each of ${timesOf(p)}` : 'Out of the front'} of={p.node.id} />
        </Box>
      ))}
    </>
  )
}

/** The light of one thing. What takes a current and is told to give none is something whose light is not known. */
function Front({ label, of }: { label: string; of: string }) {
  const { fluxLm, inA = 0 } = useFigures(of, 'fluxLm', 'inA')
  if (!useAnyFigures(of)) return null
  return <ReadRow label={label}>{fluxLm === 0 && inA > 0 ? 'not known' : x(fluxLm, 'lm')}</ReadRow>
}

/** The light of all of them, and how it goes. */
function Readings() {
  const { fluxLm: flux, inputW: input, lightW } = useFigures('total', 'fluxLm', 'inputW', 'lightW')
  const a = useSolution((s) => s.answers)
  const known = a?.fluxLm != null
  return (
    <>
      <ReadRow label="All together">{known ? x(flux, 'lm') : 'not known'}</ReadRow>
      <ReadRow label="For each watt from the source">{known && flux !== undefined && input ? `${(flux / input).toFixed(0)} lm/W` : '—'}</ReadRow>
      {(lightW ?? 0) > 0 && <ReadRow label="Radiated power" tone="var(--light-ink)">{x(lightW, 'W')}</ReadRow>}
      {a?.fluxLm != null && <ReadRow label="At 30 s, the reference">{x(a.fluxLm, 'lm')}</ReadRow>}
      {a?.halfS != null && <ReadRow label="Half of that after">{clock(a.halfS)}</ReadRow>}
      {a?.tenthS != null && <ReadRow label="A tenth of it after">{clock(a.tenthS)}</ReadRow>}
    </>
  )
}
