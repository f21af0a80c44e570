import Box from '@mui/material/Box'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import { useCallback, useEffect, useId, useRef, type ReactNode } from 'react'
import type { Light, Variant } from '../api/client'
import { set } from '../document/pointer'
import type { Change } from '../document/store'
import { useShown } from '../document/useLight'
import { FigureField } from '../figures/FigureField'
import { useAssumed, useForesight, useMeasured } from '../solved/useSolved'
import type { PartKind } from '../parts/description'

/** What a workbench is given. */
export interface WorkbenchProps {
  light: Light
  variant: Variant
  at: string
  /** Messages of the server about single figures, by JSON Pointer. */
  wrong: Map<string, string>
  change: Change
  onParts: (kind: PartKind, usedAt: string) => void
  /** Opens all figures of a part of this light. */
  onFigures: (pointer: string) => void
  /** The node of several that workbench and charts are about, if one was chosen. */
  chosen: string | undefined
  onChoose: (node: string) => void
  /** Opens the power tree, where nodes are added. */
  onTree: () => void
}

interface FieldProps {
  work: WorkbenchProps
  label: string
  pointer: string
  quantity: string
  fallback?: string
  hint?: ReactNode
  required?: boolean
  reads?: (text: string) => number | undefined
  /** What else a new figure changes. */
  also?: (light: Light, value: number | undefined) => Light
}

/** A figure of the document by its JSON Pointer. */
export function Field({ work, label, pointer, also, ...rest }: FieldProps) {
  const value = useShown(work.light, pointer)
  const more = useRef(also)
  useEffect(() => {
    more.current = also
  })
  const { change } = work
  // The same as long as it is of the same figure, so that a field is drawn anew only when its own figure changes.
  const made = useCallback((l: Light, next: number | undefined) => more.current?.(set(l, pointer, next), next) ?? set(l, pointer, next), [pointer])
  const onChange = useCallback((next: number | undefined, done: boolean) => change((l) => made(l, next), label, done), [change, made, label])
  const foresee = useForesight()
  const onNear = useCallback((values: number[]) => foresee((l) => values.map((x) => made(l, x))), [foresee, made])
  return <FigureField label={label} pointer={pointer} value={typeof value === 'number' ? value : undefined} error={work.wrong.get(pointer)} assumed={useAssumed(pointer)} measured={useMeasured(pointer)} {...rest} onChange={onChange} onNear={onNear} />
}

/** A choice of the document by its JSON Pointer. */
export function Choice({ work, label, pointer, options, standard, number, yesNo, put, value: given }: { work: WorkbenchProps; label: string; pointer: string; options: Record<string, string>; standard?: string; number?: boolean; yesNo?: boolean; value?: string; put?: (light: Light, picked: string | undefined) => Light }) {
  const id = useId()
  const kept = useShown(work.light, pointer) as string | number | boolean | undefined
  const why = useAssumed(pointer)
  const value = given ?? (kept === undefined ? (standard ?? '') : String(kept))
  const typed = (v: string) => (v === standard ? undefined : number ? Number(v) : yesNo ? v === 'true' : v)
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, borderBottom: '1px solid var(--line)', py: 0.25 }}>
      <Box id={id} sx={{ flex: 1, color: 'var(--ink-soft)' }}>
        {label}
      </Box>
      <Select variant="standard" disableUnderline displayEmpty labelId={id} id={`${id}-select`} value={value} SelectDisplayProps={{ 'data-pointer': pointer, title: why && `Assumed: ${why}` } as object} onChange={(e) => work.change((l) => put ? put(l, e.target.value === standard ? undefined : e.target.value) : set(l, pointer, typed(e.target.value)), label)} sx={{ fontSize: 14, color: 'var(--power-ink)', ...(why && { background: 'repeating-linear-gradient(-45deg, transparent 0 4px, var(--hatch) 4px 5.5px)' }) }}>
        {Object.entries(options).map(([key, name]) => (
          <MenuItem key={key} value={key} dense>
            {name}
          </MenuItem>
        ))}
      </Select>
    </Box>
  )
}

/** A few words of the document. */
export function Words({ work, label, pointer, fallback }: { work: WorkbenchProps; label: string; pointer: string; fallback?: string }) {
  const id = useId()
  const value = (useShown(work.light, pointer) as string | undefined) ?? ''
  return (
    <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1, borderBottom: '1px solid var(--line)', py: 0.35 }}>
      <Box component="label" htmlFor={id} sx={{ flex: '1 1 auto', color: 'var(--ink-soft)' }}>{label}</Box>
      <Box component="input" id={id} data-pointer={pointer} key={value} defaultValue={value} placeholder={fallback} maxLength={64} onBlur={(e) => e.target.value.trim() !== value && work.change((l) => set(l, pointer, e.target.value.trim() || undefined), label)}
        sx={{ width: 150, textAlign: 'right', border: 0, borderBottom: '1px dotted var(--power)', background: 'none', color: 'var(--power-ink)', font: 'inherit', p: 0, '&::placeholder': { color: 'var(--ink-soft)', opacity: 1 } }} />
    </Box>
  )
}

/** Free text of the document, saved when it is left. */
export function LongWords({ work, label, pointer }: { work: WorkbenchProps; label: string; pointer: string }) {
  const id = useId()
  const value = (useShown(work.light, pointer) as string | undefined) ?? ''
  return (
    <Box sx={{ py: 0.5 }}>
      <Box component="label" htmlFor={id} sx={{ color: 'var(--ink-soft)' }}>{label}</Box>
      <Box component="textarea" id={id} data-pointer={pointer} key={value} defaultValue={value} rows={3} maxLength={4000} onBlur={(e: React.FocusEvent<HTMLTextAreaElement>) => e.target.value.trim() !== value && work.change((l) => set(l, pointer, e.target.value.trim() || undefined), label)}
        sx={{ width: '100%', border: '1px dotted var(--power)', background: 'none', color: 'var(--power-ink)', font: 'inherit', fontSize: 13.5, p: 0.5, resize: 'vertical' }} />
    </Box>
  )
}

/** A yes or no of the document; inverted where the file names the exception. */
export function Tick({ work, label, pointer, inverted }: { work: WorkbenchProps; label: string; pointer: string; inverted?: boolean }) {
  const id = useId()
  const on = (useShown(work.light, pointer) === true) !== (inverted ?? false)
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', py: 0.5, borderBottom: '1px solid var(--line)' }}>
      <Box component="label" htmlFor={id} sx={{ flex: 1, color: 'var(--ink-soft)' }}>
        {label}
      </Box>
      <input id={id} type="checkbox" data-pointer={pointer} checked={on} onChange={(e) => work.change((l) => set(l, pointer, e.target.checked !== (inverted ?? false) ? true : undefined), label)} />
    </Box>
  )
}

export function WorkbenchTitle({ title, keyName, children }: { title: string; keyName: string; children?: ReactNode }) {
  return (
    <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1, mb: 0.5 }}>
      <Box component="h2" sx={{ fontSize: 15, m: 0 }}>
        {title}
      </Box>
      <Box component="kbd" sx={{ px: 0.6, fontSize: 11, border: '1px solid var(--line)', borderRadius: 0.5, color: 'var(--ink-soft)' }}>
        {keyName}
      </Box>
      <Box sx={{ ml: 'auto' }}>{children}</Box>
    </Box>
  )
}
