import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, api, type Schemas } from '../api/client'
import { Sheet } from '../figures/Sheet'
import { merged } from './cells'

/** Cells pasted from the table someone keeps. */
export function PasteDialog({ lot, change, onClose }: { lot: Schemas['Lot']; change: (lot: Schemas['Lot']) => void; onClose: () => void }) {
  const [text, setText] = useState('')
  const read = useMutation({
    mutationFn: () => answer(api.POST('/api/lots/read', { body: { text } })),
    onSuccess: (cells) => {
      change(merged(lot, cells ?? []).lot)
      onClose()
    },
  })
  return (
    <Sheet open onClose={onClose} maxWidth="md">
      <DialogTitle>Paste a table of cells</DialogTitle>
      <DialogContent>
        <Box sx={{ fontSize: 13.5, color: 'var(--ink-soft)', mb: 1 }}>A heading, then a line for each cell, parted by tabs, semicolons or commas. Headings that are understood: label, printed, measured, resistance, found V, resting V, days, date, look, note. Bare numbers are mAh and mΩ where they are large. A label that is there already takes the new figures.</Box>
        <Box component="textarea" aria-label="Table of cells" rows={12} value={text} onChange={(e: React.ChangeEvent<HTMLTextAreaElement>) => setText(e.target.value)} sx={{ width: '100%', fontFamily: 'monospace', fontSize: 13, color: 'inherit', background: 'none', border: '1px solid var(--line)', p: 1 }} />
        {read.isError && <Alert severity="warning">{read.error.message}</Alert>}
      </DialogContent>
      <DialogActions>
        <Button disabled={text.trim() === '' || read.isPending} onClick={() => read.mutate()}>Read them</Button>
        <Button onClick={onClose}>Cancel</Button>
      </DialogActions>
    </Sheet>
  )
}
