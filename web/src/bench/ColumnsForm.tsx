import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useState } from 'react'
import type { Schemas } from '../api/client'

type Column = Schemas['Column']

interface Props {
  look: Schemas['LogLook']
  onTake: (columns: Column[]) => void
  onLeave: () => void
}

const uses: [Column['use'], string][] = [['time', 'the time'], ['figure', 'a figure'], ['mark', 'what happened'], ['none', 'left out']]
const times = ['s', 'ms', 'min', 'h']
const plain = { font: 'inherit', fontSize: 13, border: 0, background: 'none', color: 'var(--power-ink)', maxWidth: '100%' } as const

/** What each column of a log is, said by hand where its headings do not tell. */
export function ColumnsForm({ look, onTake, onLeave }: Props) {
  const [columns, setColumns] = useState(look.columns)
  const put = (at: number, is: Partial<Column>) => setColumns(columns.map((c, i) => (i === at ? { ...c, ...is } : is.use === 'time' && c.use === 'time' ? { ...c, use: 'none', unit: '' } : c)))
  const ready = columns.some((c) => c.use === 'time') && columns.some((c) => c.use === 'figure')
  return (
    <Box data-testid="columns" sx={{ mt: 1, fontSize: 13 }}>
      <Box sx={{ color: 'var(--ink-soft)' }}>Say what its columns are; it is remembered for logs with these headings.</Box>
      <Box sx={{ overflowX: 'auto' }}>
        <Box component="table" aria-label="Columns of the log" sx={{ borderCollapse: 'collapse', '& td, & th': { borderTop: '1px solid var(--line)', py: 0.3, pr: 1.5, textAlign: 'left', fontWeight: 400, verticalAlign: 'baseline' } }}>
          <tbody>
            {columns.map((c, i) => (
              <tr key={i}>
                <th scope="row">{look.heads[i] || `column ${i + 1}`}</th>
                <td className="figure" style={{ color: 'var(--ink-soft)', whiteSpace: 'nowrap' }}>{look.first.slice(0, 2).map((row) => row?.[i] ?? '').join(' · ').slice(0, 26)}</td>
                <td><select aria-label={`What column ${i + 1} is`} value={c.use} onChange={(e) => put(i, { use: e.target.value as Column['use'], unit: e.target.value === 'time' ? 's' : '' })} style={plain}>{uses.map(([k, w]) => <option key={k} value={k}>{w}</option>)}</select></td>
                <td>
                  {c.use === 'time' && <label>in <select aria-label={`Unit of column ${i + 1}`} value={c.unit} onChange={(e) => put(i, { unit: e.target.value })} style={plain}>{times.map((u) => <option key={u} value={u}>{u === 's' ? 's, or as a clock shows it' : u}</option>)}</select></label>}
                  {c.use === 'figure' && (
                    <>
                      <label>in <select aria-label={`Unit of column ${i + 1}`} value={c.unit} onChange={(e) => put(i, { unit: e.target.value })} style={plain}><option value="">no unit</option>{look.units.map((u) => <option key={u}>{u}</option>)}</select></label>{' '}
                      <Box component="input" aria-label={`Name of column ${i + 1}`} value={c.name} maxLength={60} onChange={(e: React.ChangeEvent<HTMLInputElement>) => put(i, { name: e.target.value })} sx={{ width: '16ch', font: 'inherit', border: 0, borderBottom: '1px dotted var(--power)', background: 'none', color: 'inherit' }} />
                    </>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </Box>
      </Box>
      <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'baseline', mt: 0.5 }}>
        <Button variant="outlined" sx={{ py: 0 }} disabled={!ready} onClick={() => onTake(columns)}>Read it so</Button>
        <Button sx={{ p: 0, minWidth: 0 }} onClick={onLeave}>Leave it</Button>
        {!ready && <Box sx={{ color: 'var(--ink-soft)' }}>One column is the time, and one at least a figure.</Box>}
      </Box>
    </Box>
  )
}
