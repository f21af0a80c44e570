import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useState } from 'react'
import { answer, api, type Part, type Schemas } from '../api/client'
import { FigureField } from '../figures/FigureField'
import { EmitterSheet } from '../parts/EmitterSheet'
import { PartForm } from '../parts/PartForm'
import { useStored } from './useStored'

interface State {
  part: Part
  stock: number
}

/** One part of the cabinet, changed in place: each change is stored, one at a time, the newest last. */
export function PartEditor({ stored, onSaved, onClose }: { stored: Schemas['CabinetPart']; onSaved: () => void; onClose: () => void }) {
  const [state, setState] = useState<State>({ part: stored.part, stock: stored.stock })
  const { store, wrong: places, failure } = useStored<State>(stored.revision, (next, base) => answer(api.PUT('/api/cabinet/{id}', { params: { path: { id: stored.id }, header: { 'If-Match': String(base) } }, body: next })), onSaved)
  const wrong = new Map([...places].map(([at, says]) => [at.replace(/^\/part/, ''), says]))
  const change = (next: State, done: boolean) => {
    setState(next)
    if (done) void store(next)
  }
  return (
    <Box component="section" aria-label={`Part ${state.part.name}`} sx={{ background: 'var(--paper)', border: '1px solid var(--line)', px: 1.75, py: 1.25, position: { md: 'sticky' }, top: { md: 8 }, maxHeight: { md: 'calc(100vh - 24px)' }, overflowY: { md: 'auto' } }} data-testid="part-editor">
      <Box sx={{ display: 'flex', alignItems: 'baseline' }}>
        <Box component="h2" sx={{ fontSize: 15, m: 0, flex: 1 }}>{state.part.name}</Box>
        <Button onClick={onClose}>Close</Button>
      </Box>
      {failure && <Alert severity="warning" sx={{ py: 0 }}>{failure}</Alert>}
      <FigureField label="On hand" pointer="/stock" quantity="count" value={state.stock} required onChange={(v, done) => change({ ...state, stock: v ?? 0 }, done)} />
      <PartForm part={state.part} wrong={wrong} onChange={(part, _, done) => change({ ...state, part }, done)} />
      {stored.lacks.length > 0 && <Box sx={{ fontSize: 13, color: 'var(--caution-ink)', my: 1 }}>Still lacks: {stored.lacks.join(', ')}.</Box>}
      {state.part.emitter && <EmitterSheet part={state.part} />}
    </Box>
  )
}
