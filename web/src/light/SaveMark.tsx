import Box from '@mui/material/Box'
import type { SaveState } from '../document/useLight'

const words: Record<SaveState, [string, string]> = {
  loading: ['loading', 'var(--ink-soft)'],
  saved: ['saved', 'var(--margin-ink)'],
  saving: ['saving…', 'var(--ink-soft)'],
  unsaved: ['not saved yet', 'var(--caution-ink)'],
  offline: ['offline, kept here', 'var(--caution-ink)'],
  failing: ['not saved, kept here', 'var(--stop)'],
  refused: ['not saved', 'var(--stop)'],
  conflict: ['changed elsewhere', 'var(--stop)'],
  gone: ['gone', 'var(--stop)'],
}

export function SaveMark({ state, message }: { state: SaveState; message: string }) {
  const [word, colour] = words[state]
  return (
    <Box role="status" data-save={state} title={message} sx={{ color: colour, fontSize: 13, whiteSpace: 'nowrap' }}>
      {word}
    </Box>
  )
}
