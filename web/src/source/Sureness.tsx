import Box from '@mui/material/Box'
import { Drawn } from '../solved/Drawn'
import type { Drawing } from '../solved/useBand'
import { clock } from '../units/quantity'

/** The band of the time solve on the schools' own axis, and what matters most for it. */
export function Sureness({ drawing, longestH }: { drawing: Drawing; longestH: number }) {
  const band = drawing.band
  const span = band?.ranges['endS']
  const causes = (band?.causes['endS'] ?? []).slice(0, 4)
  if (!band) return <Drawn of={drawing} />
  if (!span) return null
  const at = (s: number) => Math.min(100, (s / 3600 / longestH) * 100)
  return (
    <Box data-testid="runtime-band" sx={{ fontSize: 13 }}>
      <Box sx={{ display: 'grid', gridTemplateColumns: '190px 1fr 84px', gap: 1, alignItems: 'center' }}>
        <Box>eight of ten like this</Box>
        <Box aria-hidden sx={{ height: 9, position: 'relative' }}><Box sx={{ position: 'absolute', top: 3, height: 3, left: `${at(span.low)}%`, width: `${Math.max(at(span.high) - at(span.low), 0.5)}%`, background: 'var(--ink)' }} /></Box>
        <Box />
      </Box>
      <Box sx={{ color: 'var(--ink-soft)' }}>between <span className="figure">{clock(span.low)}</span> and <span className="figure">{clock(span.high)}</span>{causes.length > 0 && '; what matters most:'}</Box>
      {causes.map((c) => (
        <Box key={c.pointer} sx={{ display: 'grid', gridTemplateColumns: '190px 1fr 84px', gap: 1, alignItems: 'center', fontSize: 12.5 }}>
          <Box sx={{ color: 'var(--ink-soft)' }}>{c.label}{c.assumed && ', assumed'}</Box>
          <Box aria-hidden sx={{ height: 6, background: 'var(--track)' }}><Box sx={{ height: 6, width: `${c.share * 100}%`, background: c.assumed ? 'var(--caution)' : 'var(--margin)' }} /></Box>
          <Box className="figure" sx={{ textAlign: 'right' }}>{(c.share * 100).toFixed(0)} %</Box>
        </Box>
      ))}
    </Box>
  )
}
