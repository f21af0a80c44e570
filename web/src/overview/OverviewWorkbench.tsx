import Box from '@mui/material/Box'
import { useSolution } from '../solved/useSolved'
import { useSettings } from '../settings/SettingsProvider'
import { show, text } from '../units/quantity'
import { WorkbenchTitle, Choice, Field, Tick, type WorkbenchProps } from '../workbench/fields'

export function OverviewWorkbench(work: WorkbenchProps) {
  const { settings } = useSettings()
  const limit = useSolution((s) => s.answers.touchLimitC)
  return (
    <>
      <WorkbenchTitle title="What it must do" keyName="0" />
      <Field work={work} label="Output" pointer="/brief/outputLm" quantity="luminousFlux" fallback="not said" />
      <Field work={work} label="Hours to half light" pointer="/brief/runtimeH" quantity="count" fallback="not said" />
      <Field work={work} label="Hottest touch" pointer="/brief/touchC" quantity="temperature" fallback={limit === undefined ? '' : text(show(limit, 'temperature', settings))} />
      <Box component="h2" sx={{ fontSize: 15, m: 0, mt: 2 }}>Conditions</Box>
      <Field work={work} label="Air around it" pointer="/conditions/ambientC" quantity="temperature" required />
      <Field work={work} label="Charge at switch-on" pointer="/conditions/charge" quantity="fraction" fallback="full" />
      <Tick work={work} label="Held in the hand" pointer="/conditions/handheld" />
      <Tick work={work} label="Over water, or in it" pointer="/conditions/nearWater" />
      <Choice work={work} label="How far it is" pointer="/progress" standard="idea" options={{ idea: 'idea', parts: 'parts', built: 'built', measured: 'measured' }} />
    </>
  )
}
