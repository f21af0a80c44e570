import Box from '@mui/material/Box'
import { contours } from 'd3-contour'
import { useMemo, useRef } from 'react'
import type { Light } from '../api/client'
import type { Change } from '../document/store'
import { useSettings } from '../settings/SettingsProvider'
import { digits, editable, text } from '../units/quantity'
import { MapWords } from './AreaView'
import { shade } from '../charts/contour'
import { FieldMap } from '../charts/FieldMap'
import { Out } from './Out'
import { Sliders } from './Sliders'
import { changed } from './stands'
import type { Look } from '../solved/useLook'
import { useRoom } from '../charts/useRoom'

const air = 64
const aside = 52

/** A tank from its side and from above. */
export function TankPictures({ look, light, variant, at, change, onHold }: { look: Look; light: Light; variant: number; at: string; change: Change; onHold: (light: Light | undefined) => void }) {
  const { settings } = useSettings()
  const picture = useRef<SVGSVGElement>(null)
  const tank = look.tank
  const s = tank.section
  const unit = tank.bottom.unit === 'lx' ? 'lx' : 'µmol'
  const { room, frameRef } = useRoom(200, 560)
  const k = Math.min((room - aside - 8) / tank.lengthM, 230 / tank.depthM)
  const [w, h] = [tank.lengthM * k, tank.depthM * k]
  const most = Math.max(...s.values)
  const bands = useMemo(() => contours().size([s.nx, s.nz]).thresholds(s.levels)(s.values).map((band, i) => ({ level: s.levels[i]!, d: band.coordinates.map((rings) => rings.map((ring) => `M${ring.map(([x, y]) => `${((x! / s.nx) * w).toFixed(1)},${((y! / s.nz) * h).toFixed(1)}`).join('L')}Z`).join('')).join('') })), [s, w, h])
  const length = (m: number) => text(editable(m, 'length', settings))
  const move = (i: number, xM: number, yM: number, done: boolean) => {
    const put = (l: Light) => changed(l, at, look.stands, i, (x) => ({ ...x, xM, yM }))
    if (!done) return onHold(put(light))
    onHold(undefined)
    change(put, 'A light over the tank')
  }
  return (
    <>
      <MapWords map={tank.bottom} />
      <Box sx={{ fontSize: 13 }}><strong className="figure">{Math.round(100 * tank.reaches)} %</strong> of the {unit === 'lx' ? 'light' : 'photons'} reach the bottom; the rest goes through surface and sides, or into the water.</Box>
      <Sliders light={light} variant={variant} at={at} stands={look.stands} onHold={onHold} change={change} />
      <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'minmax(0, 1fr) minmax(0, 1fr)' }, mt: 1 }}>
        <Box ref={frameRef}>
          <Box component="h3" sx={{ fontSize: 13, m: 0 }}>From the side, through its middle</Box>
          <svg viewBox={`0 0 ${w + aside + 8} ${h + air + 30}`} width={w + aside + 8} style={{ maxWidth: '100%', display: 'block' }} role="img" aria-label={`Light in the tank from the side: ${tank.below.map((b) => `${digits(b.mean, 2)} ${unit} at ${length(b.depthM)}`).filter((_, i) => i % 3 === 0).join(', ')}`}>
            <g transform={`translate(8 ${air})`}>
              <rect width={w} height={h} style={{ fill: shade(Math.min(...s.values) / most) }} />
              {bands.map((b) => <path key={b.level} d={b.d} fillRule="evenodd" style={{ fill: shade(b.level / most) }} stroke="var(--light-ink)" strokeWidth="0.5" strokeOpacity="0.5" />)}
              <path d={`M0,${-tank.rimM * k}V${h}H${w}V${-tank.rimM * k}`} fill="none" stroke="var(--ink)" strokeWidth="2" />
              <line x1="0" x2={w} y1="0" y2="0" stroke="var(--power)" strokeWidth="1.2" />
              <rect x="0" y={h - 5} width={w} height="5" fill="var(--ink-soft)" fillOpacity="0.5" />
              {look.lights.map((l, i) => <circle key={i} cx={(l.x + tank.lengthM / 2) * k} cy={-Math.min(l.z * k, air - 4)} r="2.2" fill="var(--light)" stroke="var(--ink)" strokeWidth="0.6" />)}
              {tank.below.filter((_, i) => i % 3 === 0).map((b) => <g key={b.depthM}><line x1={w} x2={w + 4} y1={(b.depthM / tank.depthM) * h} y2={(b.depthM / tank.depthM) * h} stroke="var(--ink-soft)" /><text x={w + 6} y={(b.depthM / tank.depthM) * h + 4} fontSize="11" className="figure" fill="var(--ink)">{digits(b.mean, 3)}</text></g>)}
              <text x={w / 2} y={h + 18} textAnchor="middle" fontSize="12" className="figure" fill="var(--ink-soft)">{length(tank.lengthM)}, {length(tank.depthM)} deep, in {unit}</text>
            </g>
          </svg>
        </Box>
        <Box>
          <Box component="h3" sx={{ fontSize: 13, m: 0 }}>The bottom from above</Box>
          <FieldMap map={tank.bottom} title="Light on the bottom" stands={look.stands} target={look.target && !look.target.tooMuch ? look.target.low : (look.target?.high ?? undefined)} most={240} onMove={move} pictureRef={picture} />
          <Out name="bottom" light={light} variant={variant} pictureRef={picture} map={tank.bottom} />
        </Box>
      </Box>
      <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)', mt: 1 }}>A smooth surface, sides of clear glass unless they are said to be black; what sand and plants throw back is left out.</Box>
      {look.grow?.moist && <Box sx={{ fontSize: 12.5, color: 'var(--caution-ink)', mt: 0.5 }}>▲ {look.grow.moist}</Box>}
    </>
  )
}
