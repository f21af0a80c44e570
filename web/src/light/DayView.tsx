import Box from '@mui/material/Box'
import type { Light } from '../api/client'
import { Chart } from '../charts/Chart'
import { useSettings } from '../settings/SettingsProvider'
import { digits } from '../units/quantity'
import { useLook } from '../solved/useLook'

const hour = (h: number) => `${Math.floor(h)}:${String(Math.round((h % 1) * 60)).padStart(2, '0')}`

/** What plants get in a day, what it takes, and how they are let get used to it. */
export function DayView({ light, variant }: { light: Light; variant: number }) {
  const { settings } = useSettings()
  const look = useLook(light, variant)
  const g = look.data?.grow
  if (look.isError) return <Box role="alert" sx={{ color: 'var(--ink-soft)' }}>{look.error.message}</Box>
  if (!look.data) return <Box sx={{ color: 'var(--ink-soft)' }}>The day follows.</Box>
  if (!g) return <Box sx={{ color: 'var(--ink-soft)', maxWidth: 480 }}>{look.data.fault || look.data.dark || (look.data.unknown ? `Photons cannot be told: the spectrum of ${look.data.unknown} is not known.` : 'Say what grows there, or how much light it wants in µmol/(m²·s), beside: then the day, its energy and its money stand here.')}</Box>
  const money = settings.pricePerKWh
  return (
    <Box data-testid="day">
      <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 3, fontSize: 13.5 }}>
        {g.dli != null && <span><strong className="figure">{digits(g.dli, 3)}</strong> mol/m² in {digits(g.hoursADay, 3)} h{g.hours && <span style={{ color: 'var(--ink-soft)' }}>; usual for it in {digits(g.hours.low, 2)} to {digits(g.hours.high, 2)} h</span>}</span>}
        <span><strong className="figure">{digits(g.umolPerJ, 3)}</strong> µmol a joule at the source{g.landingUmolPerJ > 0 && <>, <span className="figure">{digits(g.landingUmolPerJ, 3)}</span> of them land</>}</span>
        <span><strong className="figure">{digits(g.monthKWh, 3)}</strong> kWh a month{money !== undefined && <>, costs <span className="figure">{(g.monthKWh * money).toFixed(2)}</span></>}</span>
      </Box>
      <Chart title="The day" height={220} x={{ name: 'hour of the day', min: 0, max: 24, format: hour, every: 3, mark: (h) => String(h) }} y={[{ name: 'µmol/(m²·s)', min: 0 }, { name: 'W', min: 0 }]}
        lines={[{ name: 'light', unit: 'µmol', colour: '--light', axis: 0, digits: 3, points: g.day.map((d) => [d.h, d.ppfd]) }, { name: 'power', unit: 'W', colour: '--power', axis: 1, digits: 3, dashed: true, points: g.day.map((d) => [d.h, d.w]) }]} />
      <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)' }}>A day takes <span className="figure">{digits(g.dayKWh, 3)} kWh</span>; while it is turned down it takes what its drivers then take.</Box>
      <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1.5 }}>To get used to it</Box>
      <Box component="table" sx={{ borderCollapse: 'collapse', fontSize: 13, '& th, & td': { textAlign: 'left', py: 0.25, pr: 2, borderTop: '1px solid var(--line)' }, '& thead th': { fontWeight: 400, color: 'var(--ink-soft)' } }}>
        <thead><tr><th>Week</th><th>Of its light</th><th>µmol/(m²·s)</th></tr></thead>
        <tbody>{g.acclimation.map((a) => <tr key={a.week}><td className="figure">{a.week}</td><td className="figure">{Math.round(100 * a.level)} %</td><td className="figure">{digits(a.ppfd, 3)}</td></tr>)}</tbody>
      </Box>
      <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)' }}>Common practice: half of the light in the first week, all of it in the fifth; slower where leaves or polyps pale.</Box>
    </Box>
  )
}
