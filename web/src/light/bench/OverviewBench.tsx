import Box from '@mui/material/Box'
import { useSettings } from '../../settings/SettingsProvider'
import { show, text } from '../../units/quantity'
import { BenchTitle, Choice, Field, Tick, type BenchProps } from './fields'

export function OverviewBench(bench: BenchProps) {
  const { solution } = bench
  const { settings } = useSettings()
  const limit = solution?.answers.touchLimitC
  return (
    <>
      <BenchTitle title="What it must do" keyName="0" />
      <Field bench={bench} label="Output" pointer="/brief/outputLm" quantity="luminousFlux" fallback="not said" />
      <Field bench={bench} label="Hours to half light" pointer="/brief/runtimeH" quantity="count" fallback="not said" />
      <Field bench={bench} label="Hottest touch" pointer="/brief/touchC" quantity="temperature" fallback={limit === undefined ? '' : text(show(limit, 'temperature', settings))} />
      <Box component="h2" sx={{ fontSize: 15, m: 0, mt: 2 }}>Conditions</Box>
      <Field bench={bench} label="Air around it" pointer="/conditions/ambientC" quantity="temperature" required />
      <Field bench={bench} label="Charge at switch-on" pointer="/conditions/charge" quantity="fraction" fallback="full" />
      <Tick bench={bench} label="Held in the hand" pointer="/conditions/handheld" />
      <Tick bench={bench} label="Over water, or in it" pointer="/conditions/nearWater" />
      <Choice bench={bench} label="How far it is" pointer="/progress" standard="idea" options={{ idea: 'idea', parts: 'parts', built: 'built', measured: 'measured' }} />
    </>
  )
}
