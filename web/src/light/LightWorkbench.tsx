import Box from '@mui/material/Box'
import { clock } from '../units/quantity'
import { ReadRow } from '../figures/FigureField'
import { nodesOf, timesOf } from '../document/tree'
import { WorkbenchTitle, Field, type WorkbenchProps } from '../workbench/fields'
import { useFigures, useSolution } from '../solved/useSolved'
import { Reading, several, x } from '../workbench/rows'

export function LightWorkbench(work: WorkbenchProps) {
  const { variant, at } = work
  const arrays = nodesOf(variant, at).filter((p) => p.node.array)
  return (
    <>
      <WorkbenchTitle title="Light" keyName="4" />
      {arrays.map((p) => (
        <Box key={p.node.id}>
          {several(arrays, p.node)}
          <Field work={work} label="Optic lets through" pointer={`${p.pointer}/array/opticEfficiency`} quantity="fraction" fallback="all of it" />
          <Field work={work} label="Beam, full at half" pointer={`${p.pointer}/array/beamDeg`} quantity="angle" fallback="no optic" />
          <Reading label={timesOf(p) > 1 ? `Out of the front, each of ${timesOf(p)}` : 'Out of the front'} of={p.node.id} figures={[['fluxLm', 'lm']]} />
        </Box>
      ))}
      <Readings />
      <Field work={work} label="Wanted output" pointer="/brief/outputLm" quantity="luminousFlux" fallback="not said" />
    </>
  )
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
