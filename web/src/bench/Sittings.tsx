import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useQueryClient } from '@tanstack/react-query'
import { useId, useState } from 'react'
import { answer, api, type Light, type Schemas } from '../api/client'
import { freshId } from '../document/names'
import { set } from '../document/pointer'
import { closed, type Done } from '../document/readings'
import type { Change } from '../document/store'
import { Renamable } from '../figures/Renamable'
import { Photos } from './Photos'

interface Props {
  id: string
  light: Light
  variant: number
  change: Change
  /** What the readings are set beside: a sitting, or another variant, by its key; empty: nothing. */
  beside: string
  onBeside: (key: string) => void
}

/** Lists of readings that those of this sitting can be set beside, by key. */
export function earlier(light: Light, variant: number): { key: string; name: string; done: Done[] }[] {
  const closedOnes = (light.variants[variant]?.sessions ?? []).map((s) => ({ key: `s:${s.id}`, name: s.name, done: s.done }))
  const others = light.variants.filter((_, i) => i !== variant).map((v) => ({ key: `v:${v.id}`, name: v.name, done: [...(v.sessions ?? []).flatMap((s) => s.done), ...(v.setUp ?? [])] }))
  return [...closedOnes, ...others].filter((e) => e.done.some((d) => d.reading !== undefined))
}

/** Sittings at the bench: the one that is open, and those that are closed. */
export function Sittings({ id: lightId, light, variant, change, beside, onBeside }: Props) {
  const client = useQueryClient()
  const v = light.variants[variant]!
  const [name, setName] = useState('')
  const id = useId()
  const at = `/variants/${variant}/sessions`
  const close = () => {
    const day = new Date().toISOString().slice(0, 10)
    const key = freshId('sitting', (v.sessions ?? []).map((s) => s.id))
    change((l) => closed(l, variant, key, name.trim() || day), 'Sitting closed')
    setName('')
    // Its photos go with it.
    const photos = (client.getQueryData<Schemas['BenchPhoto'][]>(['photos', lightId]) ?? []).filter((p) => p.sitting === v.id)
    void Promise.allSettled(photos.map((p) => answer(api.PUT('/api/lights/{id}/photos/{photo}', { params: { path: { id: lightId, photo: p.id } }, body: { caption: p.caption, sitting: `${v.id}/${key}` } })))).then(() => client.invalidateQueries({ queryKey: ['photos', lightId] }))
  }
  const others = earlier(light, variant)
  const begun = v.setUpNote !== undefined || (v.setUp ?? []).some((d) => d.reading !== undefined)
  const names = new Map(light.variants.flatMap((o) => [...(o === v ? [] : [[o.id, o.name] as const]), ...(o.sessions ?? []).map((s) => [`${o.id}/${s.id}`, s.name] as const)]))
  return (
    <Box component="section" aria-label="Sittings" sx={{ mt: 2 }}>
      <Box component="h2" sx={{ fontSize: 14, m: 0 }}>Sittings</Box>
      {(v.sessions ?? []).map((s, i) => (
        <Box key={s.id} sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', fontSize: 13, borderBottom: '1px solid var(--line)', py: 0.25, alignItems: 'baseline' }}>
          <Box sx={{ flex: 1 }}><Renamable value={s.name} fallback="a sitting" onName={(to) => to && change((l) => set(l, `${at}/${i}/name`, to), 'Name of the sitting')} /></Box>
          <Box sx={{ color: 'var(--ink-soft)' }}><span className="figure">{s.done.filter((d) => d.reading !== undefined).length}</span> readings</Box>
          {s.note && <Box sx={{ flex: '1 0 100%', fontSize: 12.5, color: 'var(--ink-soft)', whiteSpace: 'pre-wrap' }}>{s.note}</Box>}
        </Box>
      ))}
      {others.length > 0 && (
        <Box component="label" sx={{ fontSize: 13 }}>Set beside{' '}
          <select value={beside} onChange={(e) => onBeside(e.target.value)} style={{ font: 'inherit', border: 0, background: 'none', color: 'var(--power-ink)', maxWidth: 150 }}>
            <option value="">nothing</option>
            {others.map((o) => <option key={o.key} value={o.key}>{o.name}</option>)}
          </select>
        </Box>
      )}
      <Photos id={lightId} sitting={v.id} names={names} />
      <Box component="textarea" aria-label="What was seen" data-pointer={`/variants/${variant}/setUpNote`} key={v.setUpNote ?? ''} defaultValue={v.setUpNote ?? ''} rows={2} maxLength={4000} placeholder="what was seen at this sitting" onBlur={(e: React.FocusEvent<HTMLTextAreaElement>) => e.target.value.trim() !== (v.setUpNote ?? '') && change((l) => set(l, `/variants/${variant}/setUpNote`, e.target.value.trim() || undefined), 'Note of the sitting')}
        sx={{ width: '100%', mt: 0.5, border: '1px dotted var(--power)', background: 'none', color: 'var(--power-ink)', font: 'inherit', fontSize: 13, p: 0.5, resize: 'vertical' }} />
      {begun && (
        <Box sx={{ display: 'flex', gap: 1, alignItems: 'baseline', mt: 0.5 }}>
          <label htmlFor={id} style={{ position: 'absolute', clip: 'rect(0 0 0 0)' }}>Name of this sitting</label>
          <Box component="input" id={id} value={name} maxLength={120} placeholder="as built, after the repair…" onChange={(e: React.ChangeEvent<HTMLInputElement>) => setName(e.target.value)} sx={{ flex: 1, minWidth: 0, font: 'inherit', fontSize: 13, border: 0, borderBottom: '1px dotted var(--power)', background: 'none', color: 'inherit' }} />
          <Button sx={{ p: 0, minWidth: 0, whiteSpace: 'nowrap' }} onClick={close}>Close this one</Button>
        </Box>
      )}
    </Box>
  )
}
