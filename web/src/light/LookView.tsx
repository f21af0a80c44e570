import Box from '@mui/material/Box'
import { useState } from 'react'
import type { Light } from '../api/client'
import type { Change } from '../document/store'
import { capital } from '../units/words'
import { clock } from '../units/quantity'
import { AreaView } from './AreaView'
import { AroundView } from './AroundView'
import { BeamView } from './BeamView'
import { TankPictures } from './TankPictures'
import { TargetLine } from './TargetLine'
import { useLook } from '../solved/useLook'

interface Props {
  light: Light
  variant: number
  at: string
  change: Change
  tryOut: (light: Light, label: string) => void
}

const titles = { beam: 'The beam', area: 'Over the area', around: 'Round it', strip: 'Along the strip', tank: 'In the tank' }

/** Where the light goes: one picture, by what is asked of it. */
export function LookView({ light, variant, at, change, tryOut }: Props) {
  const [held, setHeld] = useState<Light>()
  const shown = held ?? light
  const found = useLook(shown, variant)
  if (found.isError) return <Box role="alert" sx={{ color: 'var(--ink-soft)' }}>{found.error.message}</Box>
  const look = found.data
  if (!look) return <Box sx={{ color: 'var(--ink-soft)' }}>The picture follows.</Box>
  return (
    <Box data-testid="look" aria-busy={found.isPlaceholderData}>
      <Box component="h2" sx={{ fontSize: 14, m: 0, mb: 0.5 }}>
        {titles[look.kind]} <span style={{ fontWeight: 400, color: 'var(--ink-soft)' }}>{!look.dark && <>at {clock(look.atS)}</>}{look.taken.length > 0 && `; taken: ${look.taken.join(', ')}`}</span>
      </Box>
      {look.dark && <Box sx={{ color: 'var(--ink-soft)' }}>{capital(look.dark)}.</Box>}
      {look.fault && <Box role="alert" sx={{ color: 'var(--caution-ink)' }}>{capital(look.fault)}.</Box>}
      {look.unknown && (look.kind === 'tank' || light.brief.ppfdUmolPerM2S !== undefined) && <Box sx={{ color: 'var(--caution-ink)', fontSize: 13 }}>Photons cannot be told: the spectrum of {look.unknown} is not known. Give it under Emitters.</Box>}
      <TargetLine look={look} light={light} variant={variant} at={at} tryOut={tryOut} />
      {look.beam && <BeamView look={look} light={light} variant={variant} at={at} tryOut={tryOut} />}
      {(look.area ?? look.strip) && <AreaView look={look} light={shown} still={light} variant={variant} at={at} change={change} onHold={setHeld} tryOut={tryOut} />}
      {look.around && <AroundView look={look} light={light} variant={variant} at={at} tryOut={tryOut} />}
      {look.tank && <TankPictures look={look} light={shown} variant={variant} at={at} change={change} onHold={setHeld} />}
    </Box>
  )
}
