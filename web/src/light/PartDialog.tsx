import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import { useQuery } from '@tanstack/react-query'
import { answer, api, type Light, type Part } from '../api/client'
import { set } from '../document/pointer'
import { familyWord, freshId } from './tree'

export type PartKind = 'emitter' | 'driver' | 'cell'

const words: Record<PartKind, string> = { emitter: 'emitter', driver: 'driver', cell: 'cell' }

/** Typical figures to begin with where nothing is known: marked as a guess until better ones are typed. */
const blank: Record<PartKind, Omit<Part, 'id'>> = {
  emitter: {
    name: 'New white emitter', basis: 'guess',
    emitter: {
      colour: 'white', forward: [{ currentA: 0.1, voltageV: 2.65 }, { currentA: 0.35, voltageV: 2.8 }, { currentA: 1, voltageV: 3.05 }], vfRefTempC: 25, ratedCurrentA: 0.7, maxCurrentA: 1, maxJunctionC: 125,
      fluxLm: 130, fluxCurrentA: 0.35, fluxRefTempC: 25, fluxAgainstCurrent: [{ x: 0.1, ratio: 0.31 }, { x: 0.35, ratio: 1 }, { x: 0.7, ratio: 1.8 }, { x: 1, ratio: 2.35 }], radiationEfficacyLmPerW: 320, rThKPerW: 8, rThBasis: 'real',
    },
  },
  driver: { name: 'New linear driver', basis: 'guess', driver: { family: 'linear', setCurrentA: 0.35, headroomV: 0.3 } },
  cell: { name: 'New 18650 cell', basis: 'guess', cell: { chemistry: 'li-ion-4.2', size: '18650', capacityAh: 2.5, resistanceOhm: 0.06 } },
}

function facts(p: Part): string {
  if (p.emitter) return `${p.emitter.forward.at(-1)?.voltageV ?? '?'} V at ${p.emitter.forward.at(-1)?.currentA ?? '?'} A${p.emitter.ratedCurrentA ? ` · rated ${p.emitter.ratedCurrentA} A` : ''}${p.emitter.fluxLm ? ` · ${p.emitter.fluxLm} lm` : ''}`
  if (p.driver) return `${familyWord[p.driver.family]}${p.driver.setCurrentA ? ` · ${p.driver.setCurrentA} A` : ''}${p.driver.inputMaxV ? ` · up to ${p.driver.inputMaxV} V in` : ''}`
  if (p.cell) return `${p.cell.size ?? p.cell.chemistry} · ${p.cell.capacityAh} Ah · ${(p.cell.resistanceOhm * 1000).toFixed(0)} mΩ${p.cell.maxDischargeA ? ` · up to ${p.cell.maxDischargeA} A` : ''}`
  return ''
}

interface Props {
  light: Light
  kind?: PartKind
  usedAt: string
  onClose: () => void
  onPick: (light: Light, label: string) => void
}

/** Picks a part: one of this light's, one from another light on the shelf, or a new one to fill in. */
export function PartDialog({ light, kind, usedAt, onClose, onPick }: Props) {
  const shelf = useQuery({ queryKey: ['lights', false], queryFn: () => answer(api.GET('/api/lights')), enabled: kind !== undefined })
  const known = new Map<string, { part: Part; from: string; mine: boolean }>()
  if (kind) {
    for (const part of light.parts) if (part[kind]) known.set(part.name, { part, from: 'in this light', mine: true })
    for (const entry of shelf.data ?? []) for (const part of entry.light.parts) if (part[kind] && !known.has(part.name)) known.set(part.name, { part, from: entry.name, mine: false })
  }
  const pick = (part: Part, mine: boolean) => {
    let next = light
    let id = part.id
    if (!mine) {
      id = freshId(part.name, light.parts.map((p) => p.id))
      next = set(next, '/parts', [...light.parts, { ...part, id }])
    }
    onPick(set(next, usedAt, id), part.name)
  }
  return (
    <Dialog open={kind !== undefined} onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>Choose {kind === 'emitter' ? 'an' : 'a'} {kind && words[kind]}</DialogTitle>
      <DialogContent>
        <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }}>
          {[...known.values()].map(({ part, from, mine }) => (
            <Box component="li" key={part.name} sx={{ borderTop: '1px solid var(--line)' }}>
              <Button fullWidth sx={{ justifyContent: 'flex-start', textAlign: 'left', display: 'block', py: 1 }} onClick={() => pick(part, mine)}>
                {part.name}
                <Box component="span" sx={{ display: 'block', fontWeight: 400, color: 'var(--ink-soft)', fontSize: 13 }}>
                  <span className="figure">{facts(part)}</span> — {from}
                  {part.basis ? `, ${part.basis}` : ''}
                </Box>
              </Button>
            </Box>
          ))}
        </Box>
        {shelf.isError && <p>The shelf cannot be read just now; parts of this light and new ones can still be chosen.</p>}
      </DialogContent>
      <DialogActions>
        {kind && <Button onClick={() => pick({ ...blank[kind], id: 'new' }, false)}>A new one, with guessed figures to correct</Button>}
        <Button onClick={onClose}>Cancel</Button>
      </DialogActions>
    </Dialog>
  )
}
