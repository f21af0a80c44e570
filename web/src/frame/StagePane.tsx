import Box from '@mui/material/Box'
import { memo, Suspense } from 'react'
import type { Light, Variant } from '../api/client'
import { RatioView } from '../emitters/RatioView'
import { StringBars } from '../emitters/StringBars'
import { PowerTree } from '../overview/PowerTree'
import { later } from './later'
import { Tabs } from '../workbench/Tabs'
import { nodeName } from '../document/names'
import type { Change } from '../document/store'
import { stageFor } from './cause'
import { chosenOf, litOf, nodesOf, partOf, type Stage } from '../document/tree'

const PlaneChart = later(async () => (await import('../driver/PlaneChart')).PlaneChart)
const StripRun = later(async () => (await import('../emitters/StripRun')).StripRun)
const MatchList = later(async () => (await import('../driver/MatchList')).MatchList)
const Schools = later(async () => (await import('../driver/Schools')).Schools)
const Compare = later(async () => (await import('../overview/Compare')).Compare)
const Sure = later(async () => (await import('../overview/Sure')).Sure)
const SinkView = later(async () => (await import('../heat/SinkView')).SinkView)
const RuntimeView = later(async () => (await import('../source/RuntimeView')).RuntimeView)
const PackView = later(async () => (await import('../source/PackView')).PackView)
const ChargeView = later(async () => (await import('../source/ChargeView')).ChargeView)
const PlateView = later(async () => (await import('../heat/PlateView')).PlateView)
const WarmUpView = later(async () => (await import('../heat/WarmUpView')).WarmUpView)
const LookView = later(async () => (await import('../light/LookView')).LookView)
const ColourView = later(async () => (await import('../light/ColourView')).ColourView)
const DayView = later(async () => (await import('../light/DayView')).DayView)
const SetUps = later(async () => (await import('../driver/SetUp')).SetUps)

interface Props {
  stage: Stage
  light: Light
  variant: number
  at: string
  /** Which view of the stage is open; empty: its charts. */
  pane: string
  /** The node the views are about, if one was chosen among several. */
  chosen: string | undefined
  onPane: (pane: string) => void
  change: Change
  tryOut: (light: Light, label: string) => void
  /** Leads to where a place of the document is set. */
  onGo: (stage: Stage, pointer: string) => void
  onChoose: (node: string) => void
}

const driverPanes = ['match', 'setup', 'schools']
/** Whether a light runs from cells. */
const packed = (variant: Variant) => variant.feeds.some((f) => f.sources[0]?.pack?.partId)
const sourcePanes = ['pack', 'charge', 'runtime']
const heatPanes = ['sink', 'plate', 'warmup']
const dragged = ['linear', 'buck', 'boost', 'buck-boost', 'voltage']

/** Whether a view stands in the place of the course in time. */
export function paneOpen(stage: Stage, pane: string, variant: Variant, chosen: string | undefined): boolean {
  const nodes = nodesOf(variant, '')
  if (stage === 'overview') return pane === 'tree' || pane === 'compare' || pane === 'sure'
  if (stage === 'driver') return (nodes.some((p) => p.node.driver) ? driverPanes.includes(pane) : pane === 'setup' && litOf(nodes).length > 0)
  if (stage === 'source') return sourcePanes.includes(pane) && packed(variant)
  if (stage === 'heat') return heatPanes.includes(pane)
  if (stage === 'light') return pane !== 'course' && litOf(nodes).length > 0
  if (stage !== 'emitters') return false
  const strip = chosenOf(litOf(nodes), chosen)?.node.strip
  return strip ? pane === 'strip' && strip.partId !== undefined : (pane === 'strings' || pane === 'ratio') && nodes.some((p) => p.node.array)
}

/** The views beside the course in time: the power tree; curves, matching, set-up of a driver; strings, drive ratio of the emitters. */
export const StagePane = memo(function StagePane({ stage, light, variant, at, pane, chosen, onPane, onGo, onChoose, change, tryOut }: Props) {
  const nodes = nodesOf(light.variants[variant]!, at)
  if (stage === 'overview') {
    return (
      <>
        <Tabs label="About the light" value={pane} onChange={onPane} tabs={[['', 'Course'], ['tree', 'Power tree'], ['compare', 'Variants side by side'], ['sure', 'How sure']]} />
        <Suspense>{pane === 'compare' && <Compare light={light} />}{pane === 'sure' && <Sure light={light} variant={variant} onGo={(pointer) => onGo(stageFor(pointer) ?? 'overview', pointer)} />}</Suspense>
        {pane === 'tree' && <PowerTree light={light} variant={light.variants[variant]!} at={at} change={change} onGo={onGo} onChoose={onChoose} />}
      </>
    )
  }
  if (stage === 'source') {
    if (!packed(light.variants[variant]!)) return null
    return (
      <Box>
        <Tabs label="About the source" value={pane} onChange={onPane} tabs={[['', 'Course'], ['pack', 'Pack'], ['charge', 'Charge'], ['runtime', 'Runtime']]} />
        <Suspense>
          {pane === 'pack' && <PackView light={light} variant={variant} at={at} change={change} tryOut={tryOut} />}
          {pane === 'charge' && <ChargeView light={light} variant={variant} at={at} tryOut={tryOut} />}
          {pane === 'runtime' && <RuntimeView light={light} variant={variant} at={at} tryOut={tryOut} />}
        </Suspense>
      </Box>
    )
  }
  if (stage === 'heat') {
    return (
      <Box sx={{ gridColumn: '1 / -1' }}>
        <Tabs label="About the heat" value={pane} onChange={onPane} tabs={[['', 'Path'], ['sink', 'Sink'], ['plate', 'Plate'], ['warmup', 'Warm-up']]} />
        {heatPanes.includes(pane) && (
          <Box sx={{ mt: 1.5 }}>
            <Suspense>
              {pane === 'sink' && <SinkView light={light} variant={variant} at={at} tryOut={tryOut} />}
              {pane === 'plate' && <PlateView light={light} variant={variant} at={at} change={change} />}
              {pane === 'warmup' && <WarmUpView light={light} variant={variant} />}
            </Suspense>
          </Box>
        )}
      </Box>
    )
  }
  if (stage === 'light') {
    if (litOf(nodes).length === 0) return null
    const grows = light.brief.ppfdUmolPerM2S !== undefined || light.scene?.crop !== undefined || light.scene?.tank !== undefined
    const tabs: [string, string][] = [['', 'Where it goes'], ...(grows ? [['day', 'Day'] as [string, string]] : []), ['colour', 'Colour'], ['course', 'Course']]
    return (
      <Box>
        <Tabs label="About where the light goes" value={pane} onChange={onPane} tabs={tabs} />
        <Suspense>
          {pane === 'colour' && <ColourView light={light} variant={variant} at={at} tryOut={tryOut} />}
          {pane === 'day' && grows && <DayView light={light} variant={variant} />}
          {pane !== 'course' && pane !== 'colour' && !(pane === 'day' && grows) && <LookView light={light} variant={variant} at={at} change={change} tryOut={tryOut} />}
        </Suspense>
      </Box>
    )
  }
  if (stage === 'emitters') {
    const lit = chosenOf(litOf(nodes), chosen)
    if (lit?.node.strip?.partId) {
      return (
        <>
          <Tabs label="About the strip" value={pane} onChange={onPane} tabs={[['', 'Course'], ['strip', 'Cut list']]} />
          <Suspense>{pane === 'strip' && <StripRun light={light} variant={variant} strip={lit} />}</Suspense>
        </>
      )
    }
    const arrays = nodes.filter((p) => p.node.array)
    if (arrays.length === 0) return null
    return (
      <>
        <Tabs label="About the emitters" value={pane} onChange={onPane} tabs={[['', 'Course'], ['strings', 'Strings'], ['ratio', 'Drive ratio']]} />
        {pane === 'strings' && <StringBars light={light} variant={variant} arrays={arrays} />}
        {pane === 'ratio' && arrays.map((p) => <RatioView key={p.node.id} light={light} variant={variant} array={p} />)}
      </>
    )
  }
  const drivers = nodes.filter((p) => p.node.driver)
  const driver = chosenOf(drivers, chosen)
  if (stage !== 'driver') return null
  if (!driver) {
    if (litOf(nodes).length === 0) return null
    return (
      <>
        <Tabs label="About what has no driver" value={pane} onChange={onPane} tabs={[['', 'Course'], ['setup', 'Bring up']]} />
        <Suspense>{pane === 'setup' && <SetUps light={light} variant={variant} at={at} change={change} chosen={chosen} />}</Suspense>
      </>
    )
  }
  const use = driver.node.driver!
  const part = partOf(light, use.partId)?.part.driver
  return (
    <>
      <Tabs label="About the driver" value={pane} onChange={onPane} tabs={[['', 'Curves'], ['match', 'Matching'], ['setup', 'Set up'], ['schools', 'Schools']]}>
        {drivers.length > 1 && pane !== 'setup' && <Box component="span" sx={{ ml: 'auto', fontSize: 13, color: 'var(--ink-soft)' }}>of {nodeName(driver.node)}</Box>}
      </Tabs>
      <Suspense>
      {pane === 'match' && <MatchList light={light} variant={variant} driver={driver} tryOut={tryOut} />}
      {pane === 'setup' && <SetUps light={light} variant={variant} at={at} change={change} chosen={driver.node.id} />}
      {pane === 'schools' && <Schools light={light} variant={variant} driver={driver} />}
      {!driverPanes.includes(pane) && use.partId && (
        <PlaneChart key={driver.node.id} light={light} variant={variant} driver={driver} change={change} several={drivers.length > 1} setCurrentA={part && dragged.includes(part.family) && use.programOhm === undefined ? (use.setCurrentA ?? part.setCurrentA) : undefined} />
      )}
      </Suspense>
    </>
  )
})
