import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { LightNode } from '../../api/client'
import type { PartKind } from '../../parts/figures'
import { amps, digits } from '../../units/quantity'
import { ReadRow } from '../FigureField'
import { chosenOf, nodeName, partOf, timesOf, type Placed } from '../tree'
import type { BenchProps } from './fields'

/** A computed figure with its unit; a dash where there is none. */
export const x = (n: number | undefined, unit: string, figures = 3) => (n === undefined ? '—' : unit === 'A' ? amps(n, figures) : `${digits(n, figures)} ${unit}`)

/** The part in use, or what is still to be chosen, with the way to change it. */
export function PartLine({ bench, kind, id, usedAt, empty }: { bench: BenchProps; kind: PartKind; id: string | undefined; usedAt: string; empty: string }) {
  const part = partOf(bench.light, id)?.part
  return (
    <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1, borderBottom: '1px solid var(--line)', py: 0.35 }}>
      <Box sx={{ flex: 1, fontWeight: part ? 600 : 400, color: part ? 'inherit' : 'var(--caution-ink)' }}>
        {part?.name ?? empty}
        {part && (bench.solution?.needs[part.id] ?? 1) > 1 && <Box component="span" sx={{ ml: 1, fontSize: 11.5, fontWeight: 400, color: 'var(--ink-soft)' }}>{bench.solution!.needs[part.id]} of it</Box>}
        {part?.basis && <Box component="span" sx={{ ml: 1, fontSize: 11.5, fontWeight: 400, color: 'var(--ink-soft)' }}>{part.basis}</Box>}
      </Box>
      <Button data-pointer={usedAt} sx={{ p: 0, minWidth: 0 }} onClick={() => bench.onParts(kind, usedAt)}>
        {part ? 'Change…' : 'Choose…'}
      </Button>
    </Box>
  )
}

/** Where there are several of a kind, one is chosen; the workbench is about that one. */
export function Chooser({ bench, label, list }: { bench: BenchProps; label: string; list: Placed[] }) {
  const open = chosenOf(list, bench.chosen)
  if (list.length < 2) return null
  return (
    <Box role="group" aria-label={label} sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5, mb: 0.5 }}>
      {list.map((p) => (
        <Button key={p.node.id} aria-pressed={p === open} variant={p === open ? 'outlined' : 'text'} sx={{ borderRadius: 4, py: 0, minWidth: 0 }} onClick={() => bench.onChoose(p.node.id)}>
          {nodeName(p.node)}
        </Button>
      ))}
    </Box>
  )
}

/** Says that a place is empty, with the way to fill it. */
export function ToTree({ bench, children }: { bench: BenchProps; children: string }) {
  return (
    <Box sx={{ fontSize: 13, color: 'var(--ink-soft)', py: 0.5 }}>
      {children}{' '}
      <Button sx={{ p: 0, minWidth: 0, verticalAlign: 'baseline' }} onClick={bench.onTree}>To the power tree</Button>
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
