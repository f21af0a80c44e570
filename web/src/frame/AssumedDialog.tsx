import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import type { Light, Schemas } from '../api/client'
import { get } from '../document/pointer'
import { placeName } from '../document/tree'
import { quantityOf } from '../parts/description'
import { useSettings } from '../settings/SettingsProvider'
import { show, text } from '../units/quantity'
import { capital, wordOf } from '../units/words'

interface Props {
  light: Light
  assumed: Schemas['Standing'][]
  onGo: (pointer: string) => void
  /** It is so: the figure stays and is no longer assumed. */
  onSure: (at: string) => void
  onClose: () => void
}

/** Everything that nobody gave, with its reason: each leads to the control that replaces it. */
export function AssumedDialog({ light, assumed, onGo, onSure, onClose }: Props) {
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md" aria-labelledby="assumed-title">
      <DialogTitle id="assumed-title">What is assumed</DialogTitle>
      <DialogContent>
        <Box component="p" sx={{ m: 0, mb: 1, color: 'var(--ink-soft)' }}>Typical figures stand here, as nobody gave better ones. Every answer rests on them: change what you know, or say that it is so.</Box>
        <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }}>
          {assumed.map((a) => <AssumedRow key={a.at} light={light} assumption={a} onGo={onGo} onSure={onSure} />)}
        </Box>
        {assumed.length === 0 && 'Nothing is assumed any more.'}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}

function AssumedRow({ light, assumption, onGo, onSure }: { light: Light; assumption: Schemas['Standing']; onGo: (pointer: string) => void; onSure: (at: string) => void }) {
  const { settings } = useSettings()
  const { at, pointer, why } = assumption
  const name = placeName(light, pointer)
  const part = /^\/parts\/(\d+)/.exec(pointer)
  const value = get(light, pointer)
  const said = typeof value === 'number' ? text(show(value, quantityOf(pointer.slice(pointer.lastIndexOf('/') + 1)), settings, 2)) : typeof value === 'string' ? wordOf(value, pointer) : ''
  return (
    <Box component="li" data-assumed={at} sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr auto', sm: '1fr auto auto auto' }, columnGap: 1.5, alignItems: 'baseline', py: 0.75, borderTop: '1px solid var(--line)' }}>
      <Box>
        <strong>{capital(part ? `${light.parts[Number(part[1])]?.name ?? ''}: ${name}` : name)}</strong>
        <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)' }}>{capital(why)}.</Box>
      </Box>
      <Box className="figure">{said && `≈ ${said}`}</Box>
      <Button sx={{ p: 0, minWidth: 0 }} onClick={() => onGo(pointer)}>Change</Button>
      <Button sx={{ p: 0, minWidth: 0 }} onClick={() => onSure(at)} aria-label={`It is so: ${name}`}>It is so</Button>
    </Box>
  )
}
