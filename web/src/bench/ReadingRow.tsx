import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { memo } from 'react'
import type { Schemas } from '../api/client'
import type { Done } from '../document/readings'
import { FigureField } from '../figures/FigureField'
import { useSettings } from '../settings/SettingsProvider'
import { digits, show, text, within } from '../units/quantity'
import { BandBar } from './BandBar'
import { typedAs, verdicts } from './quantities'

export type BenchRow = Schemas['BenchRow']

interface Props {
  row: BenchRow
  number: number
  open: boolean
  onOpen: () => void
  onRecord: (is: Partial<Done>, done: boolean) => void
  onMove: (slip: Schemas['Slip']) => void
  onTake: (r: Schemas['Replacement']) => void
  onNext: () => void
  /** Reads it with an instrument; undefined: none can. */
  onRead: (() => void) | undefined
  busy: boolean
  /** What was read in the sitting it is set beside. */
  before: number | undefined
}

/** By how much of the light before a change is seen by eye (common practice: a quarter). */
const seenShare = 0.25

/** The change from one reading to the next, in words. */
function since(before: number, now: number, quantity: string): string {
  if (quantity === 'temperature') return `${now >= before ? '+' : '−'}${digits(Math.abs(now - before), 2)} K`
  if (before === 0) return ''
  const share = now / before - 1
  return `${share >= 0 ? '+' : '−'}${Math.abs(share * 100).toFixed(1)} %${quantity === 'light' || quantity === 'illuminance' ? (Math.abs(share) >= seenShare ? ', seen by eye' : ', hardly seen') : ''}`
}

const grid = { display: 'grid', gridTemplateColumns: { xs: '22px minmax(0, 1fr)', md: '22px minmax(0, 1fr) 128px 128px 132px' }, columnGap: 1, alignItems: 'start' }

/** One thing to do or read: what is expected as a mark with its band, what was read as a second mark, what the two say. */
export const ReadingRow = memo(function ReadingRow({ row, number, open, onOpen, onRecord, onMove, onTake, onNext, onRead, busy, before }: Props) {
  const { settings } = useSettings()
  const r = row.reading
  const quantity = typedAs(r?.quantity ?? '')
  const say = (x: number) => text(show(x, quantity, settings))
  const verdict = r?.calculated ? verdicts[r.calculated] : undefined
  const tool = row.tools.find((t) => t.id === r?.tool)
  const moved = row.done?.to
  // A row that is pressed opens once the button is let go: sooner, what is pressed would move away.
  return (
    <Box component="li" data-row={`${row.node}/${row.step}`} aria-current={open ? 'step' : undefined} onFocus={(e) => e.target.matches(':focus-visible') && onOpen()} onClick={onOpen} sx={{ borderTop: '1px solid var(--line)', py: 0.5, background: open ? 'var(--wash)' : 'none' }}
      onKeyDown={(e) => {
        if (e.key === 'Enter' && (e.target as HTMLElement).matches('input:not([type=checkbox])')) onNext()
      }}>
      {row.caution && <Box sx={{ fontSize: 13, color: 'var(--caution-ink)', pl: 3.75 }}>▲ {row.caution}</Box>}
      <Box sx={grid}>
        <input type="checkbox" checked={row.ticked || r?.actual != null} disabled={r?.actual != null} onChange={(e) => onRecord({ ticked: e.target.checked || undefined }, true)} aria-label={`Step ${number} done`} style={{ marginTop: 3 }} />
        <Box sx={{ fontSize: 14, gridColumn: r ? 'auto' : '2 / -1' }}>
          <Box component="span" className="figure" sx={{ color: 'var(--ink-soft)', mr: 0.75 }}>{number}</Box>
          <Box component="span" sx={{ color: row.ticked && !r ? 'var(--ink-soft)' : 'inherit' }}>{row.do}</Box>
        </Box>
        {r && (
          <>
            <Box sx={{ gridColumn: { xs: '2', md: 'auto' }, mt: { xs: 0.5, md: 0.25 } }}>
              {!r.open && <BandBar expected={r.expected} within={r.within} actual={r.actual ?? undefined} wanted={r.wanted ?? undefined} tone={verdict?.tone ?? 'var(--ink)'} label={`expected ${r.atLeast ? 'at least ' : ''}${say(r.expected)} within ${text(within(r.within, r.expected, quantity, settings))}${r.actual == null ? '' : `, read ${say(r.actual)}`}`} />}
              <Box className="figure" sx={{ fontSize: 12.5, whiteSpace: 'nowrap' }}>{r.open ? <Box component="span" sx={{ color: 'var(--ink-soft)' }}>not known: read it</Box> : <>{r.atLeast && '≥ '}{say(r.expected)} <Box component="span" sx={{ color: 'var(--ink-soft)' }}>± {text(within(r.within, r.expected, quantity, settings))}</Box></>}</Box>
            </Box>
            <Box sx={{ gridColumn: { xs: '2', md: 'auto' }, '& label': { position: 'absolute', clip: 'rect(0 0 0 0)' }, '& input': { width: '100%' } }}>
              <FigureField label={`${r.what}, read`} pointer={`reading/${row.node}/${row.step}`} quantity={quantity} value={row.done?.reading ?? undefined} fallback="type it" onChange={(reading, done) => onRecord({ reading, to: reading === undefined ? undefined : row.done?.to, with: tool?.id, sure: undefined }, done)} />
              {onRead && <Button sx={{ p: 0, minWidth: 0, fontSize: 12, mr: 1 }} disabled={busy} onClick={onRead}>{busy ? 'reads…' : 'Read'}</Button>}
              {open && row.done?.reading !== undefined && moved === undefined && <Button sx={{ p: 0, minWidth: 0, fontSize: 12 }} onClick={() => onRecord({ to: row.done?.reading }, true)}>it moves…</Button>}
              {before !== undefined && <Box data-before sx={{ fontSize: 12, color: 'var(--ink-soft)' }}>before <span className="figure">{say(before)}</span>{r.actual != null && <>, <span className="figure">{since(before, r.actual, r.quantity)}</span></>}</Box>}
              {moved !== undefined && <FigureField label={`${r.what}, moved to`} pointer={`reading/${row.node}/${row.step}/to`} quantity={quantity} value={moved} fallback="stood" onChange={(to, done) => onRecord({ to }, done)} />}
            </Box>
            <Box sx={{ gridColumn: { xs: '2', md: 'auto' }, fontSize: 13 }} data-testid="verdict">
              {verdict && <Box sx={{ color: verdict.tone }}><span aria-hidden>{verdict.shape}</span> {verdict.word}</Box>}
              {r.asWanted && <Box sx={{ fontSize: 12, color: r.asWanted === 'as wanted' ? 'var(--margin-ink)' : 'var(--caution-ink)' }}>{r.asWanted}</Box>}
            </Box>
          </>
        )}
      </Box>
      {r?.ask && (
        <Box role="group" aria-label="A slip?" sx={{ pl: 3.75, fontSize: 13, display: 'flex', gap: 1.5, flexWrap: 'wrap', alignItems: 'baseline' }}>
          <Box sx={{ color: 'var(--caution-ink)' }}>{r.ask.why}</Box>
          <Button sx={{ p: 0, minWidth: 0 }} onClick={() => onMove(r.ask)}>{r.ask.row ? 'It was that' : say(r.ask.value)}</Button>
          <Button sx={{ p: 0, minWidth: 0 }} onClick={() => onRecord({ sure: true }, true)}>It is {r.actual == null ? 'so' : say(r.actual)}</Button>
        </Box>
      )}
      {r?.replaces && <Box sx={{ pl: 3.75, fontSize: 13 }}><Button sx={{ p: 0, minWidth: 0 }} onClick={() => onTake(r.replaces)}>Take {r.replaces.label}</Button></Box>}
      {!open && row.done?.note && <Box sx={{ pl: 3.75, fontSize: 12.5, color: 'var(--ink-soft)' }}>{row.done.note}</Box>}
      {open && r && (
        <Box sx={{ pl: 3.75, pt: 0.25, fontSize: 12.5, color: 'var(--ink-soft)', display: 'flex', gap: 1, flexWrap: 'wrap', alignItems: 'baseline' }}>
          <label>
            With{' '}
            <select aria-label="Read with" value={r.tool} onChange={(e) => onRecord({ with: e.target.value }, true)} style={{ font: 'inherit', border: 0, background: 'none', color: 'var(--power-ink)' }}>
              {row.tools.map((t) => <option key={t.id} value={t.id}>{t.name} ± {text(within(t.within, r.expected, quantity, settings))}{t.have ? '' : ', not at hand'}</option>)}
            </select>
          </label>
          {tool && tool.range > 0 && !r.open && <span>range {say(tool.range)}</span>}
          {tool?.care && <span>{tool.care}</span>}
          <Box component="input" aria-label="Remark" key={row.done?.note ?? ''} defaultValue={row.done?.note ?? ''} placeholder="remark" maxLength={300} onBlur={(e: React.FocusEvent<HTMLInputElement>) => e.target.value.trim() !== (row.done?.note ?? '') && onRecord({ note: e.target.value.trim() || undefined }, true)} sx={{ flex: '1 1 120px', minWidth: 0, font: 'inherit', border: 0, borderBottom: '1px dotted var(--line)', background: 'none', color: 'var(--power-ink)' }} />
        </Box>
      )}
    </Box>
  )
})
