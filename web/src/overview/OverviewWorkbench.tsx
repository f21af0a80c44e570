import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useState } from 'react'
import type { Variant } from '../api/client'
import { get } from '../document/pointer'
import { useSolution } from '../solved/useSolved'
import { useSettings } from '../settings/SettingsProvider'
import { parse, show, text, UnitError } from '../units/quantity'
import { WorkbenchTitle, Choice, Field, LongWords, Tick, type WorkbenchProps } from '../workbench/fields'

/** What is judged of that, and how; the rest is kept, and says so. */
const judged: Record<string, string> = {
  '/brief/emptyH': '', '/brief/money': 'against the prices of its parts, as far as they are known',
  '/brief/roomDiameterM': 'drivers are judged by it', '/brief/roomLengthM': 'drivers are judged by it', '/brief/roomThicknessM': 'drivers are judged by it',
}

/** What else a brief can say; where the light is wanted is said under Light. */
const wishes: [pointer: string, label: string, quantity: string][] = [
  ['/brief/emptyH', 'Hours to empty', 'hours'],
  ['/brief/roomDiameterM', 'Room, diameter', 'length'], ['/brief/roomLengthM', 'Room, length', 'length'], ['/brief/roomThicknessM', 'Room, thickness', 'length'], ['/brief/massKg', 'May weigh', 'mass'], ['/brief/money', 'May cost', 'count'],
]

/** The charge at which a rested cell, or the pack, stands at the volts that were typed; between points straight. */
function chargeOf(said: string, resting: { charge: number; cellV: number }[], variant: Variant): number | undefined {
  if (!/[vV]\s*$/.test(said) || resting.length === 0) return undefined
  const volts = parse(said, 'voltage', 'V')
  const series = variant.feeds.flatMap((f) => f.sources.slice(0, 1)).find((s) => s.pack)?.pack?.series ?? 1
  const low = resting[0]!.cellV
  const high = resting.at(-1)!.cellV
  const cell = volts > high * 1.05 && series > 1 ? volts / series : volts
  if (cell < low * 0.99 || cell > high * 1.01) throw new UnitError(`A rested cell stands between ${low.toFixed(2)} and ${high.toFixed(2)} V`)
  const i = resting.findIndex((p) => p.cellV >= cell)
  if (i < 0) return 1
  if (i === 0) return 0
  const [a, b] = [resting[i - 1]!, resting[i]!]
  return Number((a.charge + ((b.charge - a.charge) * (cell - a.cellV)) / (b.cellV - a.cellV)).toPrecision(4))
}

function More({ work }: { work: WorkbenchProps }) {
  const said = wishes.filter(([pointer]) => get(work.light, pointer) !== undefined)
  const [open, setOpen] = useState(false)
  const shown = open ? wishes : said
  return (
    <>
      {shown.map(([pointer, label, quantity]) => <Field key={pointer} work={work} label={label} pointer={pointer} quantity={quantity} fallback="not said" hint={get(work.light, pointer) !== undefined && (judged[pointer] ?? 'kept, not judged yet')} />)}
      <Choice work={work} label="How wet it gets" pointer="/brief/wet" standard="" options={{ '': 'not said', dry: 'dry', damp: 'damp', splashed: 'rain and splashes', 'under-water': 'under water' }} />
      {(open || get(work.light, '/brief/was') !== undefined) && <Choice work={work} label="Rebuilt from" pointer="/brief/was" standard="" options={{ '': 'no old lamp', bulb: 'a lamp with a bulb', tube: 'a lamp with a tube', flame: 'a flame' }} />}
      <Button sx={{ p: 0, minWidth: 0 }} onClick={() => setOpen((o) => !o)}>{open ? 'Fewer wishes' : 'More it must do…'}</Button>
    </>
  )
}

function Notes({ work }: { work: WorkbenchProps }) {
  return (
    <>
      <Box component="h2" sx={{ fontSize: 15, m: 0, mt: 2 }}>Notes</Box>
      <LongWords work={work} label="On the light" pointer="/note" />
      <LongWords work={work} label="On this way of building it" pointer={`${work.at}/note`} />
    </>
  )
}

export function OverviewWorkbench(work: WorkbenchProps) {
  const { settings } = useSettings()
  const limit = useSolution((s) => s.answers.touchLimitC)
  const resting = useSolution((s) => s.resting)
  return (
    <>
      <WorkbenchTitle title="What it must do" keyName="0" />
      <Field work={work} label="Output" pointer="/brief/outputLm" quantity="luminousFlux" fallback="not said" />
      <Field work={work} label="Hours to half light" pointer="/brief/runtimeH" quantity="hours" fallback="not said" />
      <Field work={work} label="Hottest touch" pointer="/brief/touchC" quantity="temperature" fallback={limit === undefined ? '' : text(show(limit, 'temperature', settings))} />
      <More work={work} />
      <Box component="h2" sx={{ fontSize: 15, m: 0, mt: 2 }}>Conditions</Box>
      <Field work={work} label="Air around it" pointer="/conditions/ambientC" quantity="temperature" required />
      <Field work={work} label="Altitude" pointer="/conditions/altitudeM" quantity="length" fallback="sea level" />
      <Field work={work} label="Charge at switch-on" pointer="/conditions/charge" quantity="fraction" fallback="full" hint={resting && resting.length > 0 && 'or the volts of a rested cell, or of the pack'} reads={(said) => chargeOf(said, resting ?? [], work.variant)} />
      <Tick work={work} label="Held in the hand" pointer="/conditions/handheld" />
      <Tick work={work} label="Over water, or in it" pointer="/conditions/nearWater" />
      <Choice work={work} label="How far it is" pointer="/progress" standard="idea" options={{ idea: 'idea', parts: 'parts', built: 'built', measured: 'measured' }} />
      <Notes work={work} />
    </>
  )
}
