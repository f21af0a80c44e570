import Button from '@mui/material/Button'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import type { Light, Part } from '../api/client'
import { set } from '../document/pointer'
import type { Change } from '../document/store'
import { Sheet } from '../figures/Sheet'
import { EmitterSheet } from './EmitterSheet'
import { OriginNote } from './OriginNote'
import { PartForm } from './PartForm'

/** All figures of a part that a light holds; a pointer to one of them opens with it in focus. */
export function FiguresDialog({ light, pointer, wrong, onClose, change }: { light: Light; pointer?: string; wrong: Map<string, string>; onClose: () => void; change: Change }) {
  const [, , index, kind, sought] = (pointer ?? '').split('/')
  const i = index === undefined ? -1 : Number(index)
  const part: Part | undefined = light.parts[i]
  const own = new Map([...wrong].filter(([k]) => k.startsWith(`/parts/${i}/`)).map(([k, v]) => [k.slice(`/parts/${i}`.length), v]))
  // The form's pointers are those of any light's first part.
  const focus = (dialog: HTMLElement) => sought && dialog.querySelector<HTMLElement>(`[data-pointer="/parts/0/${kind}/${sought}"]`)?.focus()
  return (
    <Sheet open={part !== undefined} onClose={onClose} tall maxWidth="sm" slotProps={{ transition: { onEntered: focus } }}>
      <DialogTitle>{part?.name}</DialogTitle>
      <DialogContent>
        {part && <OriginNote part={part} onTake={(next) => change((l) => set(l, `/parts/${i}`, next), `Figures of ${next.name}`)} />}
        {part && <PartForm part={part} wrong={own} sought={sought} onChange={(next, label, done) => change((l) => set(l, `/parts/${i}`, next), label, done)} />}
        {part?.emitter && <EmitterSheet part={part} />}
      </DialogContent>
      <DialogActions>
        <Button variant="contained" onClick={onClose}>Done</Button>
      </DialogActions>
    </Sheet>
  )
}
