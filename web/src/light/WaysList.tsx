import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { memo } from 'react'
import type { Light, Schemas } from '../api/client'
import { useSettings } from '../settings/SettingsProvider'
import { digits, editable, text } from '../units/quantity'
import { withStands } from './stands'
import { useLook, type Look } from '../solved/useLook'

/** Other ways to put a light, each with what it then gives. */
export const WaysList = memo(function WaysList({ light, variant, at, of, unit, tryOut }: { light: Light; variant: number; at: string; of: (look: Look) => Schemas['Way'][] | undefined; unit: string; tryOut: (light: Light, label: string) => void }) {
  const { settings } = useSettings()
  const found = useLook(light, variant, { ways: true }).data
  const ways = (found && of(found)) ?? []
  if (ways.length === 0) return null
  return (
    <>
      <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1 }}>Put otherwise</Box>
      <Box component="ul" aria-label="Other ways to put it" sx={{ listStyle: 'none', m: 0, p: 0, fontSize: 13 }}>
        {ways.map((w) => (
          <Box component="li" key={w.name} sx={{ display: 'flex', gap: 1.5, borderBottom: '1px solid var(--line)', py: 0.25 }}>
            <Box sx={{ flex: 1 }}>{w.name}</Box>
            <span className="figure">{digits(w.mean, 3)} {unit}</span>
            <span className="figure" style={{ color: 'var(--ink-soft)' }}>least over mean {w.minOverMean.toFixed(2)}</span>
            {w.walkM > 0 && <span className="figure">1 lx to {text(editable(Number(w.walkM.toPrecision(2)), 'length', settings))}</span>}
            {w.stands.length > 0 && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => tryOut(withStands(light, at, w.stands), w.name)}>Try it</Button>}
          </Box>
        ))}
      </Box>
    </>
  )
})
