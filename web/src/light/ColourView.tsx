import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useState } from 'react'
import type { Light } from '../api/client'
import { Chart } from '../charts/Chart'
import { FigureField } from '../figures/FigureField'
import { digits } from '../units/quantity'
import { useLook } from '../solved/useLook'
import { withLevels } from './stands'

const colours = ['--power', '--heat', '--margin', '--caution', '--note']

/** What the light of all channels together looks like, and how far each is turned up for a wanted colour. */
export function ColourView({ light, variant, at, tryOut }: { light: Light; variant: number; at: string; tryOut: (light: Light, label: string) => void }) {
  const [kelvin, setKelvin] = useState<number>()
  const [share, setShare] = useState<number>()
  const look = useLook(light, variant, { colour: true, kelvin, share })
  if (look.isError) return <Box role="alert" sx={{ color: 'var(--ink-soft)' }}>{look.error.message}</Box>
  if (!look.data) return <Box sx={{ color: 'var(--ink-soft)' }}>The spectrum follows.</Box>
  const c = look.data.colour
  if (!c) return <Box sx={{ color: 'var(--ink-soft)', maxWidth: 480 }}>{look.data.dark || 'No spectrum is known. Give the emitters theirs under Emitters, in all their figures: the colour temperature of a white, or the wavelength of its peak.'}</Box>
  const turnedTo = c.levels ? withLevels(light, light.variants[variant]!, at, c.channels.map((ch, i) => ({ node: ch.node, level: c.levels.level[i]! }))) : undefined
  const fact = (name: string, value: string) => <Box key={name} sx={{ borderLeft: '2px solid var(--line)', pl: 1 }}><Box sx={{ fontSize: 12, color: 'var(--ink-soft)' }}>{name}</Box><span className="figure">{value}</span></Box>
  return (
    <Box data-testid="colour">
      {look.data.unknown && <Box sx={{ fontSize: 13, color: 'var(--caution-ink)' }}>Without {look.data.unknown}, whose spectrum is not known.</Box>}
      <Chart title="Spectrum" height={230} x={{ name: 'wavelength, nm', min: 350, max: 800, format: (x) => `${x.toFixed(0)} nm`, every: 50, mark: (x) => x.toFixed(0) }} y={[{ name: 'of its highest', min: 0, max: 1 }]}
        lines={[...(c.channels.length > 1 ? c.channels.map((ch, i) => ({ name: ch.name, unit: '', colour: colours[i % colours.length]!, axis: 0 as const, dashed: true, digits: 2, points: ch.power.map((p, k): [number, number] => [c.nm[k]!, p]) })) : []), { name: 'all', unit: '', colour: '--ink', axis: 0 as const, digits: 2, points: c.power.map((p, k): [number, number] => [c.nm[k]!, p]) }]} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 2.5, mt: 1 }}>
        {fact('Colour temperature', c.all.temperatureK != null ? `${Math.round(c.all.temperatureK / 10) * 10} K` : 'too far from white')}
        {c.all.duv != null && fact('Duv', c.all.duv.toFixed(4))}
        {fact('Ra', c.all.ra != null ? c.all.ra.toFixed(0) : 'not white')}
        {fact('Lumens a radiated watt', `${digits(c.all.lmPerRadiatedW, 3)} lm/W`)}
        {fact('Photons a radiated joule', `${digits(c.all.photonsPerJ, 3)} µmol`)}
        {fact('Blue, of the photons', `${Math.round(100 * c.all.blueShare)} %`)}
        {fact('Red to far red', c.redToFarRed != null ? digits(c.redToFarRed, 2) : 'no far red')}
      </Box>
      {c.channels.length > 1 && (
        <>
          <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1.5 }}>Channels</Box>
          <Box component="table" sx={{ borderCollapse: 'collapse', fontSize: 13, '& th, & td': { textAlign: 'left', py: 0.3, pr: 2, borderTop: '1px solid var(--line)' }, '& thead th': { fontWeight: 400, color: 'var(--ink-soft)' } }}>
            <thead><tr><th>Channel</th><th>Light</th><th>Photons</th>{c.levels && <th>To be turned to</th>}</tr></thead>
            <tbody>{c.channels.map((ch, i) => <tr key={`${ch.node} ${ch.name}`}><td>{ch.name}</td><td className="figure">{digits(ch.lumens, 3)} lm</td><td className="figure">{digits(ch.umolPerS, 3)} µmol/s</td>{c.levels && <td className="figure" data-testid="channel-level">{Math.round(100 * c.levels.level[i]!)} %</td>}</tr>)}</tbody>
          </Box>
          <Box sx={{ maxWidth: 320, mt: 1 }}>
            <FigureField label="Wanted colour" pointer="/wanted/kelvin" quantity="colourTemperature" value={kelvin} fallback="any" onChange={(x, done) => done && setKelvin(x)} />
            <FigureField label="Wanted photons, of what there are" pointer="/wanted/share" quantity="fraction" value={share} fallback="all" onChange={(x, done) => done && setShare(x)} />
          </Box>
          {turnedTo && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => tryOut(turnedTo, 'Channels at their levels')}>Try these levels</Button>}
          {c.levels && <Box sx={{ fontSize: 13, mt: 0.5 }}>{c.levels.words[0]?.toUpperCase()}{c.levels.words.slice(1)}: <span className="figure">{(100 * (1 + c.levels.off)).toFixed(0)} %</span> of the photons wanted{kelvin !== undefined && <>, <span className="figure">{c.levels.apart.toFixed(4)}</span> from the colour (0.005 is just seen)</>}. A level is of light; current is about the same, and a little less is needed.</Box>}
        </>
      )}
    </Box>
  )
}
