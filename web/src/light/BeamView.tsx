import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { memo, useRef, useState } from 'react'
import type { Light } from '../api/client'
import { Chart } from '../charts/Chart'
import { FigureField } from '../figures/FigureField'
import { useSettings } from '../settings/SettingsProvider'
import { digits, editable, text } from '../units/quantity'
import { BeamPicture } from './BeamPicture'
import { Out } from './Out'
import { withOptic } from './stands'
import { capital } from '../units/words'
import { useLook, type Look } from '../solved/useLook'

const cell = { textAlign: 'left', py: 0.3, pr: 1.5, borderTop: '1px solid var(--line)' } as const
const table = { borderCollapse: 'collapse', fontSize: 13, '& th, & td': cell, '& thead th': { borderTop: 0, fontWeight: 400, color: 'var(--ink-soft)' } } as const

/** A light that throws a beam: from the side, at distances, and behind other optics. */
export const BeamView = memo(function BeamView({ look, light, variant, at, tryOut }: { look: Look; light: Light; variant: number; at: string; tryOut: (light: Light, label: string) => void }) {
  const { settings } = useSettings()
  const [against, setAgainst] = useState(-1)
  const [atM, setAtM] = useState<number>()
  const [tiltDeg, setTiltDeg] = useState<number>()
  const there = useLook(light, variant, { atM, tiltDeg }, atM !== undefined).data?.beam?.at
  const compared = useLook(light, variant, { against }, against >= 0).data?.beam?.compare
  const picture = useRef<SVGSVGElement>(null)
  const beam = look.beam
  const length = (m: number) => text(editable(m, 'length', settings))
  return (
    <>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 2, mb: 0.5, alignItems: 'baseline' }}>
        <span><strong className="figure">{digits(beam.peakCd, 3)}</strong> cd at its peak</span>
        <span>0.25 lx at <strong className="figure">{length(Number(beam.distanceM.toPrecision(3)))}</strong></span>
        <span>beam <strong className="figure">{digits(beam.widthDeg, 3)}°</strong> at half, <span className="figure">{digits(beam.fieldDeg, 3)}°</span> at a tenth</span>
      </Box>
      {light.variants.length > 1 && (
        <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', alignItems: 'baseline', fontSize: 13 }}>
          <label>Beside{' '}
            <select value={against} onChange={(e) => setAgainst(Number(e.target.value))} aria-label="Compare with" style={{ font: 'inherit', border: 0, background: 'none', color: 'var(--power-ink)' }}>
              <option value={-1}>no other variant</option>
              {light.variants.map((v, i) => i !== variant && <option key={v.id} value={i}>{v.name}</option>)}
            </select>
          </label>
          {against >= 0 && compared && <span data-testid="seen">{`Against ${compared.with}: ${compared.words}.`}</span>}
        </Box>
      )}
      <BeamPicture beam={beam} beside={against >= 0 ? compared ?? undefined : undefined} pictureRef={picture} />
      <Out name="beam" light={light} variant={variant} pictureRef={picture} />
      <Box sx={{ display: 'grid', gap: 3, gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'minmax(0, 1fr) minmax(0, 1fr)' }, mt: 1 }}>
        <Box>
          <Box component="h3" sx={{ fontSize: 13, m: 0 }}>At distances, on what faces it</Box>
          <Box component="table" sx={table}>
            <thead><tr><th>From it</th><th>Light</th><th>Bright middle</th><th>To a tenth</th></tr></thead>
            <tbody>{beam.along.map((a) => <tr key={a.m}><td className="figure">{length(a.m)}</td><td className="figure">{digits(a.lux, 3)} lx</td><td className="figure">{length(Number(a.spotM.toPrecision(2)))}</td><td className="figure">{length(Number(a.spillM.toPrecision(2)))}</td></tr>)}</tbody>
          </Box>
          <FigureField label="How much comes to" pointer="/asked/atM" quantity="length" value={atM} fallback="type how far" onChange={(x, done) => done && setAtM(x)} />
          {atM !== undefined && <FigureField label="on what is tilted from it by" pointer="/asked/tiltDeg" quantity="angle" value={tiltDeg} fallback="0°" onChange={(x, done) => done && setTiltDeg(x)} />}
          {there && <Box sx={{ fontSize: 13 }} data-testid="there"><span className="figure">{digits(there.lux, 3)} lx</span>, <span className="figure">{length(Number(there.spotM.toPrecision(2)))}</span> wide</Box>}
          <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)', mt: 0.5 }}>{beam.measureFromM > 0 ? `A meter tells its candela from ${length(Number(beam.measureFromM.toPrecision(2)))} on: lux times metres squared.` : 'Say how wide its opening is, beside, to know from where its candela can be measured.'} 0.25 lx is about a full moon; a path to walk wants 1 lx.</Box>
        </Box>
        <Box>
          {beam.ground.length > 1 && <Chart title="Light on the ground" height={170} x={{ name: 'from the light, m', min: 0, max: beam.ground.at(-1)!.m, format: (m) => (m === 0 ? '0' : length(Number(m.toPrecision(3)))) }} y={[{ name: 'lx on level ground', min: 0 }]} lines={[{ name: 'ground', unit: 'lx', colour: '--light', axis: 0, digits: 2, points: beam.ground.map((g) => [g.m, g.lux]) }]} />}
        </Box>
        <Box sx={{ gridColumn: '1 / -1', overflowX: 'auto' }}>
          <Box component="h3" sx={{ fontSize: 13, m: 0 }}>The same emitters behind other optics</Box>
          <Box component="table" sx={{ ...table, '& th, & td': { ...cell, whiteSpace: 'nowrap' } }} data-testid="optics">
            <thead><tr><th>Optic</th><th>Lets out</th><th>Peak</th><th>0.25 lx at</th><th>Wide at 10 m</th><th /></tr></thead>
            <tbody>{beam.optics.map((o) => (
              <tr key={o.name} style={o.own ? { fontWeight: 600 } : undefined}>
                <td>{capital(o.name)}</td>
                <td className="figure">{digits(o.lumens, 3)} lm</td>
                <td className="figure">{digits(o.peakCd, 3)} cd</td>
                <td className="figure">{length(Number(o.distanceM.toPrecision(3)))}</td>
                <td className="figure">{length(Number(o.spotAt10M.toPrecision(2)))}</td>
                <td>{!o.own && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => tryOut(withOptic(light, light.variants[variant]!, at, o), o.name)}>Try it</Button>}</td>
              </tr>
            ))}</tbody>
          </Box>
          <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)', mt: 0.5 }}>{beam.optics.length > 1 ? 'An optic of the kind it has lets out as much as its own; of others a lens 88 %, a smooth reflector 85 %, a textured one 82 %, as is common. Colour at the rim of a lens is left out.' : 'Others are not tried: its light leaves through unlike optics, or not from emitters.'}</Box>
        </Box>
      </Box>
    </>
  )
})
