import type { Schemas } from '../api/client'

export type Cell = Schemas['Found']
type Lot = Schemas['Lot']

/** The columns of the table, as people log a cell. */
export const columns: { key: 'printedAh' | 'measuredAh' | 'resistanceOhm' | 'foundV' | 'restingV' | 'restDays'; name: string; quantity: string; bare: string; from: number; scale: number; unit: string }[] = [
  { key: 'printedAh', name: 'Printed', quantity: 'charge', bare: 'mAh', from: 50, scale: 1000, unit: 'mAh' },
  { key: 'measuredAh', name: 'Measured', quantity: 'charge', bare: 'mAh', from: 50, scale: 1000, unit: 'mAh' },
  { key: 'resistanceOhm', name: 'Resistance', quantity: 'resistance', bare: 'mΩ', from: 2, scale: 1000, unit: 'mΩ' },
  { key: 'foundV', name: 'Found at', quantity: 'voltage', bare: 'V', from: Infinity, scale: 1, unit: 'V' },
  { key: 'restingV', name: 'After rest', quantity: 'voltage', bare: 'V', from: Infinity, scale: 1, unit: 'V' },
  { key: 'restDays', name: 'Days', quantity: 'count', bare: '', from: Infinity, scale: 1, unit: '' },
]

export const looks = { '': 'not looked at', good: 'good', 'wrap-torn': 'wrap torn', rust: 'rust', dent: 'dent', leak: 'leaks', hot: 'became hot' }
export const gradeWord: Record<string, string> = { A: 'A', B: 'B', reject: 'rejected', open: 'open' }
export const gradeTone: Record<string, string> = { A: 'var(--margin-ink)', B: 'var(--caution-ink)', reject: 'var(--stop)', open: 'var(--ink-soft)' }
export const gradeSign: Record<string, string> = { A: '●', B: '◐', reject: '✕', open: '○' }

/** The next number that no cell has. */
export function freshLabel(cells: Cell[]): string {
  const last = /^(.*?)(\d+)$/.exec(cells.at(-1)?.label ?? '')
  const has = new Set(cells.map((c) => c.label.toLowerCase()))
  for (let n = last ? Number(last[2]) + 1 : cells.length + 1; ; n += 1) {
    const label = `${last?.[1] ?? ''}${String(n).padStart(last?.[2]!.length ?? 1, '0')}`
    if (!has.has(label.toLowerCase())) return label
  }
}

const field = (s: string | number | undefined) => {
  const text = s === undefined ? '' : String(s)
  return /[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text
}

/** The lot as a table, as it can be pasted again. */
export const csvOf = (lot: Lot, grades: Schemas['Graded'][]): string =>
  [
    'label,printed mAh,measured mAh,resistance mΩ,found V,resting V,rest days,date,look,note,grade',
    ...lot.cells.map((c, i) => [c.label, c.printedAh && Math.round(c.printedAh * 1e4) / 10, c.measuredAh && Math.round(c.measuredAh * 1e4) / 10, c.resistanceOhm && Math.round(c.resistanceOhm * 1e5) / 100, c.foundV, c.restingV, c.restDays, c.date, c.look, c.note, grades[i]?.grade].map(field).join(',')),
  ].join('\n') + '\n'

/** Read cells put into a lot: those whose label is there already take the new figures. */
export function merged(lot: Lot, read: Cell[]): { lot: Lot; added: number; changed: number } {
  const by = new Map(read.map((c) => [c.label.toLowerCase(), c]))
  let changed = 0
  const cells = lot.cells.map((c) => {
    const more = by.get(c.label.toLowerCase())
    if (!more) return c
    by.delete(c.label.toLowerCase())
    changed += 1
    return { ...c, ...more, label: c.label }
  })
  return { lot: { ...lot, cells: [...cells, ...by.values()] }, added: by.size, changed }
}
