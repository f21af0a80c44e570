import Box from '@mui/material/Box'
import type { Light, Variant } from '../api/client'
import { MatchList } from './driver/MatchList'
import { SetUp } from './driver/SetUp'
import { RatioView } from './emitters/RatioView'
import { StringBars } from './emitters/StringBars'
import { PlaneChart } from './PlaneChart'
import { Tabs } from './Tabs'
import { nodeName, nodesOf, partOf, type Stage } from './tree'

interface Props {
  stage: Stage
  light: Light
  variant: number
  at: string
  /** Which view of the stage is open; empty: its charts. */
  pane: string
  /** The driver the views are about, if one was chosen among several. */
  chosen: string | undefined
  onPane: (pane: string) => void
  onDriver: (node: string) => void
  edit: (light: Light, label: string, done?: boolean) => void
  tryOut: (light: Light, label: string) => void
}

const dragged = ['linear', 'buck', 'boost', 'buck-boost', 'voltage']

/** Whether a view stands in the place of the course in time. */
export function paneOpen(stage: Stage, pane: string, variant: Variant): boolean {
  const nodes = nodesOf(variant, '')
  if (stage === 'driver') return (pane === 'match' || pane === 'setup') && nodes.some((p) => p.node.driver)
  return stage === 'emitters' && (pane === 'strings' || pane === 'ratio') && nodes.some((p) => p.node.array)
}

/** The views of the driver and the emitters beside the course in time: curves, matching, set-up; strings, drive ratio. */
export function StagePane({ stage, light, variant, at, pane, chosen, onPane, onDriver, edit, tryOut }: Props) {
  const nodes = nodesOf(light.variants[variant]!, at)
  if (stage === 'emitters') {
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
  const driver = drivers.find((p) => p.node.id === chosen) ?? drivers.find((p) => p.node.driver?.partId) ?? drivers[0]
  if (stage !== 'driver' || !driver) return null
  const use = driver.node.driver!
  const part = partOf(light, use.partId)?.part.driver
  return (
    <>
      <Tabs label="About the driver" value={pane} onChange={onPane} tabs={[['', 'Curves'], ['match', 'Matching'], ['setup', 'Set up']]}>
        {drivers.length > 1 && (
          <Box component="select" aria-label="Driver" value={driver.node.id} onChange={(e) => onDriver(e.target.value)} sx={{ ml: 'auto', font: 'inherit', color: 'var(--power-ink)', background: 'none', border: 0 }}>
            {drivers.map((p) => <option key={p.node.id} value={p.node.id}>{nodeName(p.node)}</option>)}
          </Box>
        )}
      </Tabs>
      {pane === 'match' && <MatchList light={light} variant={variant} driver={driver} tryOut={tryOut} />}
      {pane === 'setup' && <SetUp key={driver.node.id} light={light} variant={variant} driver={driver} edit={edit} />}
      {pane !== 'match' && pane !== 'setup' && use.partId && (
        <PlaneChart key={driver.node.id} light={light} variant={variant} driver={driver} edit={edit} several={drivers.length > 1} setCurrentA={part && dragged.includes(part.family) && use.programOhm === undefined ? (use.setCurrentA ?? part.setCurrentA) : undefined} />
      )}
    </>
  )
}
