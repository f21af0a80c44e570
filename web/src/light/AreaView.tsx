import Box from '@mui/material/Box'
import { memo, useRef } from 'react'
import type { Light, Schemas } from '../api/client'
import type { Change } from '../document/store'
import { digits } from '../units/quantity'
import { FieldMap } from '../charts/FieldMap'
import { Out } from './Out'
import { Sliders } from './Sliders'
import { changed } from './stands'
import type { Look } from '../solved/useLook'
import { WaysList } from './WaysList'

interface Props {
  look: Look
  light: Light
  /** The light without what is being dragged: what takes longer is asked of it. */
  still: Light
  variant: number
  at: string
  change: Change
  onHold: (light: Light | undefined) => void
  tryOut: (light: Light, label: string) => void
}

/** What is told of a map, in a line. */
export const MapWords = memo(function MapWords({ map }: { map: Schemas['LightMap'] }) {
  const percent = (x: number) => `${Math.round(100 * x)} %`
  return (
    <Box sx={{ fontSize: 13, display: 'flex', flexWrap: 'wrap', columnGap: 2 }}>
      <span><strong className="figure">{digits(map.mean, 3)}</strong> {map.unit} on average, <span className="figure">{digits(map.min, 3)}</span> to <span className="figure">{digits(map.max, 3)}</span></span>
      <span>least over mean <span className="figure">{map.minOverMean.toFixed(2)}</span></span>
      {map.unit !== 'lx' && map.meanLux != null && <span><span className="figure">{digits(map.meanLux, 3)}</span> lx</span>}
      {map.unit !== 'lx' && map.blue != null && <span style={{ color: 'var(--ink-soft)' }}>of the photons {percent(map.blue)} blue, {percent(map.red ?? 0)} red{(map.farRed ?? 0) > 0.005 && `, and ${percent(map.farRed!)} far red beside them`}</span>}
      {map.depthM == null && <span><span className="figure">{percent(map.landing)}</span> of the light lands straight</span>}
      {map.ends && <span style={{ color: 'var(--ink-soft)' }}>it ends: {percent(map.ends.plane)} on the plane, {percent(map.ends.walls)} in walls, {percent(map.ends.ceiling)} in the ceiling; walls to ±{(100 * map.within).toFixed(1)} %</span>}
    </Box>
  )
})

const stripWays = (l: Look) => l.strip?.ways

/** Light over an area from above: lights are dragged, height and dimming drawn. */
export function AreaView({ look, light, still, variant, at, change, onHold, tryOut }: Props) {
  const map = look.area ?? look.strip?.map
  const picture = useRef<SVGSVGElement>(null)
  if (!map) return null
  const move = (i: number, xM: number, yM: number, done: boolean) => {
    const put = (l: Light) => changed(l, at, look.stands, i, (s) => ({ ...s, xM, yM }))
    if (!done) return onHold(put(light))
    onHold(undefined)
    change(put, 'A light over the area')
  }
  return (
    <>
      <MapWords map={map} />
      <Sliders light={light} variant={variant} at={at} stands={look.stands} onHold={onHold} change={change} />
      <FieldMap map={map} title="Light over the area" stands={look.stands} lights={look.lights} target={look.target && !look.target.tooMuch ? look.target.low : (look.target?.high ?? undefined)} onMove={move} pictureRef={picture} />
      {look.target && <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)' }}>{map.max < look.target.low ? 'Nowhere as bright as wanted.' : map.min > look.target.low ? 'Everywhere as bright as wanted.' : 'The dashed line is what is wanted.'}</Box>}
      <Out name="area" light={light} variant={variant} pictureRef={picture} map={map} />
      {look.strip && <StripWords strip={look.strip} />}
      {look.kind === 'strip' && <WaysList light={still} variant={variant} at={at} of={stripWays} unit={map.unit} tryOut={tryOut} />}
    </>
  )
}

/** From where emitters no longer show as dots on a diffuser. */
export function DotWords({ dots }: { dots: Pick<Schemas['StripView'], 'pitchM' | 'ripple' | 'hideM'> }) {
  const mm = (m: number) => `${digits(1000 * m, 2)} mm`
  return <div>Emitters stand <span className="figure">{mm(dots.pitchM)}</span> apart: a diffuser <span className="figure">{mm(dots.hideM)}</span> before them hides the dots{dots.ripple > 0 && <>; as far as it is now they show with <span className="figure">{Math.round(100 * dots.ripple)} %</span></>}.</div>
}

/** What a strip gives along its length, and whether its dots show. */
const StripWords = memo(function StripWords({ strip }: { strip: Schemas['StripView'] }) {
  return (
    <Box sx={{ fontSize: 13, mt: 1 }}>
      {strip.lmPerM > 0 && <div><span className="figure">{digits(strip.lmPerM, 3)}</span> lm and <span className="figure">{digits(strip.wPerM, 3)}</span> W a metre of <span className="figure">{digits(strip.lengthM, 3)} m</span>; at the ends of the area <span className="figure">{Math.round(100 * strip.darkEnds)} %</span> of the middle.</div>}
      {strip.hideM > 0 ? (
        <DotWords dots={strip} />
      ) : (
        <div style={{ color: 'var(--ink-soft)' }}>Say how far apart the emitters of the strip stand, in its figures, to know from where a diffuser hides them.</div>
      )}
    </Box>
  )
})
