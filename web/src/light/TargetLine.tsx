import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { memo } from 'react'
import type { Light, Schemas } from '../api/client'
import { set } from '../document/pointer'
import { digits } from '../units/quantity'
import { capital } from '../units/words'
import { dimmable, spread, turned, withOptic, withStands } from './stands'
import { useLook, type Look } from '../solved/useLook'

type Mend = Schemas['Mend']

/** Whether the light comes where it is wanted, and what would bring it. */
export const TargetLine = memo(function TargetLine({ look, light, variant, at, tryOut }: { look: Look; light: Light; variant: number; at: string; tryOut: (light: Light, label: string) => void }) {
  const r = look.target
  // What mends it is looked for where it is missed, when nothing else waits.
  const mends = useLook(light, variant, { ways: true }, r != null && !r.met).data?.target?.mends ?? []
  if (!r) return null
  const map = look.area ?? look.tank?.bottom ?? look.strip?.map ?? look.around?.map
  const with_ = (m: Mend): Light | undefined => {
    if (m.stands && m.stands.length > 0) return withStands(light, at, m.stands)
    if (m.level != null) return turned(light, dimmable(light.variants[variant]!, at), m.level)
    if (m.hoursADay != null) return set(light, '/brief/hoursADay', m.hoursADay)
    if (m.optic) return withOptic(light, light.variants[variant]!, at, m.optic)
    if (m.lights != null) return map && spread(light, at, look.stands, m.lights, map.lengthM, map.widthM)
    return undefined
  }
  return (
    <Box role="status" data-testid="target" sx={{ mb: 1 }}>
      <Box sx={{ color: r.met ? 'var(--margin-ink)' : r.tooMuch ? 'var(--caution-ink)' : 'var(--ink)', fontWeight: 600 }}>
        {r.met ? '✓ ' : r.tooMuch ? '▲ ' : '▽ '}{capital(r.words)}{r.minOverMean != null && <span style={{ fontWeight: 400, color: 'var(--ink-soft)' }}>, the darkest place {Math.round(100 * r.minOverMean)} % of that</span>}
      </Box>
      {!r.met && mends.length > 0 && (
        <Box component="ul" aria-label="What would mend it" sx={{ listStyle: 'none', m: 0, p: 0, fontSize: 13 }}>
          {mends.map((m) => {
            const then = with_(m)
            return (
              <Box component="li" key={m.label} sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', borderBottom: '1px solid var(--line)', py: 0.25 }}>
                <Box sx={{ flex: 1 }}>{capital(m.label)}{m.why && <span style={{ color: 'var(--ink-soft)' }}>; {m.why}</span>}</Box>
                {m.got != null && <span className="figure">{digits(m.got, 3)} {r.unit}</span>}
                {then && <Button sx={{ p: 0, minWidth: 0 }} onClick={() => tryOut(then, m.label)}>Try it</Button>}
              </Box>
            )
          })}
        </Box>
      )}
    </Box>
  )
})
