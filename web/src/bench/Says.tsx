import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { Schemas } from '../api/client'
import { goToRow, keyOf } from './ReadingsView'

/** What the readings say together: how many, the likely cause, what to read next. */
export function Says({ plan, onGo }: { plan: Schemas['ReadingPlan']; onGo: (pointer: string) => void }) {
  const { cause, next } = plan
  const rows = plan.stages.flatMap((s) => s.rows)
  const named = (n: Schemas['NextReading']) => rows.find((r) => r.node === n.node && r.step === n.step)?.reading?.what ?? n.step
  const count = (v: string) => rows.filter((r) => r.reading?.calculated === v).length
  return (
    <Box component="section" aria-label="What the readings say" data-testid="says">
      <Box component="h2" sx={{ fontSize: 14, m: 0 }}>What the readings say</Box>
      <Box sx={{ fontSize: 13, color: 'var(--ink-soft)' }}><span className="figure">{plan.read}</span> of <span className="figure">{plan.of}</span> taken{plan.read > 0 && `: ${count('agrees')} agree, ${count('doubtful')} doubtful, ${count('differs')} differ`}.</Box>
      {cause && (
        <Box sx={{ mt: 1, borderLeft: '3px solid var(--caution)', pl: 1 }}>
          <Box sx={{ fontWeight: 600 }}>Most likely one thing</Box>
          <Box>{upper(cause.why)}.</Box>
          <Box sx={{ fontSize: 13, color: 'var(--ink-soft)' }}>It explains {cause.explains} of the {cause.of} that differ.</Box>
          {cause.rival && <Box sx={{ fontSize: 13 }}>Or: {cause.rival}.{cause.tell && <> <Button sx={{ p: 0, minWidth: 0, verticalAlign: 'baseline' }} onClick={() => goToRow(keyOf(cause.tell))}>To tell them apart</Button>, read {cause.tell.why}.</>}</Box>}
          <Button sx={{ p: 0, minWidth: 0 }} onClick={() => onGo(cause.pointer)}>Where it is set</Button>
        </Box>
      )}
      {next && (
        <Box sx={{ mt: 1, fontSize: 13 }}>
          <Button sx={{ p: 0, minWidth: 0, textAlign: 'left' }} onClick={() => goToRow(keyOf(next))}>Read next: {named(next)}</Button>
          <Box sx={{ color: 'var(--ink-soft)' }}>{next.why}.</Box>
        </Box>
      )}
    </Box>
  )
}

const upper = (s: string) => s.slice(0, 1).toUpperCase() + s.slice(1)
