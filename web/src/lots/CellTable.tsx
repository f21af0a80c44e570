import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { memo, useState } from 'react'
import type { Schemas } from '../api/client'
import { isBare, parse } from '../units/quantity'
import { columns, gradeSign, gradeTone, gradeWord, looks, type Cell } from './cells'

type Lot = Schemas['Lot']
type Column = (typeof columns)[number]

const orders = { label: 'as they were logged', grade: 'by grade', measured: 'by capacity', resistance: 'by resistance' }

/** The log of a lot: each cell a row, graded as it is typed. */
export function CellTable({ lot, grades, wrong, change }: { lot: Lot; grades: Schemas['Graded'][]; wrong: Map<string, string>; change: (lot: Lot) => void }) {
  const [order, setOrder] = useState<keyof typeof orders>('label')
  const rank: Record<string, number> = { A: 0, B: 1, open: 2, reject: 3 }
  const places = lot.cells.map((_, i) => i)
  if (order === 'grade') places.sort((a, b) => (rank[grades[a]?.grade ?? 'open'] ?? 2) - (rank[grades[b]?.grade ?? 'open'] ?? 2))
  if (order === 'measured') places.sort((a, b) => (lot.cells[b]!.measuredAh ?? 0) - (lot.cells[a]!.measuredAh ?? 0))
  if (order === 'resistance') places.sort((a, b) => (lot.cells[a]!.resistanceOhm ?? Infinity) - (lot.cells[b]!.resistanceOhm ?? Infinity))
  const put = (i: number, cell: Cell) => change({ ...lot, cells: lot.cells.map((c, k) => (k === i ? cell : c)) })
  const count = (g: string) => grades.filter((x) => x.grade === g).length
  if (lot.cells.length === 0) return <Box sx={{ py: 3, maxWidth: 560, color: 'var(--ink-soft)' }}>No cell is logged yet. Write a number on each, then add it here, or paste the table you keep: a heading and a line for each cell.</Box>
  return (
    <Box sx={{ overflowX: 'auto' }}>
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'baseline', flexWrap: 'wrap', mb: 0.5 }}>
        <Box sx={{ fontSize: 13.5 }}>{lot.cells.length} cells: {['A', 'B', 'reject', 'open'].map((g) => <Box component="span" key={g} sx={{ mr: 1.5, color: gradeTone[g] }}>{gradeSign[g]} <span className="figure">{count(g)}</span> {gradeWord[g]}</Box>)}</Box>
        <Box component="label" sx={{ ml: 'auto', fontSize: 13, color: 'var(--ink-soft)' }}>Listed{' '}
          <select aria-label="Order of the cells" value={order} onChange={(e) => setOrder(e.target.value as keyof typeof orders)} style={{ font: 'inherit' }}>
            {Object.entries(orders).map(([k, name]) => <option key={k} value={k}>{name}</option>)}
          </select>
        </Box>
      </Box>
      <Box component="table" aria-label="Cells of the lot" sx={{ borderCollapse: 'collapse', fontSize: 13, width: '100%', '& th': { textAlign: 'right', fontWeight: 400, color: 'var(--ink-soft)', px: 0.75, whiteSpace: 'nowrap' }, '& td': { borderTop: '1px solid var(--line)', px: 0.75, py: 0.2, textAlign: 'right' }, '& td:last-of-type, & th:last-of-type, & td:first-of-type, & th:first-of-type': { textAlign: 'left' } }}>
        <thead>
          <tr><th scope="col">Cell</th><th scope="col" style={{ textAlign: 'left' }}>Grade</th>{columns.map((c) => <th key={c.key} scope="col">{c.name}{c.unit && <>, {c.unit}</>}</th>)}<th scope="col">Look</th><th scope="col" style={{ textAlign: 'left' }}>Why</th><th aria-label="Take out" /></tr>
        </thead>
        <tbody>
          {places.map((i) => <Row key={i} i={i} cell={lot.cells[i]!} grade={grades[i]} wrong={wrong.get(`/cells/${i}/label`)} put={put} drop={() => change({ ...lot, cells: lot.cells.filter((_, k) => k !== i) })} />)}
        </tbody>
      </Box>
    </Box>
  )
}

const box = { border: 0, borderBottom: '1px dotted var(--power)', background: 'none', color: 'var(--power-ink)', font: 'inherit', padding: 0, textAlign: 'right' as const }

function Row({ i, cell, grade, wrong, put, drop }: { i: number; cell: Cell; grade: Schemas['Graded'] | undefined; wrong: string | undefined; put: (i: number, cell: Cell) => void; drop: () => void }) {
  const g = grade?.grade ?? 'open'
  return (
    <tr>
      <td>
        <input aria-label={`Label of cell ${i + 1}`} aria-invalid={wrong ? true : undefined} title={wrong} key={cell.label} defaultValue={cell.label} maxLength={30} onBlur={(e) => e.target.value.trim() !== cell.label && put(i, { ...cell, label: e.target.value.trim() })} style={{ ...box, textAlign: 'left', width: 46, fontWeight: 700, ...(wrong && { color: 'var(--stop)' }) }} />
      </td>
      <td style={{ textAlign: 'left', whiteSpace: 'nowrap', color: gradeTone[g], fontWeight: 700 }}>{gradeSign[g]} {gradeWord[g]}</td>
      {columns.map((c) => <td key={c.key}><CellFigure column={c} label={`${c.name} of ${cell.label}`} value={cell[c.key]} onChange={(x) => put(i, { ...cell, [c.key]: x })} /></td>)}
      <td>
        <select aria-label={`Look of ${cell.label}`} value={cell.look ?? ''} onChange={(e) => put(i, { ...cell, look: (e.target.value || undefined) as Cell['look'] })} style={{ font: 'inherit', border: 0, background: 'none', color: 'var(--power-ink)', maxWidth: 84 }}>
          {Object.entries(looks).map(([k, w]) => <option key={k} value={k}>{w}</option>)}
        </select>
      </td>
      <td style={{ textAlign: 'left', minWidth: 130, fontSize: 12, lineHeight: 1.2, color: 'var(--ink-soft)' }}>{grade?.reasons.join('; ')}</td>
      <td><Button sx={{ p: 0, minWidth: 0, color: 'var(--ink-soft)' }} color="inherit" aria-label={`Take ${cell.label} out`} onClick={drop}>✕</Button></td>
    </tr>
  )
}

/** A figure of a cell, typed with its unit or in that of its column. */
const CellFigure = memo(function CellFigure({ column: c, label, value, onChange }: { column: Column; label: string; value: number | undefined; onChange: (x: number | undefined) => void }) {
  const [typed, setTyped] = useState<string>()
  const [wrong, setWrong] = useState('')
  const commit = () => {
    if (typed === undefined) return
    try {
      const text = typed.trim()
      if (text === '') onChange(undefined)
      else {
        const bare = c.quantity === 'count' ? Number(text.replace(',', '.')) : parse(text, c.quantity, '')
        const x = isBare(text) && bare >= c.from ? parse(`${text} ${c.bare}`, c.quantity, '') : bare
        if (!Number.isFinite(x) || x < 0) throw new Error('A figure of nought or more is needed')
        onChange(x)
      }
      setTyped(undefined)
      setWrong('')
    } catch (e) {
      setWrong((e as Error).message)
    }
  }
  return <input className="figure" aria-label={label} aria-invalid={wrong ? true : undefined} title={wrong || undefined} value={typed ?? (value === undefined ? '' : String(Number((value * c.scale).toPrecision(4))))} placeholder="—" onChange={(e) => setTyped(e.target.value)} onFocus={(e) => e.target.select()} onBlur={commit} onKeyDown={(e) => {
    if (e.key === 'Enter') commit()
    if (e.key === 'Escape') {
      setTyped(undefined)
      setWrong('')
    }
  }} style={{ ...box, width: 46, ...(wrong && { color: 'var(--stop)', borderBottomColor: 'var(--stop)' }) }} />
})
