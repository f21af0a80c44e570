import Box from '@mui/material/Box'
import { set } from '../../document/pointer'
import { useSettings } from '../../settings/SettingsProvider'
import { show, text } from '../../units/quantity'
import { BenchTitle, Choice, Field, type BenchProps } from './fields'

export function OverviewBench(bench: BenchProps) {
  const { light, edit, solution } = bench
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
      <Box sx={{ display: 'flex', alignItems: 'center', py: 0.5, borderBottom: '1px solid var(--line)' }}>
        <Box component="label" htmlFor="handheld" sx={{ flex: 1, color: 'var(--ink-soft)' }}>Held in the hand</Box>
        <input id="handheld" type="checkbox" checked={light.conditions.handheld ?? false} onChange={(e) => edit(set(light, '/conditions/handheld', e.target.checked ? true : undefined), 'Held in the hand')} />
      </Box>
      <Choice bench={bench} label="How far it is" pointer="/progress" standard="idea" options={{ idea: 'idea', parts: 'parts', built: 'built', measured: 'measured' }} />
    </>
  )
}
