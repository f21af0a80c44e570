import Box from '@mui/material/Box'
import type { ReactNode } from 'react'

export type Fill = 'asked' | 'assumed' | 'said'

/** A station of the chain: hollow with its question, hatched where it is assumed, filled by a fact. */
export function StationBox({ word, question, fill, last, children }: { word: string; question: string; fill: Fill; last: boolean; children: ReactNode }) {
  const hatch = 'repeating-linear-gradient(-45deg, transparent 0 6px, var(--hatch) 6px 8px)'
  return (
    <Box data-fill={fill} sx={{ position: 'relative', flex: { xs: '0 0 auto', md: '1 1 220px' }, minWidth: 0, border: fill === 'said' ? '2px solid var(--power)' : '2px dashed var(--line)', background: 'var(--paper)', px: 1.5, pt: 0.5, pb: 1, borderRadius: 1 }}>
      <Box aria-hidden sx={{ height: 10, mx: -1.5, mt: -0.5, mb: 0.75, background: fill === 'said' ? 'var(--power-flow)' : fill === 'assumed' ? hatch : 'none', borderBottom: '1px solid var(--line)' }} />
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1 }}>
        <Box component="h2" sx={{ fontSize: 15, m: 0 }}>{question}</Box>
        <Box sx={{ ml: 'auto', fontSize: 12, color: 'var(--ink-soft)' }}>{word}{fill === 'assumed' ? ' · assumed' : ''}</Box>
      </Box>
      {children}
      {!last && (
        <Box component="svg" aria-hidden viewBox="0 0 18 20" sx={{ position: 'absolute', right: -19, top: '40%', width: 18, height: 20, display: { xs: 'none', md: 'block' } }}>
          <path d="M0,5 L9,5 L9,0 L18,10 L9,20 L9,15 L0,15 Z" fill={fill === 'said' ? 'var(--power)' : 'var(--track)'} />
        </Box>
      )}
    </Box>
  )
}
