import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import { useQuery } from '@tanstack/react-query'
import { useDeferredValue, useId, useState } from 'react'
import { answer, api, type Part } from '../api/client'
import { Sheet } from '../figures/Sheet'
import { facts } from './facts'

/** An emitter by what its label or seller says, in one line; what that does not say is a guess. */
export function LabelDialog({ open, onKeep, onClose }: { open: boolean; onKeep: (part: Part) => void; onClose: () => void }) {
  const [said, setSaid] = useState('')
  const id = useId()
  const asked = useDeferredValue(said.trim())
  const read = useQuery({ queryKey: ['label', asked], queryFn: ({ signal }) => answer(api.POST('/api/begin', { signal, body: { way: 'parts', emitters: asked } })), enabled: open && asked !== '', retry: false, placeholderData: (old) => old })
  const part = asked === '' ? undefined : read.data?.light.parts.find((p) => p.emitter)
  const close = () => {
    setSaid('')
    onClose()
  }
  const keep = () => {
    if (part) onKeep({ ...part, id: 'part' })
    close()
  }
  return (
    <Sheet open={open} onClose={onClose} maxWidth="sm" data-testid="label">
      <DialogTitle>An emitter by its label</DialogTitle>
      <DialogContent>
        <Box component="label" htmlFor={id} sx={{ display: 'block', color: 'var(--ink-soft)', mb: 0.5 }}>Volts, amperes or watts, and lumens, lm/W or an efficiency, as label or seller have them</Box>
        <Box component="input" id={id} autoFocus value={said} placeholder="20 W 30–34 V 110 lm/W" onChange={(e: React.ChangeEvent<HTMLInputElement>) => setSaid(e.target.value)} onKeyDown={(e: React.KeyboardEvent) => e.key === 'Enter' && keep()}
          sx={{ width: '100%', font: 'inherit', fontSize: 16, color: 'inherit', background: 'none', border: '1px solid var(--line)', borderRadius: 1, px: 1, py: 0.75 }} />
        <Box sx={{ minHeight: 70, mt: 1 }} aria-live="polite">
          {read.isError && <Box role="alert" sx={{ color: 'var(--stop)' }}>{read.error.message}</Box>}
          {part && read.data?.understood['emitters'] && <Box sx={{ color: 'var(--margin-ink)' }}>= {read.data.understood['emitters']}</Box>}
          {part && <Box className="figure" sx={{ color: 'var(--ink-soft)', fontSize: 13 }}>{facts(part)}</Box>}
          {asked !== '' && read.data?.remarks.map((r) => <Box key={r.why} sx={{ color: 'var(--caution-ink)', fontSize: 13 }}>{r.why}</Box>)}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Cancel</Button>
        <Button variant="contained" disabled={!part} onClick={keep}>Take it</Button>
      </DialogActions>
    </Sheet>
  )
}
