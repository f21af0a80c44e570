import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { Drawing } from './useBand'

/** How far a band is drawn, with a way to stop it, and to begin anew. */
export function Drawn({ of }: { of: Drawing }) {
  return (
    <Box role="status" sx={{ display: 'flex', gap: 1, alignItems: 'baseline', color: 'var(--ink-soft)', fontSize: 13 }}>
      {of.why ? of.why : of.stopped ? 'It is not drawn how sure that is.' : of.step && of.step.of > 0 ? <span><span className="figure">{of.step.done}</span> of <span className="figure">{of.step.of}</span> lights like this one are drawn…</span> : 'Lights like this one are drawn within the tolerances of their parts…'}
      {of.stopped || of.why ? <Button sx={{ p: 0, minWidth: 0 }} onClick={of.again}>Draw it</Button> : of.step && <Button sx={{ p: 0, minWidth: 0 }} onClick={of.stop}>Stop</Button>}
    </Box>
  )
}
