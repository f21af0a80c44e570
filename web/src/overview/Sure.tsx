import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { Light } from '../api/client'
import { useSettings } from '../settings/SettingsProvider'
import { Drawn } from '../solved/Drawn'
import { useBand } from '../solved/useBand'
import { clock, digits, show, text } from '../units/quantity'

const names: [key: string, name: string, write: (x: number, settings: Parameters<typeof show>[2]) => string][] = [
  ['fluxLm', 'Light at 30 s', (x, s) => text(show(x, 'luminousFlux', s))],
  ['inputW', 'Power in', (x) => `${digits(x, 3)} W`],
  ['halfS', 'To half light', (x) => clock(x)],
  ['endS', 'To empty', (x) => clock(x)],
  ['junctionC', 'Hottest junction', (x, s) => text(show(x, 'temperature', s))],
  ['touchC', 'Hottest touch', (x, s) => text(show(x, 'temperature', s))],
]

const mostCauses = 5

/** How far the answers may be off, and what makes them so: what to find out first. */
export function Sure({ light, variant, onGo }: { light: Light; variant: number; onGo: (pointer: string) => void }) {
  const { settings } = useSettings()
  const drawing = useBand(light, variant)
  const band = drawing.band
  if (!band) return <Box sx={{ mt: 1.5 }}><Drawn of={drawing} /></Box>
  const known = names.filter(([key]) => band.ranges[key])
  if (known.length === 0) return <Box sx={{ color: 'var(--ink-soft)', mt: 1.5, maxWidth: 480 }}>Nothing can be said of a light that gives no answers yet.</Box>
  return (
    <Box data-testid="sure" sx={{ mt: 1.5 }}>
      <Box component="h2" sx={{ fontSize: 14, m: 0 }}>Eight of ten lights like this come out between</Box>
      {band.failed > 0 && <Box sx={{ fontSize: 13, color: 'var(--caution-ink)' }}>{band.failed} of {band.samples} drawn lights could not be solved.</Box>}
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: 'minmax(0, 1fr)', lg: 'minmax(0, 1fr) minmax(0, 1fr)' }, columnGap: 3, rowGap: 1.5, mt: 1 }}>
        {known.map(([key, name, write]) => (
          <Box key={key} data-answer-band={key}>
            <Box sx={{ display: 'flex', gap: 1, borderBottom: '1px solid var(--line)' }}>
              <Box sx={{ flex: 1, color: 'var(--ink-soft)' }}>{name}</Box>
              <Box className="figure">{write(band.ranges[key]!.low, settings)} … {write(band.ranges[key]!.high, settings)}</Box>
            </Box>
            {(band.causes[key] ?? []).slice(0, mostCauses).map((c) => (
              <Box key={c.label} sx={{ display: 'grid', gridTemplateColumns: '1fr 92px', alignItems: 'center', columnGap: 1, fontSize: 13 }}>
                <Button title="Where it is said" sx={{ p: 0, minWidth: 0, justifyContent: 'flex-start', textAlign: 'left', fontWeight: c.assumed ? 700 : 400, color: 'inherit' }} onClick={() => onGo(c.pointer)}>{c.label}{c.assumed && ', assumed'}</Button>
                <Box role="img" aria-label={`${Math.round(c.share * 100)} % of it`} title={`${Math.round(c.share * 100)} % of it`} sx={{ height: 8, background: 'var(--track)' }}><Box sx={{ height: 8, width: `${Math.min(c.share, 1) * 100}%`, background: c.assumed ? 'var(--caution)' : 'var(--power)' }} /></Box>
              </Box>
            ))}
          </Box>
        ))}
      </Box>
      <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)', mt: 1 }}>Parts of one kind are taken as of one lot. A bar is the share of what makes this answer differ; tolerances that no data say are those of common practice. What is assumed counts twice: to find that out comes first.</Box>
    </Box>
  )
}
