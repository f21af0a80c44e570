import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { memo, useState } from 'react'
import { useStore } from 'zustand/react'
import { useShallow } from 'zustand/react/shallow'
import { set } from '../document/pointer'
import type { LightStore } from '../document/store'
import { freshId, freshName } from '../document/names'
import { NameField } from '../figures/NameField'
import { SaveMark } from './SaveMark'

const quiet = { color: 'var(--ink-soft)', minWidth: 0, display: { xs: 'none', sm: 'inline-flex' } }

/** Name, variants, what is saved, and the way back. */
export const TopLine = memo(function TopLine({ id, doc, variant: index, air, bench, onBench, onVariant }: { id: string; doc: LightStore; variant: number; air: string; bench: boolean; onBench: () => void; onVariant: (i: number) => void }) {
  const [renaming, setRenaming] = useState(false)
  const [title, canUndo, canRedo] = useStore(doc.store, useShallow((s) => [s.light?.name ?? '', s.canUndo, s.canRedo] as const))
  const names = useStore(doc.store, useShallow((s) => s.light?.variants.map((v) => v.name) ?? []))
  const add = () => {
    const { light: saved, trial } = doc.store.getState()
    if (!saved) return
    const shown = (trial?.light ?? saved).variants[index]!
    const copy = { ...shown, setUp: undefined, setUpNote: undefined, sessions: undefined, id: freshId('variant', saved.variants.map((v) => v.id)), name: freshName(shown.name, saved.variants.map((v) => v.name)) }
    doc.both((l) => set(l, '/variants', [...l.variants, copy]), 'New variant')
    onVariant(saved.variants.length)
  }
  const drop = () => {
    doc.both((l) => set(l, '/variants', l.variants.filter((_, i) => i !== index)), 'Variant removed')
    onVariant(0)
  }
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, flexWrap: 'wrap', minHeight: 42, contain: 'layout', px: { xs: 1.5, sm: 0 } }}>
      <Box component="h1" sx={{ m: 0, fontSize: 19, lineHeight: 1, display: 'flex' }}>
        <Box component="input" aria-label="Name of the light" defaultValue={title} key={title} maxLength={120}
          onBlur={(e) => {
            const name = e.target.value.trim()
            if (name === '') e.target.value = title
            else if (name !== title) doc.both((l) => set(l, '/name', name), 'Name')
          }}
          onKeyDown={(e) => e.key === 'Enter' && (e.target as HTMLElement).blur()}
          sx={{ fontSize: 19, fontWeight: 700, border: 0, background: 'none', color: 'inherit', fontFamily: 'inherit', p: 0, width: `min(${Math.max(title.length + 1, 8)}ch, 60vw)`, '&:hover': { borderBottom: '1px dotted var(--power)' } }} />
      </Box>
      {names.map((name, i) =>
        i === index && renaming ? (
          <NameField key={i} label="Name of the variant" name={name} onName={(to) => doc.both((l) => set(l, `/variants/${i}/name`, to), 'Name of the variant')} onDone={() => setRenaming(false)} />
        ) : (
          <Button key={i} variant={i === index ? 'outlined' : 'text'} aria-pressed={i === index} onClick={() => onVariant(i)} onDoubleClick={() => setRenaming(true)} sx={{ borderRadius: 4, py: 0.1, maxWidth: { xs: 150, sm: 'none' }, overflow: 'hidden', whiteSpace: 'nowrap' }}>
            {name}
          </Button>
        ),
      )}
      <Button aria-label="New variant" title="New variant, a copy of this one" onClick={add} sx={{ minWidth: 28, borderRadius: 4, py: 0.1 }} disabled={names.length >= 20}>
        +
      </Button>
      <Button color="inherit" sx={quiet} onClick={() => setRenaming(true)}>
        rename
      </Button>
      {names.length > 1 && (
        <Button color="inherit" sx={quiet} onClick={drop}>
          remove
        </Button>
      )}
      <Box sx={{ ml: 'auto', display: 'flex', alignItems: 'center', gap: 1.5 }}>
        <Box sx={{ color: 'var(--ink-soft)', fontSize: 13, display: { xs: 'none', md: 'block' } }}>{air}</Box>
        <Button variant={bench ? 'outlined' : 'text'} aria-pressed={bench} onClick={onBench} sx={{ borderRadius: 4, py: 0.1, minWidth: 0 }} title="What to measure, and what was measured (B)">
          Bench
        </Button>
        <SaveMark doc={doc} />
        <Button component="a" href={`/api/lights/${id}/file`} download color="inherit" sx={quiet} title="Take this light out as a file">
          File
        </Button>
        <Button disabled={!canUndo} onClick={doc.undo}>
          Undo
        </Button>
        <Button disabled={!canRedo} onClick={doc.redo} sx={{ display: { xs: 'none', sm: 'inline-flex' } }}>
          Redo
        </Button>
      </Box>
    </Box>
  )
})
