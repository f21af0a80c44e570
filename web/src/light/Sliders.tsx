import Box from '@mui/material/Box'
import Slider from '@mui/material/Slider'
import type { Light } from '../api/client'
import type { Change } from '../document/store'
import { useSettings } from '../settings/SettingsProvider'
import { editable, text } from '../units/quantity'
import { allChanged, dimmable, levelOf, turned, type StandAt } from './stands'

const lowestM = 0.02
const highestM = 10

/** Height and dimming by hand: the picture follows while they are drawn. */
export function Sliders({ light, variant, at, stands, onHold, change }: { light: Light; variant: number; at: string; stands: StandAt[]; onHold: (light: Light | undefined) => void; change: Change }) {
  const { settings } = useSettings()
  const placed = stands.filter((s) => s.bodyId !== '')
  const height = placed[0]?.heightM
  const drivers = dimmable(light.variants[variant]!, at)
  const level = levelOf(drivers)
  const raise = (l: Light, to: number) => allChanged(l, at, stands, (s) => ({ ...s, heightM: Math.max(lowestM, Math.round(1000 * (s.heightM + to - height!)) / 1000) }))
  const dim = (l: Light, to: number) => {
    const own = dimmable(l.variants[variant]!, at)
    return turned(l, own, to / Math.max(levelOf(own), 1e-3))
  }
  return (
    <Box sx={{ display: 'flex', gap: 3, flexWrap: 'wrap', alignItems: 'center', fontSize: 13, color: 'var(--ink-soft)' }}>
      {height !== undefined && (
        <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', flex: '1 1 220px' }}>
          <span>Height</span>
          <Slider size="small" aria-label="Height of the light" min={Math.log(lowestM)} max={Math.log(highestM)} step={0.01} value={Math.log(Math.max(height, lowestM))} onChange={(_, x) => onHold(raise(light, Math.exp(x)))} onChangeCommitted={(_, x) => {
            onHold(undefined)
            change((l) => raise(l, Math.exp(x)), 'Height')
          }} />
          <span className="figure" style={{ whiteSpace: 'nowrap' }}>{text(editable(height, 'length', settings))}</span>
        </Box>
      )}
      {drivers.length > 0 && (
        <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', flex: '1 1 220px' }}>
          <span style={{ whiteSpace: 'nowrap' }}>Dimmed to</span>
          <Slider size="small" aria-label="Current of the drivers" min={0.02} max={1} step={0.01} value={level} onChange={(_, x) => onHold(dim(light, x))} onChangeCommitted={(_, x) => {
            onHold(undefined)
            change((l) => dim(l, x), 'Dimming')
          }} />
          <span className="figure" style={{ whiteSpace: 'nowrap' }}>{Math.round(100 * level)} %</span>
        </Box>
      )}
    </Box>
  )
}
