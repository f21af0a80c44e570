import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useState } from 'react'
import { get } from '../document/pointer'
import { useSolution } from '../solved/useSolved'
import { useSettings } from '../settings/SettingsProvider'
import { show, text } from '../units/quantity'
import { WorkbenchTitle, Choice, Field, LongWords, Tick, type WorkbenchProps } from '../workbench/fields'

/** What else a brief can say. No stage judges it yet: it is kept, and says so. */
const wishes: [pointer: string, label: string, quantity: string][] = [
  ['/brief/peakCd', 'Peak of the beam, cd', 'count'], ['/brief/beamM', 'Beam distance', 'length'], ['/brief/lux', 'Lux over the area', 'count'], ['/brief/ppfdUmolPerM2S', 'PPFD, µmol/(m²·s)', 'count'],
  ['/brief/areaLengthM', 'Area, length', 'length'], ['/brief/areaWidthM', 'Area, width', 'length'], ['/brief/emptyH', 'Hours to empty', 'hours'], ['/brief/hoursADay', 'Hours lit a day', 'hours'],
  ['/brief/roomDiameterM', 'Room, diameter', 'length'], ['/brief/roomLengthM', 'Room, length', 'length'], ['/brief/roomThicknessM', 'Room, thickness', 'length'], ['/brief/massKg', 'May weigh', 'mass'], ['/brief/money', 'May cost', 'count'],
]

function More({ work }: { work: WorkbenchProps }) {
  const said = wishes.filter(([pointer]) => get(work.light, pointer) !== undefined)
  const [open, setOpen] = useState(false)
  const shown = open ? wishes : said
  return (
    <>
      {shown.map(([pointer, label, quantity]) => <Field key={pointer} work={work} label={label} pointer={pointer} quantity={quantity} fallback="not said" hint={get(work.light, pointer) !== undefined && 'kept, not judged yet'} />)}
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
  return (
    <>
      <WorkbenchTitle title="What it must do" keyName="0" />
      <Field work={work} label="Output" pointer="/brief/outputLm" quantity="luminousFlux" fallback="not said" />
      <Field work={work} label="Hours to half light" pointer="/brief/runtimeH" quantity="hours" fallback="not said" />
      <Field work={work} label="Hottest touch" pointer="/brief/touchC" quantity="temperature" fallback={limit === undefined ? '' : text(show(limit, 'temperature', settings))} />
      <More work={work} />
      <Box component="h2" sx={{ fontSize: 15, m: 0, mt: 2 }}>Conditions</Box>
      <Field work={work} label="Air around it" pointer="/conditions/ambientC" quantity="temperature" required />
      <Field work={work} label="Charge at switch-on" pointer="/conditions/charge" quantity="fraction" fallback="full" />
      <Tick work={work} label="Held in the hand" pointer="/conditions/handheld" />
      <Tick work={work} label="Over water, or in it" pointer="/conditions/nearWater" />
      <Choice work={work} label="How far it is" pointer="/progress" standard="idea" options={{ idea: 'idea', parts: 'parts', built: 'built', measured: 'measured' }} />
      <Notes work={work} />
    </>
  )
}
