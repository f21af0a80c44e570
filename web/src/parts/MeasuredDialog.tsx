import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import { Sheet } from '../figures/Sheet'
import { useState } from 'react'
import { answer, api, type Part } from '../api/client'
import { get, set } from '../document/pointer'
import { FigureField } from '../figures/FigureField'
import { EmitterSheet } from './EmitterSheet'
import { figuresOf } from './description'
import { ChoiceRow, FigureRow, PointsRow, WordRow } from './rows'

type Emitter = NonNullable<Part['emitter']>

const unread: Part = { id: 'part', name: 'Measured emitter', basis: 'measured', emitter: { forward: [], vfRefTempC: 25, fluxRefTempC: 25 } }

/** What is asked beside the readings: what can be read off a work, and what the drawer's label may still say. */
const asked = ['colour', 'junctionsInSeries', 'ratedCurrentA', 'fluxLm', 'fluxCurrentA', 'claimed/voltageV', 'claimed/currentA', 'claimed/powerW', 'claimed/fluxLm']
const warmAsked = ['rThKPerW', ...asked]
const roomC = 25
/** Where the temperature of a warm body begins until it is typed. */
const warmBodyC = 45
const [one, board] = ['one emitter', 'a whole board, at its wires']
const [cold, warm] = ['quick and cold', 'warm, at rest']
/** Readings that make a curve; fewer leave its shape to be assumed. */
const enough = 3

/** An emitter of unknown make from bench readings: nothing is in it but what was read. */
export function MeasuredDialog({ open, onKeep, onClose }: { open: boolean; onKeep: (part: Part) => unknown; onClose: () => void }) {
  const [typed, setPart] = useState(unread)
  const [warmC, setWarmC] = useState<number>()
  // Readings taken warm are so all alike, but for one whose own temperature is typed beside it.
  const part = warmC === undefined ? typed : set(typed, '/emitter/forward', typed.emitter!.forward.map((p) => (p.caseC === undefined && p.junctionC === undefined ? { ...p, caseC: warmC } : p)))
  const e: Emitter = typed.emitter!
  const form = figuresOf(part)
  const forward = form.find((f) => f.name === 'forward')!
  const [failure, setFailure] = useState<{ of: Part; why: string }>()
  const put = (name: string) => (value: unknown) => setPart((p) => set(p, `/emitter/${name}`, value ?? (name === 'vfRefTempC' ? roomC : undefined)))
  const close = () => {
    setPart(unread)
    setWarmC(undefined)
    onClose()
  }
  // What contradicts itself stays in the dialog, with the reason.
  const keep = async () => {
    try {
      await answer(api.POST('/api/emitter', { body: part }))
      await onKeep(part)
      close()
    } catch (e) {
      setFailure({ of: part, why: (e as Error).message })
    }
  }
  return (
    <Sheet open={open} onClose={onClose} tall maxWidth="sm" data-testid="measured">
      <DialogTitle>An emitter from bench readings</DialogTitle>
      <DialogContent>
        <Box component="ol" sx={{ mt: 0, mb: 1, pl: 2.5, color: 'var(--ink-soft)', '& li': { mb: 0.25 } }}>
          <li>Feed it from a supply with its current limit at the lowest, on metal that stays cool. Check the polarity at a few milliamperes: marks disagree between parts.</li>
          <li>Read current and forward voltage at three currents or more: about a tenth, a third, and the most it will be used at. Measure the voltage at its own terminals.</li>
          <li>Read at once after each change, before it warms: the figures are then those of the room. Or let it come to rest at each, and read the temperature of what it sits on too: cold figures and warm ones differ by volts on a large package.</li>
        </Box>
        <ChoiceRow label="What was read" value={e.wholeBoard ? board : one} options={[one, board]} onChange={(v) => put('wholeBoard')(v === board ? true : undefined)} />
        {e.wholeBoard && <Box sx={{ fontSize: 12.5, color: 'var(--ink-soft)' }}>It then stands as one in the light: series, strings and boards inside it are in its figures. Say below how many dies one way through it holds.</Box>}
        <ChoiceRow label="The readings were" value={warmC === undefined ? cold : warm} options={[cold, warm]} onChange={(v) => setWarmC(v === warm ? warmBodyC : undefined)} />
        {warmC === undefined ? (
          <FigureField label="in a room of" pointer="/parts/0/emitter/vfRefTempC" quantity="temperature" value={e.vfRefTempC} required onChange={put('vfRefTempC')} />
        ) : (
          <FigureField label="on a sink or case of" pointer="/parts/0/emitter/forward/0/caseC" quantity="temperature" value={warmC} required onChange={(v) => v !== undefined && setWarmC(v)} />
        )}
        <WordRow label="Name" value={part.name} onChange={(v) => v && setPart((p) => ({ ...p, name: v }))} required />
        <PointsRow figure={{ ...forward, label: 'Readings' }} pointer="/parts/0/emitter/forward" value={e.forward} onChange={(v) => put('forward')(v ?? [])} />
        {(warmC === undefined ? asked : warmAsked).map((n) => form.find((f) => f.name === n)!).map((f) => (
          <FigureRow key={f.name} figure={f} value={get(e, `/${f.name}`)} pointer={`/parts/0/emitter/${f.name}`} onChange={put(f.name)} />
        ))}
        {e.forward.length > 0 && <EmitterSheet part={part} />}
        {e.forward.length > 0 && e.forward.length < enough && <Box sx={{ color: 'var(--caution-ink)', fontSize: 13 }}>{enough - e.forward.length === 1 ? 'One reading more' : 'Two readings more'} and the shape of the curve need not be assumed.</Box>}
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Cancel</Button>
        {failure?.of === part && <Box role="alert" sx={{ color: 'var(--stop)', mr: 'auto' }}>{failure.why}</Box>}
        <Button variant="contained" disabled={e.forward.length === 0} onClick={() => void keep()}>Keep it</Button>
      </DialogActions>
    </Sheet>
  )
}
