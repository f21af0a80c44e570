import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { ReactNode } from 'react'
import type { Schemas } from '../api/client'

type Matched = Schemas['Candidate']

const mark = { fits: ['●', 'fits', 'var(--margin-ink)'], nearly: ['◐', 'nearly', 'var(--caution-ink)'], 'not-yet': ['?', 'open', 'var(--ink-soft)'], no: ['○', 'no', 'var(--ink-soft)'] } as const

/** One candidate: how well it does, in one line why not better, and the way to try it. */
export function MatchRow({ m, inUse, facts, gives, onTry }: { m: Matched; inUse: boolean; facts: string; gives: ReactNode; onTry: () => void }) {
  const [sign, word, tone] = mark[m.fit]
  return (
    <Box component="li" sx={{ display: 'grid', gridTemplateColumns: '58px minmax(0, 1fr) auto', gap: 1, alignItems: 'baseline', borderTop: '1px solid var(--line)', py: 0.4 }}>
      <Box sx={{ color: tone, fontSize: 13, whiteSpace: 'nowrap' }}>
        {sign} {word}
      </Box>
      <Box>
        {m.part.name}
        {inUse && <Box component="span" sx={{ color: 'var(--power-ink)', fontSize: 13 }}> · in use</Box>}
        <Box sx={{ color: m.why ? tone : 'var(--ink-soft)', fontSize: 13 }}>
          {m.why || <span className="figure">{facts}</span>}
          {m.fit !== 'no' && <span className="figure">{gives}</span>}
        </Box>
      </Box>
      <Box sx={{ fontSize: 13, color: 'var(--ink-soft)', whiteSpace: 'nowrap' }}>
        {m.cabinet && ((m.needs ?? 1) > m.stock ? <Box component="span" sx={{ color: 'var(--caution-ink)' }}>{m.stock} of {m.needs}</Box> : `${m.stock} ×`)}{' '}
        {!inUse && m.fit !== 'no' && (
          <Button sx={{ minWidth: 0, p: 0 }} aria-label={`Try it: ${m.part.name}`} onClick={onTry}>
            Try it
          </Button>
        )}
      </Box>
    </Box>
  )
}

/** How many candidates do how well. */
export function MatchCount({ list, children }: { list: Matched[]; children: ReactNode }) {
  const count = (fit: string) => list.filter((m) => m.fit === fit).length
  return (
    <Box sx={{ color: 'var(--ink-soft)', fontSize: 13, mb: 0.5 }}>
      {count('fits')} fit, {count('nearly')} nearly, {count('no')} do not: {children}
    </Box>
  )
}

export const matchKey = (m: Matched) => `${m.cabinet ?? ''}/${m.local ?? ''}`
