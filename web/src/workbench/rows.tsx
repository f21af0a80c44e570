import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { LightNode } from '../api/client'
import type { PartKind } from '../parts/description'
import { amps, digits } from '../units/quantity'
import { ReadRow } from '../figures/FigureField'
import { nodeName } from '../document/names'
import { chosenOf, partOf, timesOf, type Placed } from '../document/tree'
import { useAnyFigures, useFigures, useSolution } from '../solved/useSolved'
import type { WorkbenchProps } from './fields'

/** A computed figure with its unit; a dash where there is none. */
export const x = (n: number | undefined, unit: string, figures = 3) => (n === undefined ? '—' : unit === 'A' ? amps(n, figures) : `${digits(n, figures)} ${unit}`)

/** A row with figures of one thing, each with its unit, at the clock's instant; nothing before there are any. */
export function Reading({ label, of, figures, tone }: { label: string; of: string; figures: [name: string, unit: string][]; tone?: string }) {
  const values = useFigures(of, ...figures.map(([name]) => name))
  if (!useAnyFigures(of)) return null
  return <ReadRow label={label} tone={tone}>{figures.map(([name, unit]) => x(values[name], unit)).join(' · ')}</ReadRow>
}

/** The part in use, or what is still to be chosen, with the way to change it. */
export function PartLine({ work, kind, id, usedAt, empty, optional }: { work: WorkbenchProps; kind: PartKind; id: string | undefined; usedAt: string; empty: string; optional?: boolean }) {
  const part = partOf(work.light, id)?.part
  const needed = useSolution((s) => (part ? s.needs[part.id] : undefined)) ?? 1
  return (
    <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1, borderBottom: '1px solid var(--line)', py: 0.35 }}>
      <Box sx={{ flex: 1, fontWeight: part ? 600 : 400, color: part ? 'inherit' : optional ? 'var(--ink-soft)' : 'var(--caution-ink)' }}>
        {part?.name ?? empty}
        {part && needed > 1 && <Box component="span" sx={{ ml: 1, fontSize: 11.5, fontWeight: 400, color: 'var(--ink-soft)' }}>{needed} of it</Box>}
        {part?.basis && <Box component="span" sx={{ ml: 1, fontSize: 11.5, fontWeight: 400, color: 'var(--ink-soft)' }}>{part.basis}</Box>}
      </Box>
      <Button data-pointer={usedAt} sx={{ p: 0, minWidth: 0 }} onClick={() => work.onParts(kind, usedAt)}>
        {part ? 'Change…' : 'Choose…'}
      </Button>
    </Box>
  )
}

/** Where there are several of a kind, one is chosen; the workbench is about that one. */
export function Chooser({ work, label, list }: { work: WorkbenchProps; label: string; list: Placed[] }) {
  const open = chosenOf(list, work.chosen)
  if (list.length < 2) return null
  return (
    <Box role="group" aria-label={label} sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5, mb: 0.5 }}>
      {list.map((p) => (
        <Button key={p.node.id} aria-pressed={p === open} variant={p === open ? 'outlined' : 'text'} sx={{ borderRadius: 4, py: 0, minWidth: 0 }} onClick={() => work.onChoose(p.node.id)}>
          {nodeName(p.node)}
        </Button>
      ))}
    </Box>
  )
}

/** Says that a place is empty, with the way to fill it. */
export function ToTree({ work, children }: { work: WorkbenchProps; children: string }) {
  return (
    <Box sx={{ fontSize: 13, color: 'var(--ink-soft)', py: 0.5 }}>
      {children}{' '}
      <Button sx={{ p: 0, minWidth: 0, verticalAlign: 'baseline' }} onClick={work.onTree}>To the power tree</Button>
    </Box>
  )
}

/** Says of a node that there are several alike. */
export function AlikeRow({ p }: { p: Placed }) {
  const times = timesOf(p)
  return times > 1 ? <ReadRow label="Alike in this light">{`${times}; figures are of one`}</ReadRow> : null
}

/** The name of a node, where there are several of its kind. */
export const several = (list: Placed[], node: LightNode) => (list.length > 1 ? <Box component="h3" sx={{ fontSize: 13, m: 0, mt: 1.5 }}>{nodeName(node)}</Box> : null)
