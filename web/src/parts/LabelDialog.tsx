import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useDeferredValue, useId, useState } from 'react'
import { answer, api, type Part, type Schemas } from '../api/client'
import { Sheet } from '../figures/Sheet'
import { facts } from './facts'

function emitterOf(begun: Schemas['Begun']): Part | undefined {
  return begun.light.parts.find((p) => p.emitter)
}

/** An emitter by what its label or seller says, in one line; what that does not say is a guess. */
export function LabelDialog({ open, onKeep, onClose }: { open: boolean; onKeep: (part: Part) => void; onClose: () => void }) {
  const [said, setSaid] = useState('')
  const id = useId()
  const asked = useDeferredValue(said.trim())
  const read = useQuery({ queryKey: ['label', asked], queryFn: ({ signal }) => answer(api.POST('/api/begin', { signal, body: { way: 'parts', emitters: asked } })), enabled: open && asked !== '', retry: false, placeholderData: (old) => old })
  const part = asked === '' || !read.data ? undefined : emitterOf(read.data)
  const close = () => {
    setSaid('')
    onClose()
  }
  const keep = useMutation({
    // What stands below may be of the words before: what was typed last is asked for again.
    mutationFn: async () => emitterOf(await answer(api.POST('/api/begin', { body: { way: 'parts', emitters: said.trim() } }))),
    onSuccess: (last) => {
      if (!last) return
      onKeep({ ...last, id: 'part' })
      close()
    },
  })
  const ready = read.data !== undefined && !part
  return (
    <Sheet open={open} onClose={onClose} maxWidth="sm" data-testid="label">
      <DialogTitle>An emitter by its label</DialogTitle>
      <DialogContent>
        <Box component="label" htmlFor={id} sx={{ display: 'block', color: 'var(--ink-soft)', mb: 0.5 }}>Volts, amperes or watts, and lumens, lm/W or an efficiency, as label or seller have them</Box>
        <Box component="input" id={id} autoFocus value={said} placeholder="20 W 30–34 V 110 lm/W" onChange={(e: React.ChangeEvent<HTMLInputElement>) => setSaid(e.target.value)} onKeyDown={(e: React.KeyboardEvent) => e.key === 'Enter' && part && keep.mutate()}
          sx={{ width: '100%', font: 'inherit', fontSize: 16, color: 'inherit', background: 'none', border: '1px solid var(--line)', borderRadius: 1, px: 1, py: 0.75 }} />
        <Box sx={{ minHeight: 70, mt: 1 }} aria-live="polite">
          {(read.error ?? keep.error) && <Box role="alert" sx={{ color: 'var(--stop)' }}>{(read.error ?? keep.error)?.message}</Box>}
          {asked !== '' && ready && <Box sx={{ color: 'var(--caution-ink)', fontSize: 13 }}>That is a ready lamp, strip or module, with what limits its current inside: at What lights up take a load known by its draw, or strip.</Box>}
          {part && read.data?.understood['emitters'] && <Box sx={{ color: 'var(--margin-ink)' }}>= {read.data.understood['emitters']}</Box>}
          {part && <Box className="figure" sx={{ color: 'var(--ink-soft)', fontSize: 13 }}>{facts(part)}</Box>}
          {part && read.data?.unused['emitters'] && <Box sx={{ color: 'var(--ink-soft)', fontSize: 13 }}>Not used: {read.data.unused['emitters']}</Box>}
          {asked !== '' && read.data?.remarks.map((r) => <Box key={r.why} sx={{ color: 'var(--caution-ink)', fontSize: 13 }}>{r.why}</Box>)}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Cancel</Button>
        <Button variant="contained" disabled={!part || keep.isPending} onClick={() => keep.mutate()}>Take it</Button>
      </DialogActions>
    </Sheet>
  )
}
