import Box from '@mui/material/Box'
import { memo, useRef } from 'react'
import type { Light } from '../api/client'
import { useSettings } from '../settings/SettingsProvider'
import { digits, editable, text } from '../units/quantity'
import { DotWords, MapWords } from './AreaView'
import { FieldMap } from '../charts/FieldMap'
import { Out } from './Out'
import type { Look } from '../solved/useLook'
import { WaysList } from './WaysList'

/** The ground round a lantern, and what eyes get that look at it. */
export const AroundView = memo(function AroundView({ look, light, variant, at, tryOut }: { look: Look; light: Light; variant: number; at: string; tryOut: (light: Light, label: string) => void }) {
  const { settings } = useSettings()
  const picture = useRef<SVGSVGElement>(null)
  const a = look.around
  const length = (m: number) => text(editable(Number(m.toPrecision(2)), 'length', settings))
  return (
    <>
      <MapWords map={a.map} />
      <Box sx={{ fontSize: 13 }}>Light to walk by, 1 lx, reaches <strong className="figure">{length(a.walkM)}</strong> round it, <span className="figure">{length(Math.min(...a.sides))}</span> to <span className="figure">{length(Math.max(...a.sides))}</span> by the side.</Box>
      <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'minmax(0, 1.1fr) minmax(0, 1fr)' } }}>
        <Box>
          <FieldMap map={a.map} title="Light on the ground round it" stands={look.stands} target={1} most={380} pictureRef={picture} />
          <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)' }}>The dashed line is 1 lx, where there is less.</Box>
          <Out name="ground" light={light} variant={variant} pictureRef={picture} map={a.map} />
        </Box>
        <Box>
          <Box component="h3" sx={{ fontSize: 13, m: 0 }}>In the eyes, {length(a.eyeM)} high, from the brightest side</Box>
          <Box component="table" sx={{ borderCollapse: 'collapse', fontSize: 13, '& th, & td': { textAlign: 'left', py: 0.3, pr: 1.5, borderTop: '1px solid var(--line)' }, '& thead th': { fontWeight: 400, color: 'var(--ink-soft)' } }}>
            <thead><tr><th>Away</th><th>In the eyes</th><th>On the ground there</th><th>Towards them</th></tr></thead>
            <tbody>{a.eyes.map((e) => <tr key={e.m}><td className="figure">{length(e.m)}</td><td className="figure">{digits(e.lux, 2)} lx</td><td className="figure">{digits(e.groundLux, 2)} lx</td><td className="figure">{digits(e.cd, 2)} cd</td></tr>)}</tbody>
          </Box>
          {a.glaring && <Box sx={{ fontSize: 13, color: 'var(--caution-ink)', mt: 0.5 }}>▲ {a.glaring}</Box>}
          {a.dots.ripple > 0 && <Box sx={{ fontSize: 13, mt: 0.5 }}><DotWords dots={a.dots} /></Box>}
          <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)', mt: 0.5 }}>Switch its sides on and off where they are in the wire: the picture follows.</Box>
        </Box>
      </Box>
      <WaysList light={light} variant={variant} at={at} of={(l) => l.around?.ways} unit="lx" tryOut={tryOut} />
    </>
  )
})
