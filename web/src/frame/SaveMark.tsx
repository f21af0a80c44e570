import Box from '@mui/material/Box'
import { useStore } from 'zustand/react'
import type { LightStore, SaveState } from '../document/store'

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

export function SaveMark({ doc }: { doc: LightStore }) {
  const state = useStore(doc.store, (s) => s.state)
  const message = useStore(doc.store, (s) => s.message)
  const [word, colour] = words[state]
  return (
    <Box role="status" data-save={state} title={message} sx={{ color: colour, fontSize: 13, whiteSpace: 'nowrap' }}>
      {word}
    </Box>
  )
}
