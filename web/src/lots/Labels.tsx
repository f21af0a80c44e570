import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { Schemas } from '../api/client'
import { gradeWord } from './cells'

/** Labels to print, to cut and to stick on the cells: black on white. */
export function Labels({ lot, grades, onClose }: { lot: Schemas['Lot']; grades: Schemas['Graded'][]; onClose: () => void }) {
  return (
    <Box sx={{ p: 2, background: '#fff', color: '#000', minHeight: '100vh', '@media print': { p: 0 } }}>
      <Box sx={{ mb: 1, display: 'flex', gap: 1, '@media print': { display: 'none' } }}>
        <Button variant="outlined" onClick={() => window.print()}>Print</Button>
        <Button onClick={onClose}>Back to the lot</Button>
      </Box>
      <Box data-testid="labels" sx={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, 46mm)', gap: '2mm' }}>
        {lot.cells.map((c, i) => (
          <Box key={c.label} sx={{ border: '1px dashed #000', width: '46mm', height: '17mm', p: '1.5mm', fontSize: '8pt', lineHeight: 1.2, overflow: 'hidden', breakInside: 'avoid' }}>
            <Box sx={{ display: 'flex', justifyContent: 'space-between' }}><strong style={{ fontSize: '12pt' }}>{c.label}</strong><strong>{gradeWord[grades[i]?.grade ?? 'open']}</strong></Box>
            <div>{c.measuredAh === undefined ? '— mAh' : `${Math.round(c.measuredAh * 1000)} mAh`} · {c.resistanceOhm === undefined ? '— mΩ' : `${Math.round(c.resistanceOhm * 1000)} mΩ`}{c.restingV !== undefined && ` · ${c.restingV} V`}</div>
            <div style={{ whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis' }}>{[c.date, lot.name].filter(Boolean).join(' · ')}</div>
          </Box>
        ))}
      </Box>
    </Box>
  )
}
