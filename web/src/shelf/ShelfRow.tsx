import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { Link } from 'react-router'
import type { Schemas } from '../api/client'
import { SeverityMark } from '../figures/SeverityMark'
import { capital } from '../units/words'
import { useSettings } from '../settings/SettingsProvider'
import { clock, digits, show, text } from '../units/quantity'

const steps = ['idea', 'parts', 'built', 'measured']

/** One light on the shelf: its ribbon in small, its four answers, how far it has come. */
export function ShelfRow({ entry, bin, onMove }: { entry: Schemas['ShelfLight']; bin: boolean; onMove: () => void }) {
  const summary = entry.summary
  const { settings } = useSettings()
  const a = summary?.answers
  const worst = summary?.worst
  // What rests on assumptions is no surer than they are.
  const about = (summary?.assumed ?? 0) > 0
  const rough = (value: string) => (about ? `≈ ${value}` : value)
  const at = Math.max(steps.indexOf(entry.progress), 0)
  return (
    <Box component="li" sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr 1fr', md: 'minmax(190px, 1.1fr) 180px 1fr 1fr minmax(178px, 1.1fr) minmax(150px, 1.2fr) auto' }, columnGap: 2, rowGap: 0.5, alignItems: 'center', px: 2, py: 1.25, borderTop: '1px solid var(--line)', '&:first-of-type': { borderTop: 0 } }}>
      <Box>
        {bin || summary?.unreadable ? <strong>{entry.name}</strong> : <Box component={Link} to={`/lights/${entry.id}`} sx={{ fontWeight: 700, color: 'var(--ink)', fontSize: 15 }}>{entry.name}</Box>}
        <Box sx={{ display: 'flex', gap: 0.5, alignItems: 'center', fontSize: 12.5, color: 'var(--ink-soft)' }}>
          {steps.map((s, i) => (
            <Box key={s} aria-hidden sx={{ width: 16, height: 4, borderRadius: 2, background: i <= at ? 'var(--margin)' : 'var(--track)' }} />
          ))}
          {steps[at]}
          {about && ` · ${summary?.assumed ?? 0} assumed`}
        </Box>
      </Box>
      <Box sx={{ gridColumn: { xs: '1 / -1', md: 'auto' }, gridRow: { xs: 2, md: 'auto' } }}>{summary ? <SmallRibbon summary={summary} /> : <Box sx={{ height: 34 }} />}</Box>
      <Answer name="Output" value={a?.fluxLm != null ? rough(`${digits(a.fluxLm, about ? 2 : 3)} lm`) : '—'} />
      <Answer name="Runtime" value={a && (a.halfS ?? a.endS) != null ? rough(clock(about ? Number((a.halfS ?? a.endS ?? 0).toPrecision(2)) : a.halfS ?? a.endS ?? 0)) : a?.runtimeWhy === 'it runs from a supply' ? 'supply' : '—'} />
      <Answer name="Hottest" value={a?.junctionC != null ? `${text(show(a.junctionC, 'temperature', settings))}${a.touchC != null ? ` · ${show(a.touchC, 'temperature', settings).number} touch` : ''}` : a?.touchC != null ? `${text(show(a.touchC, 'temperature', settings))} touch` : '—'} />
      <Box sx={{ display: 'flex', gap: 1, fontSize: 13, lineHeight: 1.3 }}>
        {summary?.unreadable && (
          <>
            <SeverityMark severity="stop" />
            <span>
              This document cannot be read ({summary.unreadable}). It is kept as it is: <a href={`/api/lights/${entry.id}/raw`} download>download its text</a>.
            </span>
          </>
        )}
        {worst && (
          <>
            <SeverityMark severity={worst.severity} />
            <span>{worst.title}</span>
          </>
        )}
        {!summary && 'Being worked out…'}
      </Box>
      <Box sx={{ gridColumn: { xs: 2, md: 'auto' }, gridRow: { xs: 1, md: 'auto' }, justifySelf: 'end', display: 'flex' }}>
        {!summary?.unreadable && (
          <Button component="a" href={`/api/lights/${entry.id}/file`} download color="inherit" sx={{ color: 'var(--ink-soft)', minWidth: 0 }} aria-label={`Light file of ${entry.name}`} title="Take this light out as a file">
            File
          </Button>
        )}
        <Button color="inherit" sx={{ color: 'var(--ink-soft)' }} onClick={onMove} aria-label={bin ? `Put back: ${entry.name}` : `To the bin: ${entry.name}`}>
          {bin ? 'Put back' : 'To the bin'}
        </Button>
      </Box>
    </Box>
  )
}

function Answer({ name, value }: { name: string; value: string }) {
  return (
    <Box sx={{ minWidth: 0 }}>
      <Box sx={{ fontSize: 12, color: 'var(--ink-soft)' }}>{name}</Box>
      <Box className="figure" sx={{ fontSize: 16, fontWeight: 600 }}>
        {value}
      </Box>
    </Box>
  )
}

function SmallRibbon({ summary }: { summary: Schemas['Summary'] }) {
  const { inputW: input, lightW: lit } = summary
  if (input <= 0) return <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)' }}>{capital(summary.darkWhy ?? 'no power flows')}</Box>
  const h = 26
  const light = Math.max((lit / input) * h, lit > 0 ? 1.5 : 0)
  return (
    <Box sx={{ position: 'relative' }}>
      <Box className="figure" sx={{ position: 'absolute', left: 8, top: 4, fontSize: 12.5 }}>{`${input.toFixed(1)} W`}</Box>
      <svg width="100%" height="34" viewBox="0 0 200 34" preserveAspectRatio="none" role="img" aria-label={`${input.toFixed(1)} W in, ${lit.toFixed(1)} W light, the rest heat`}>
      <rect x="0" y="0" width="90" height={h} fill="var(--power-flow)" />
      <path d={`M90,0 L200,0 L200,${light} L90,${light} Z`} fill="var(--light-flow)" />
      <path d={`M90,${light} C150,${light} 150,${34 - (h - light)} 200,${34 - (h - light)} L200,34 C120,34 150,${h} 90,${h} Z`} fill="var(--heat-flow)" />
      </svg>
    </Box>
  )
}
