import Box from '@mui/material/Box'
import { useId, useRef, useState, type KeyboardEvent, type ReactNode } from 'react'
import { range } from '../document/pointer'
import { useSettings } from '../settings/SettingsProvider'
import { digits, editable, parse, text, UnitError } from '../units/quantity'

interface Props {
  label: string
  pointer: string
  quantity: string
  value: number | undefined
  /** Shown where no figure was given: what is taken instead. */
  fallback?: string
  hint?: ReactNode
  error?: string
  onChange: (value: number | undefined, done: boolean) => void
  required?: boolean
  /** What an arrow key changes it by; absent: one in its second digit. */
  step?: number
}

/**
 * A figure changed in place: type it with any unit, nudge it with the arrow keys (Shift for ten steps), Escape takes
 * the typing back. What cannot be used stays in the field with the reason under it; onChange may refuse it too, with a UnitError.
 */
export function FigureField({ label, pointer, quantity, value, fallback, hint, error, onChange, required, step }: Props) {
  const { settings } = useSettings()
  const [typed, setTyped] = useState<string>()
  const [wrong, setWrong] = useState('')
  const nudged = useRef(false)
  const id = useId()
  const shown = value === undefined ? undefined : editable(value, quantity, settings)
  const unit = (shown ?? editable(1, quantity, settings)).unit
  const limits = range(pointer)

  const check = (x: number) => {
    if (limits.whole && !Number.isInteger(x)) throw new UnitError('A whole number is needed')
    const say = (limit: number) => text(editable(limit, quantity, settings))
    if (x < limits.minimum) throw new UnitError(`Too low: ${say(limits.minimum)} at least`)
    if (x > limits.maximum) throw new UnitError(`Too high: ${say(limits.maximum)} at most`)
  }
  const commit = () => {
    if (nudged.current) {
      nudged.current = false
      onChange(value, true)
    }
    if (typed === undefined) return
    try {
      if (typed.trim() === '' && !required) {
        if (value !== undefined) onChange(undefined, true)
      } else {
        const x = parse(typed, quantity, unit)
        check(x)
        if (x !== value) onChange(x, true)
      }
      setTyped(undefined)
      setWrong('')
    } catch (e) {
      setWrong((e as Error).message)
    }
  }
  const nudge = (by: number) => {
    if (shown === undefined || value === undefined || typed !== undefined) return
    const x = Number(shown.number)
    const size = step ?? (limits.whole || quantity === 'temperature' ? 1 : 10 ** Math.floor(Math.log10(Math.max(Math.abs(x), 1e-6)) - 1))
    try {
      const next = parse(digits(Math.round((x + by * size) / size) * size, 6), quantity, unit)
      check(next)
      nudged.current = true
      setWrong('')
      onChange(next, false)
    } catch (e) {
      setWrong((e as Error).message)
    }
  }
  const onKey = (e: KeyboardEvent) => {
    if (e.key === 'Enter') commit()
    else if (e.key === 'Escape') {
      setTyped(undefined)
      setWrong('')
    } else if (e.key === 'ArrowUp' || e.key === 'ArrowDown') {
      e.preventDefault()
      nudge((e.key === 'ArrowUp' ? 1 : -1) * (e.shiftKey ? 10 : 1))
    }
  }
  const say = wrong || error
  return (
    <Box sx={{ borderBottom: '1px solid var(--line)', py: 0.35 }}>
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1 }}>
        <Box component="label" htmlFor={id} sx={{ flex: '1 1 auto', color: 'var(--ink-soft)' }}>
          {label}
        </Box>
        <Box
          component="input"
          id={id}
          className="figure"
          data-pointer={pointer}
          inputMode="text"
          autoComplete="off"
          spellCheck={false}
          aria-invalid={say ? true : undefined}
          aria-describedby={say ? `${id}-wrong` : undefined}
          placeholder={fallback ?? '—'}
          value={typed ?? (shown ? text(shown) : '')}
          onChange={(e) => setTyped(e.target.value)}
          onFocus={(e) => e.target.select()}
          onBlur={commit}
          onKeyDown={onKey}
          sx={{
            width: 118, flex: '0 0 auto', textAlign: 'right', border: 0, borderBottom: '1px dotted var(--power)', background: 'none', color: 'var(--power-ink)',
            fontSize: 14, p: 0, pb: '1px', borderRadius: 0,
            '&::placeholder': { color: 'var(--ink-soft)', opacity: 1 },
            '&[aria-invalid]': { color: 'var(--stop)', borderBottomColor: 'var(--stop)' },
          }}
        />
      </Box>
      {hint && !say && <Box sx={{ fontSize: 12, color: 'var(--ink-soft)', textAlign: 'right' }}>{hint}</Box>}
      {say && (
        <Box id={`${id}-wrong`} role="alert" sx={{ fontSize: 12, color: 'var(--stop)', textAlign: 'right' }}>
          {say}
        </Box>
      )}
    </Box>
  )
}

/** A computed figure in the same row form. */
export function ReadRow({ label, children, tone }: { label: string; children: ReactNode; tone?: string }) {
  return (
    <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1, borderBottom: '1px solid var(--line)', py: 0.35 }}>
      <Box sx={{ flex: '1 1 auto', color: 'var(--ink-soft)' }}>{label}</Box>
      <Box className="figure" sx={{ color: tone ?? 'inherit', textAlign: 'right' }}>
        {children}
      </Box>
    </Box>
  )
}
