import { memo, useId, useRef, useState, type KeyboardEvent, type ReactNode } from 'react'
import { range } from '../document/pointer'
import { useSettings } from '../settings/SettingsProvider'
import css from './figures.module.css'
import { digits, editable, isBare, parse, show, text, UnitError } from '../units/quantity'

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
  /** Why this figure stands there though nobody gave it. */
  assumed?: string
  /** Another way to say it, such as volts for a charge; undefined: it is not said so. */
  reads?: (text: string) => number | undefined
  /** What was read that this figure stands for. */
  measured?: string
  /** Told what an arrow key would make of it when it is gone into. */
  onNear?: (values: number[]) => void
}

/** How many times off a bare number is asked about, chosen: its unit was meant to be another. */
const farOff = 100

/** A share below which a bare number of a percent or less is not asked about, chosen: it stands among its like. */
const smallShare = 0.05

/**
 * A figure changed in place: type it with any unit, nudge it with the arrow keys (Shift for ten steps), Escape takes
 * the typing back. What cannot be used stays in the field with the reason under it; onChange may refuse it too, with a UnitError.
 */
export const FigureField = memo(function FigureField({ label, pointer, quantity, value, fallback, hint, error, onChange, required, step, assumed, measured, reads, onNear }: Props) {
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
        const x = reads?.(typed) ?? parse(typed, quantity, unit)
        // 0.9 in a field of percents: most write a share so.
        if (quantity === 'fraction' && isBare(typed) && x > 0 && x <= 0.01 && !(value !== undefined && value < smallShare)) throw new UnitError(`${+(x * 100).toPrecision(4)} % or ${+(x * 1e4).toPrecision(4)} %? Type the %`)
        check(x)
        // From a blink to what no eye sees is a thousandfold: that is no slip.
        const far = value !== undefined && value > 0 && x > 0 && quantity !== 'count' && quantity !== 'fraction' && quantity !== 'frequency' && (x / value >= farOff || value / x >= farOff)
        if (far && isBare(typed)) throw new UnitError(`${text(editable(x, quantity, settings))} in the place of ${text(editable(value, quantity, settings))}? Type the unit if so`)
        if (x !== value) onChange(x, true)
      }
      setTyped(undefined)
      setWrong('')
    } catch (e) {
      setWrong((e as Error).message)
    }
  }
  const stepped = (from: { number: string }, by: number) => {
    const x = Number(from.number)
    const size = step ?? (limits.whole || quantity === 'temperature' ? 1 : 10 ** Math.floor(Math.log10(Math.max(Math.abs(x), 1e-6)) - 1))
    const next = parse(digits(Math.round((x + by * size) / size) * size, 6), quantity, unit)
    check(next)
    return next
  }
  const nudge = (by: number) => {
    if (shown === undefined || value === undefined || typed !== undefined) return
    try {
      const next = stepped(shown, by)
      nudged.current = true
      setWrong('')
      onChange(next, false)
    } catch (e) {
      setWrong((e as Error).message)
    }
  }
  const near = () => {
    if (!shown || !onNear) return
    onNear([-1, 1].flatMap((by) => {
      try {
        return stepped(shown, by)
      } catch {
        return [] // there its range ends
      }
    }))
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
  // What typing comes to, where the field will not show it just so.
  let understood = ''
  if (typed !== undefined && typed.trim() !== '' && !wrong) {
    try {
      const said = text(show(reads?.(typed) ?? parse(typed, quantity, unit), quantity, settings, 4))
      if (said !== typed.trim()) understood = `= ${said}`
    } catch {
      // said when it is left
    }
  }
  return (
    <div className={css.field}>
      <div className={css.row}>
        <label htmlFor={id} className={css.label}>
          {label}
        </label>
        <span className={css.box}>
          <input
            id={id}
            className={`figure ${css.input}${assumed ? ` ${css.assumed}` : ''}`}
            title={assumed && `Assumed: ${assumed}`}
            aria-description={assumed && `assumed: ${assumed}`}
            data-pointer={pointer}
            inputMode="text"
            autoComplete="off"
            spellCheck={false}
            aria-invalid={say ? true : undefined}
            aria-describedby={say ? `${id}-wrong` : undefined}
            placeholder={fallback ?? '—'}
            value={typed ?? (shown ? text(shown) : '')}
            onChange={(e) => setTyped(e.target.value)}
            onFocus={(e) => {
              e.target.select()
              near()
            }}
            onBlur={commit}
            onKeyDown={onKey}
          />
        </span>
        {understood && <div className={`figure ${css.understood}`} data-understood>{understood}</div>}
      </div>
      {hint && !say && <div className={css.hint}>{hint}</div>}
      {measured && !say && <div className={css.measured} data-measured>✓ {measured}</div>}
      {say && (
        <div id={`${id}-wrong`} role="alert" className={css.wrong}>
          {say}
        </div>
      )}
    </div>
  )
})

/** A computed figure in the same row form. */
export function ReadRow({ label, children, tone }: { label: string; children: ReactNode; tone?: string }) {
  return (
    <div className={`${css.field} ${css.row}`}>
      <div className={css.label}>{label}</div>
      <div className={`figure ${css.read}`} style={tone ? { color: tone } : undefined}>
        {children}
      </div>
    </div>
  )
}
