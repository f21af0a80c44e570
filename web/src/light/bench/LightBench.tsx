import Box from '@mui/material/Box'
import { clock } from '../../units/quantity'
import { ReadRow } from '../FigureField'
import { nodesOf, timesOf } from '../tree'
import { BenchTitle, Field, type BenchProps } from './fields'
import { several, x } from './rows'

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
          {moment && <ReadRow label={timesOf(p) > 1 ? `Out of the front, each of ${timesOf(p)}` : 'Out of the front'}>{x(moment.figure(p.node.id, 'fluxLm'), 'lm')}</ReadRow>}
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
