import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { Light, LightNode } from '../api/client'
import { begin, beginDriver, driverName } from './begin'
import { Sheet } from '../figures/Sheet'
import { get, set } from '../document/pointer'
import { facts } from './facts'
import { kindWord, type PartKind } from './description'
import { LabelDialog } from './LabelDialog'
import { MeasuredDialog } from './MeasuredDialog'
import { amps, clock, digits } from '../units/quantity'
import { asOne, ask, askFamilies, sizeAt, takePart, wiredAs, type Candidate } from './candidates'

interface Props {
  light: Light
  variant: number
  kind?: PartKind
  usedAt: string
  onClose: () => void
  onPick: (light: Light, label: string) => void
}

const fitWord = { fits: 'fits', nearly: 'nearly', 'not-yet': 'not judged yet', no: 'does not fit' }
const fitTone = { fits: 'var(--margin-ink)', nearly: 'var(--caution-ink)', 'not-yet': 'var(--ink-soft)', no: 'var(--stop)' }

/** Picks a part by what it must do here: what fits first, with the reason why the others do not. */
export function PartDialog({ light, variant, kind, usedAt, onClose, onPick }: Props) {
  const [sought, setSought] = useState('')
  const [anySize, setAnySize] = useState(false)
  const [measuring, setMeasuring] = useState(false)
  const [labelling, setLabelling] = useState(false)
  const size = kind === 'cell' ? sizeAt(light, usedAt) : undefined
  const found = useQuery({ queryKey: ['candidates', kind, usedAt, variant, light, anySize], queryFn: () => ask(light, variant, kind!, usedAt, anySize ? undefined : size), enabled: kind !== undefined, placeholderData: (old) => old })
  const families = useQuery({ queryKey: ['families', usedAt, variant, light], queryFn: () => askFamilies(light, variant, usedAt), enabled: kind === 'driver', retry: false, placeholderData: (old) => old })
  const words = sought.toLowerCase().split(/\s+/).filter(Boolean)
  // What is neither here nor in the cabinet is a new one, made for the place.
  const fresh = found.data?.list.find((c) => !c.local && !c.cabinet)
  const shown = (found.data?.list ?? []).filter((c) => c !== fresh && words.every((w) => `${c.part.name} ${facts(c.part)}`.toLowerCase().includes(w)))
  const pick = (c: Candidate) => {
    const { light: next, id } = takePart(light, c)
    let used = set(next, usedAt, id)
    const use = usedAt.replace(/\/partId$/, '')
    // A load that is a part has no readings of its own.
    if (kind === 'load') used = set(used, use, { partId: id })
    // What was assumed of a profile goes: it is measured.
    if (kind === 'profile') used = ['perimeterM', 'widthM', 'heightM', 'thicknessM', 'kgPerM', 'drawnFins', 'material', 'surface'].reduce((l, m) => set(l, `${use}/${m}`, undefined), used)
    if (kind === 'driver' && !c.cabinet && !c.local) used = setFor(used, use)
    // What the charger before was set to is not what this one is.
    if (kind === 'charger') used = set(used, use, { ...(get(used, use) as object), currentA: undefined, endCellV: undefined, programOhm: undefined })
    // Nor is what was told or measured of the one before true of it.
    if (kind === 'emitter' && get(light, usedAt) !== id) used = ['packageRows', 'measuredOffsetV'].reduce((l, figure) => set(l, `${use}/${figure}`, undefined), used)
    if (kind === 'emitter' && c.part.emitter?.wholeBoard && get(light, usedAt) !== id) used = asOne(used, variant, use)
    else if (kind === 'emitter' && c.series && c.fit !== 'no' && get(light, usedAt) !== id) used = wiredAs(used, use, c)
    onPick(used, c.part.name)
  }
  return (
    <Sheet open={kind !== undefined} onClose={onClose} tall maxWidth="md">
      <DialogTitle>Choose {kind === 'emitter' ? 'an' : 'a'} {kind && kindWord[kind][0]}</DialogTitle>
      <DialogContent>
        <Box component="input" type="search" aria-label="Find among these" placeholder="Find: name, current, size…" value={sought} onChange={(e) => setSought(e.target.value)}
          sx={{ width: 260, maxWidth: '100%', font: 'inherit', color: 'inherit', background: 'none', border: '1px solid var(--line)', borderRadius: 1, px: 1, py: 0.5, mb: 1 }} />
        {size && (
          <Box component="label" sx={{ ml: 2, color: 'var(--ink-soft)' }}>
            <input type="checkbox" checked={anySize} onChange={(e) => setAnySize(e.target.checked)} /> also other sizes than {size}
          </Box>
        )}
        {found.data?.why && <Box sx={{ color: 'var(--ink-soft)', mb: 1 }}>{found.data.why}</Box>}
        {found.isPending && kind && <Box sx={{ color: 'var(--ink-soft)' }}>Asking which fit…</Box>}
        <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }}>
          {shown.map((c) => (
            <Box component="li" key={`${c.cabinet ?? ''}/${c.local ?? ''}`} sx={{ borderTop: '1px solid var(--line)' }}>
              <Button fullWidth sx={{ justifyContent: 'flex-start', textAlign: 'left', display: 'block', py: 0.75 }} onClick={() => pick(c)}>
                {c.part.name}
                {c.fit && (
                  <Box component="span" sx={{ float: 'right', color: fitTone[c.fit], fontWeight: 400 }}>
                    {fitWord[c.fit]}
                    {c.series && c.fit !== 'no' ? ` as ${c.series} × ${c.parallel}` : ''}
                  </Box>
                )}
                <Box component="span" sx={{ display: 'block', fontWeight: 400, color: 'var(--ink-soft)', fontSize: 13 }}>
                  <span className="figure">{facts(c.part)}</span> — {c.local ? 'in this light' : 'cabinet'}
                  {c.cabinet ? <Stock c={c} /> : ''}
                  {c.part.basis ? `, ${c.part.basis}` : ''}
                  {c.outA != null && c.fit !== 'no' && `, gives ${amps(c.outA)}`}
                  {c.fluxLm != null && c.fit !== 'no' && `, ${digits(c.fluxLm, 3)} lm`}
                  {c.halfS != null && c.fit !== 'no' && `, ${clock(c.halfS)}`}
                </Box>
                {c.why && <Box component="span" sx={{ display: 'block', fontWeight: 400, color: fitTone[c.fit ?? 'no'], fontSize: 13 }}>{c.why}</Box>}
              </Button>
            </Box>
          ))}
        </Box>
        {found.isSuccess && shown.length === 0 && <Box sx={{ color: 'var(--ink-soft)' }}>None is on hand. Begin a new one below, or put parts into the cabinet.</Box>}
        {found.isError && <p>The cabinet cannot be read just now; a new part can still be begun.</p>}
      </DialogContent>
      <DialogActions>
        {kind === 'emitter' && <Button onClick={() => setLabelling(true)}>By its label…</Button>}
        {kind === 'emitter' && <Button onClick={() => setMeasuring(true)}>From bench readings…</Button>}
        {kind === 'driver' && (
          <Box role="group" aria-label="A new one" sx={{ mr: 'auto' }}>
            <Box component="span" sx={{ color: 'var(--ink-soft)', pl: 1 }}>A new one: </Box>
            {(families.data ?? []).map(({ family, fit, why }) => <Button key={family} title={why || undefined} data-family={family} data-fit={fit} sx={{ p: 0.5, minWidth: 0, ...(fit === 'no' && { color: 'var(--ink-soft)', fontWeight: 400, textDecoration: 'line-through' }) }} onClick={() => pick({ part: beginDriver(family), stock: 0, hash: '' })}>{driverName(family)}</Button>)}
          </Box>
        )}
        {kind && kind !== 'driver' && <Button onClick={() => pick(fresh ?? { part: begin(kind).part, stock: 0, hash: '' })}>A new one, with guessed figures to correct</Button>}
        <Button onClick={onClose}>Cancel</Button>
      </DialogActions>
      <LabelDialog open={labelling} onKeep={(part) => pick({ part, stock: 0, hash: '' })} onClose={() => setLabelling(false)} />
      <MeasuredDialog open={measuring} onKeep={(part) => pick({ part, stock: 0, hash: '' })} onClose={() => setMeasuring(false)} />
    </Sheet>
  )
}

/** A new driver is set to what the emitters below it are rated for, or to what is wanted of them. */
function setFor(light: Light, use: string): Light {
  const driver = get(light, use) as { setCurrentA?: number; programOhm?: number }
  if (driver.setCurrentA !== undefined || driver.programOhm !== undefined) return light
  const below = (get(light, use.replace(/\/driver$/, '/loads')) as LightNode[] | undefined) ?? []
  const each = below.flatMap((n) => {
    const e = n.array && light.parts.find((p) => p.id === n.array?.partId)?.emitter
    const amps = n.array && Math.min(n.array.wantedCurrentA ?? Infinity, e?.ratedCurrentA ?? Infinity)
    return n.array && amps !== undefined && Number.isFinite(amps) ? [amps * n.array.parallel * Math.max(n.array.count ?? 1, 1) * Math.max(n.count ?? 1, 1)] : []
  })
  return set(light, `${use}/setCurrentA`, each.length > 0 ? Number(each.reduce((a, b) => a + b, 0).toPrecision(4)) : 0.35)
}

function Stock({ c }: { c: Candidate }) {
  const short = c.needs !== undefined && c.stock < c.needs
  return <Box component="span" sx={{ color: short ? 'var(--caution-ink)' : 'inherit' }}>{`, ${c.stock} on hand${c.needs !== undefined && (short || c.needs > 1) ? ` of ${c.needs} needed` : ''}`}</Box>
}
