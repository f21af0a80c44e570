import Box from '@mui/material/Box'
import { memo } from 'react'
import { type Placed, type Stage } from '../document/tree'
import { useSettings } from '../settings/SettingsProvider'
import { highest, series } from '../solved/trace'
import { useSolved } from '../solved/useSolved'
import { show, text } from '../units/quantity'
import { darkOf } from './dark'
import { Ribbon } from './Ribbon'
import { RibbonStrip } from './RibbonStrip'
import { stageTexts } from './stageTexts'

export interface RibbonProps {
  open: Stage
  chosen: string | undefined
  folded: boolean
  failed: boolean
  onFold: () => void
  onStage: (stage: Stage, node?: string) => void
  onSwitch: (p: Placed) => void
}

/** The ribbon of the light that was solved, drawn in full or folded to a strip. */
export const RibbonView = memo(function RibbonView({ open, chosen, folded, failed, onFold, onStage, onSwitch }: RibbonProps) {
  const { settings } = useSettings()
  const [of, index, moment, solution] = useSolved((s) => [s.of, s.variant, s.moment, s.solution] as const)
  const highestW = useSolved((s) => (s.trace ? highest(series(s.trace, 'total', 'inputW'), 0) : undefined))
  const variant = of?.variants[index]
  const degrees = (c: number | undefined) => (c === undefined ? '' : text(show(c, 'temperature', settings)))
  if (!of || !variant || !moment) return <Box sx={{ height: folded ? 36 : 226, display: 'grid', placeItems: 'center', color: 'var(--ink-soft)' }}>{failed ? 'Not solved: see the message above.' : 'Solving…'}</Box>
  const texts = stageTexts(of, index, moment, solution, degrees)
  const at = `/variants/${index}`
  const word = darkOf(variant, solution, moment).word
  if (folded) return <RibbonStrip variant={variant} at={at} moment={moment} texts={texts} open={open} state={word} onFold={onFold} onStage={onStage} />
  const fullW = highestW ?? moment.figure('total', 'inputW') ?? 0
  return (
    <Ribbon variant={variant} at={at} moment={moment} fullW={fullW} texts={texts} open={open} chosen={chosen} ambient={degrees(of.conditions.ambientC)} body={variant.bodies[0]?.name.toLowerCase() ?? 'the body'} state={word} onStage={onStage} onSwitch={onSwitch} onFold={onFold} />
  )
})
