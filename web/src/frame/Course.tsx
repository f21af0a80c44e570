import Box from '@mui/material/Box'
import { Suspense, useDeferredValue } from 'react'
import type { Stage } from '../document/tree'
import { Ladder } from '../heat/Ladder'
import { useSolved } from '../solved/useSolved'
import { clock } from '../units/quantity'
import { FirstSteps } from './FirstSteps'
import { later } from './later'
import { darkOf } from '../ribbon/dark'

const RunChart = later(async () => (await import('./RunChart')).RunChart)
const soft = { color: 'var(--ink-soft)', maxWidth: 460 }

/** The course in time with the figures of the open stage, or why there is none. */
export function Course({ stage, alone, onTree, onStage, onPane }: { stage: Stage; alone: boolean; onTree: () => void; onStage: (stage: Stage, pointer?: string) => void; onPane: (pane: string) => void }) {
  // A chart may lag behind the figures; they must not wait for it.
  const { of, variant: index, solution, trace, traceLight, moment, t } = useDeferredValue(useSolved((s) => s))
  const variant = of?.variants[index]
  if (!of || !variant) return null
  const dark = darkOf(variant, solution, moment)
  const at = `/variants/${index}`
  return (
    <>
      {alone && dark.kept && <Box sx={soft}>It does not light, so there is nothing to draw: see the first finding.</Box>}
      {alone && dark.why && !dark.kept && <FirstSteps variant={variant} why={dark.why} onStage={onStage} onTree={onTree} />}
      {alone && !dark.why && !trace && <Box sx={soft}>The course in time follows.</Box>}
      {alone && !dark.why && trace && traceLight && (
        <Suspense fallback={<Box sx={soft}>The course in time follows.</Box>}>
          <RunChart light={traceLight} variant={traceLight.variants[index]!} at={at} trace={trace} t={t} stage={stage} touchLimitC={solution?.answers.touchLimitC} />
        </Suspense>
      )}
      {stage === 'heat' && alone && moment && !dark.why && (
        <Box>
          <Box component="h2" sx={{ fontSize: 14, m: 0 }}>On its way to the air, {clock(t)}</Box>
          <Ladder light={of} variant={variant} at={at} moment={moment} onGo={onStage} onPane={onPane} />
        </Box>
      )}
    </>
  )
}
