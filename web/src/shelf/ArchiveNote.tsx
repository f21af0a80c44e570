import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import LinearProgress from '@mui/material/LinearProgress'
import type { Schemas } from '../api/client'

/** How far something is that takes its time. */
export function Going({ word, done, of }: { word: string; done: number; of: number }) {
  return (
    <Alert severity="info" sx={{ mb: 1 }}>
      {of > 0 ? `${word}: ${done} of ${of}` : `${word}…`}
      <LinearProgress aria-label={word} variant={of > 0 ? 'determinate' : 'indeterminate'} value={of > 0 ? (100 * done) / of : 0} sx={{ mt: 0.5, width: 260 }} />
    </Alert>
  )
}

/** What an archive is doing or has done, and the question about what differs. */
export function ArchiveNote({ step, report, onBeside, onClose }: { step: Schemas['ArchiveStep'] | undefined; report: Schemas['Report'] | undefined; onBeside: () => void; onClose: () => void }) {
  if (!report)
    return <Going word={step ? 'Bringing in' : 'Reading the archive'} done={step?.done ?? 0} of={step?.of ?? 0} />
  const differ = report.differing
  const told = [
    [report.added, 'new'],
    [report.continued, 'brought on'],
    [report.there, 'there already'],
    [report.copied, 'put beside'],
  ] as const
  return (
    <Alert
      severity={differ.length > 0 ? 'warning' : 'success'}
      sx={{ mb: 1 }}
      action={
        <>
          {differ.length > 0 && <Button onClick={onBeside}>Put beside what is here</Button>}
          <Button onClick={onClose}>{differ.length > 0 ? 'Keep what is here' : 'Close'}</Button>
        </>
      }
    >
      The archive is in: {told.filter(([n], i) => n > 0 || i === 0).map(([n, word]) => `${n} ${word}`).join(', ')}.
      {differ.length > 0 && ` Left out, since it differs from what is here under the same id: ${differ.map((d) => `${d.name} (${d.kind})`).join(', ')}.`}
    </Alert>
  )
}
