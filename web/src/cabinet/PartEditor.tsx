import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useRef, useState } from 'react'
import { answer, api, Offline, Problem, type Part, type Schemas } from '../api/client'
import { FigureField } from '../figures/FigureField'
import { EmitterSheet } from '../parts/EmitterSheet'
import { PartForm } from '../parts/PartForm'

interface State {
  part: Part
  stock: number
}

/** One part of the cabinet, changed in place: each change is stored, one at a time, the newest last. */
export function PartEditor({ stored, onSaved, onClose }: { stored: Schemas['CabinetPart']; onSaved: () => void; onClose: () => void }) {
  const [state, setState] = useState<State>({ part: stored.part, stock: stored.stock })
  const [wrong, setWrong] = useState<Map<string, string>>(new Map())
  const [failure, setFailure] = useState('')
  const base = useRef(stored.revision)
  const waiting = useRef<State>(undefined)
  const busy = useRef(false)

  const store = async () => {
    if (busy.current) return
    busy.current = true
    while (waiting.current) {
      const next = waiting.current
      waiting.current = undefined
      try {
        const saved = await answer(api.PUT('/api/cabinet/{id}', { params: { path: { id: stored.id }, header: { 'If-Match': String(base.current) } }, body: next }))
        base.current = saved.revision
        setWrong(new Map())
        setFailure('')
        onSaved()
      } catch (e) {
        setFailure((e as Error).message)
        if (e instanceof Problem) setWrong(new Map(e.fields.map((f) => [f.location.replace(/^\/part/, ''), f.message])))
        if (e instanceof Offline) {
          waiting.current ??= next
          await new Promise((r) => setTimeout(r, 1500))
        }
      }
    }
    busy.current = false
  }
  const change = (next: State, done: boolean) => {
    setState(next)
    if (!done) return
    waiting.current = next
    void store()
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
