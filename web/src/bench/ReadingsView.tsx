import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useState } from 'react'
import type { Light, Schemas } from '../api/client'
import { taken } from '../document/assumed'
import { recorded, type Done } from '../document/readings'
import type { Change } from '../document/store'
import { BigReading } from './BigReading'
import { ReadingRow, type BenchRow } from './ReadingRow'

type Plan = Schemas['ReadingPlan']

interface Props {
  plan: Plan
  variant: number
  change: Change
  ways: Record<string, string>
  onWays: (ways: Record<string, string>) => void
  open: string
  onOpen: (row: string) => void
  /** Whether an instrument at hand reads a row, which one is being read, and reading one. */
  canRead: (row: BenchRow) => boolean
  /** Readings of another sitting that these are set beside. */
  before: Done[] | undefined
  reading: string
  onRead: (row: BenchRow) => void
}

export const keyOf = (row: { node: string; step: string }) => `${row.node}/${row.step}`

/** Puts the cursor where a row's reading is typed; a row without one is ticked there. */
export function goToRow(key: string) {
  const row = document.querySelector<HTMLElement>(`[data-row=${CSS.escape(key)}]`)
  const field = row?.querySelector<HTMLElement>('input:not([type=checkbox])') ?? row?.querySelector<HTMLElement>('input')
  field?.focus()
  row?.scrollIntoView({ block: 'nearest' })
}

/** The readings of a light in the order of its bring-up. */
export function ReadingsView({ plan, variant, change, ways, onWays, open, onOpen, canRead, before, reading, onRead }: Props) {
  const rows = plan.stages.flatMap((s) => s.rows)
  const [big, setBig] = useState<number>()
  const record = (row: { node: string; step: string }, is: Partial<Done>, done: boolean) => change((l) => recorded(l, variant, row.node, row.step, is), 'Reading', done)
  const next = (row: BenchRow) => {
    const at = rows.findIndex((r) => r === row)
    const after = rows.slice(at + 1).find((r) => r.reading)
    if (after) setTimeout(() => goToRow(keyOf(after)))
  }
  const move = (row: BenchRow, slip: Schemas['Slip']) => {
    if (!slip.row) return record(row, { reading: slip.value, to: undefined, sure: undefined }, true)
    const to = rows.find((r) => keyOf(r) === slip.row)
    if (to) change((l) => recorded(recorded(l, variant, row.node, row.step, { reading: undefined, to: undefined, with: undefined }), variant, to.node, to.step, { reading: slip.value }), 'Reading moved')
  }
  const large = big === undefined ? undefined : rows[Math.min(big, rows.length - 1)]
  if (rows.length === 0) return <Box sx={{ mt: 1.5, maxWidth: 460, color: 'var(--ink-soft)' }}>There is nothing to measure yet: say what feeds this light and what shines, and the readings stand here in the order to take them.</Box>
  let number = 0
  return (
    <Box data-testid="readings">
      <Button sx={{ p: 0, minWidth: 0, mt: 1, fontSize: 13 }} onClick={() => setBig(Math.max(0, rows.findIndex((r) => keyOf(r) === open || (open === '' && r.reading?.actual == null && !r.ticked))))}>One at a time, large</Button>
      {large && <BigReading rows={rows} at={rows.indexOf(large)} onAt={setBig} onRecord={record} onMove={move} onRead={canRead(large) ? () => onRead(large) : undefined} busy={reading === keyOf(large)} onClose={() => setBig(undefined)} />}
      {plan.stages.map((s) => (
        <Box key={s.name} component="section" aria-label={s.name} sx={{ mt: 1.5 }}>
          <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1, flexWrap: 'wrap' }}>
            <Box component="h2" sx={{ fontSize: 14, m: 0 }}>{s.name}</Box>
            {s.ways.length > 1 && (
              <select aria-label={`Way of ${s.name}`} value={s.way} onChange={(e) => onWays({ ...ways, [s.rows[0]!.node]: e.target.value })} style={{ font: 'inherit', fontSize: 13, border: 0, background: 'none', color: 'var(--power-ink)' }}>
                {s.ways.map((w) => <option key={w}>{w}</option>)}
              </select>
            )}
          </Box>
          {s.caution && <Box sx={{ fontSize: 13, color: 'var(--caution-ink)' }}>▲ {s.caution}</Box>}
          <Box component="ol" sx={{ listStyle: 'none', m: 0, p: 0 }}>
            {s.rows.map((row) => {
              number++
              const key = keyOf(row)
              return (
                <ReadingRow key={key} row={row} number={number} open={open === key} onOpen={() => onOpen(key)} onRead={canRead(row) ? () => onRead(row) : undefined} busy={reading === key} before={before?.find((d) => d.node === row.node && d.step === row.step)?.reading} onNext={() => next(row)} onRecord={(is, done) => record(row, is, done)} onMove={(slip) => move(row, slip)}
                  onTake={(r) => change((l: Light) => taken(l, variant, r), `Measured: ${r.label}`)} />
              )
            })}
          </Box>
        </Box>
      ))}
    </Box>
  )
}
