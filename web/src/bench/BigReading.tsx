import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import type { Schemas } from '../api/client'
import type { Done } from '../document/readings'
import { FigureField } from '../figures/FigureField'
import { useSettings } from '../settings/SettingsProvider'
import { show, text, within } from '../units/quantity'
import { BandBar } from './BandBar'
import { typedAs, verdicts } from './quantities'

type BenchRow = Schemas['BenchRow']

interface Props {
  rows: BenchRow[]
  at: number
  onAt: (at: number) => void
  onRecord: (row: BenchRow, is: Partial<Done>, done: boolean) => void
  onMove: (row: BenchRow, slip: Schemas['Slip']) => void
  /** Reads it with an instrument; undefined: none can. */
  onRead: (() => void) | undefined
  busy: boolean
  onClose: () => void
}

/** One step at a time, its caution first, its figures to be read from across the bench. */
export function BigReading({ rows, at, onAt, onRecord, onMove, onRead, busy, onClose }: Props) {
  const { settings } = useSettings()
  const row = rows[at]
  if (!row) return null
  const r = row.reading
  const quantity = typedAs(r?.quantity ?? '')
  const say = (x: number) => text(show(x, quantity, settings))
  const verdict = r?.calculated ? verdicts[r.calculated] : undefined
  return (
    <Dialog open fullScreen onClose={onClose} slotProps={{ paper: { sx: { p: { xs: 2, md: 5 }, background: 'var(--paper)', display: 'flex', flexDirection: 'column', gap: 2 } } }} aria-label="One reading at a time">
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'center' }}>
        <Box sx={{ color: 'var(--ink-soft)' }}><span className="figure">{at + 1}</span> of <span className="figure">{rows.length}</span></Box>
        <Button sx={{ ml: 'auto' }} onClick={onClose}>Back to the list</Button>
      </Box>
      {row.caution && <Box sx={{ color: 'var(--caution-ink)', fontSize: { xs: 17, md: 26 } }}>▲ {row.caution}</Box>}
      <Box sx={{ fontSize: { xs: 18, md: 30 } }}>{row.do}</Box>
      {r ? (
        <>
          {!r.open && <Box className="figure" sx={{ fontSize: { xs: 40, md: 84 }, lineHeight: 1.1 }}>{r.atLeast && '≥ '}{say(r.expected)} <Box component="span" sx={{ fontSize: '0.5em', color: 'var(--ink-soft)' }}>± {text(within(r.within, r.expected, quantity, settings))} expected</Box></Box>}
          {!r.open && <Box sx={{ maxWidth: 700, transform: { md: 'scaleY(1.8)' } }}><BandBar expected={r.expected} within={r.within} actual={r.actual ?? undefined} wanted={r.wanted ?? undefined} tone={verdict?.tone ?? 'var(--ink)'} label="expected and read" /></Box>}
          <Box sx={{ '& input': { fontSize: { xs: 40, md: 84 }, height: 'auto' }, '& span:has(> input)': { width: { xs: '60vw', md: 560 } }, '& label': { fontSize: { xs: 18, md: 30 } } }}>
            <FigureField key={`${row.node}/${row.step}`} label="read" pointer={`big/${row.node}/${row.step}`} quantity={quantity} value={row.done?.reading ?? undefined} fallback="type it" onChange={(reading, done) => onRecord(row, { reading, to: undefined, with: r.tool, sure: undefined }, done)} />
          </Box>
          {onRead && <Button variant="outlined" size="large" sx={{ alignSelf: 'end', fontSize: { xs: 17, md: 24 } }} disabled={busy} onClick={onRead}>{busy ? 'reads…' : 'Read'}</Button>}
          {verdict && <Box data-testid="verdict" sx={{ fontSize: { xs: 34, md: 64 }, color: verdict.tone }}><span aria-hidden>{verdict.shape}</span> {verdict.word}</Box>}
          {r.ask && (
            <Box role="group" aria-label="A slip?" sx={{ color: 'var(--caution-ink)', fontSize: { xs: 17, md: 24 }, '& button': { fontSize: 'inherit', minWidth: 0, ml: 1 } }}>
              {r.ask.why}
              <Button onClick={() => onMove(row, r.ask)}>{r.ask.row ? 'It was that' : say(r.ask.value)}</Button>
              <Button onClick={() => onRecord(row, { sure: true }, true)}>It is {r.actual == null ? 'so' : say(r.actual)}</Button>
            </Box>
          )}
        </>
      ) : (
        <Box component="label" sx={{ fontSize: { xs: 22, md: 36 }, display: 'flex', gap: 1.5 }}><input type="checkbox" checked={row.ticked} onChange={(e) => onRecord(row, { ticked: e.target.checked || undefined }, true)} style={{ width: 28, height: 28 }} />done</Box>
      )}
      <Box sx={{ mt: 'auto', display: 'flex', gap: 2 }}>
        <Button variant="outlined" size="large" disabled={at === 0} onClick={() => onAt(at - 1)} sx={{ flex: 1, py: 1.5 }}>Before</Button>
        <Button variant="outlined" size="large" disabled={at === rows.length - 1} onClick={() => onAt(at + 1)} sx={{ flex: 2, py: 1.5 }}>Next</Button>
      </Box>
    </Dialog>
  )
}
