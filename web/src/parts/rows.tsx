import { wordOf } from '../units/words'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import { useId, useRef, useState } from 'react'
import type { Part } from '../api/client'
import { get } from '../document/pointer'
import { FigureField } from '../figures/FigureField'
import { useSettings } from '../settings/SettingsProvider'
import { show, text } from '../units/quantity'
import { bare, quantityOf, readNumbers, readPoints, writePoints, type Figure } from './description'

function Row({ label, title, children, error }: { label: React.ReactNode; title?: string; children: React.ReactNode; error?: string }) {
  return (
    <Box sx={{ borderBottom: '1px solid var(--line)', py: 0.35 }}>
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1 }} title={title}>
        <Box sx={{ flex: '1 1 auto', color: 'var(--ink-soft)' }}>{label}</Box>
        {children}
      </Box>
      {error && (
        <Box role="alert" sx={{ fontSize: 12, color: 'var(--stop)', textAlign: 'right' }}>
          {error}
        </Box>
      )}
    </Box>
  )
}

const inputStyle = { border: 0, borderBottom: '1px dotted var(--power)', background: 'none', color: 'var(--power-ink)', font: 'inherit', fontSize: 14, p: 0, minWidth: 0 }

/** Words typed in one line. */
export function WordRow({ label, title, pointer, value, required, onChange }: { label: string; title?: string; pointer?: string; value: string; required?: boolean; onChange: (v: string | undefined) => void }) {
  const id = useId()
  return (
    <Row label={<label htmlFor={id}>{label}</label>} title={title}>
      <Box component="input" id={id} data-pointer={pointer} key={value} defaultValue={value} maxLength={500} sx={{ ...inputStyle, flex: '1 1 50%', textAlign: 'right' }}
        onBlur={(e) => {
          const typed = e.target.value.trim()
          if (typed === value) return
          if (typed === '' && required) e.target.value = value
          else onChange(typed === '' ? undefined : typed)
        }} />
    </Row>
  )
}

/** One of a few words. */
export function ChoiceRow({ label, title, pointer, value, options, onChange }: { label: string; title?: string; pointer?: string; value: string; options: string[]; onChange: (v: string | undefined) => void }) {
  const id = useId()
  return (
    <Row label={<span id={id}>{label}</span>} title={title}>
      <Select variant="standard" disableUnderline labelId={id} id={`${id}-select`} SelectDisplayProps={{ 'data-pointer': pointer } as object} value={options.includes(value) ? value : ''} displayEmpty onChange={(e) => onChange(e.target.value === '' ? undefined : e.target.value)} sx={{ fontSize: 14, color: 'var(--power-ink)' }}>
        <MenuItem value="" dense>
          not said
        </MenuItem>
        {options.map((o) => (
          <MenuItem key={o} value={o} dense>
            {wordOf(o, pointer)}
          </MenuItem>
        ))}
      </Select>
    </Row>
  )
}

/** A figure of a part in the form its kind needs. */
export function FigureRow({ figure: f, value, error, pointer, onChange }: { figure: Figure; value: unknown; error?: string; pointer: string; onChange: (v: unknown, done?: boolean) => void }) {
  const id = useId()
  switch (f.kind) {
    case 'number':
      return <FigureField label={f.label} pointer={pointer} quantity={f.quantity} value={value as number | undefined} fallback="not known" error={error} onChange={onChange} />
    case 'choice':
      return <ChoiceRow label={f.label} title={f.doc} pointer={pointer} value={(value as string | undefined) ?? ''} options={f.options} onChange={onChange} />
    case 'yes-no':
      return (
        <Row label={<label htmlFor={id}>{f.label}</label>} title={f.doc}>
          <input id={id} type="checkbox" data-pointer={pointer} checked={value === true} onChange={(e) => onChange(e.target.checked ? true : undefined)} />
        </Row>
      )
    case 'word':
      return f.of.length > 0 ? (
        <WordRow label={f.label} title={f.doc} pointer={pointer} value={((value as string[] | undefined) ?? []).join(', ')} onChange={(v) => onChange(v?.split(',').map((w) => w.trim()).filter(Boolean))} />
      ) : (
        <WordRow label={f.label} title={f.doc} pointer={pointer} value={(value as string | undefined) ?? ''} onChange={onChange} />
      )
    case 'numbers':
      return <NumbersRow figure={f} pointer={pointer} value={(value as number[] | undefined) ?? []} onChange={onChange} />
    case 'points':
      return <PointsRow figure={f} pointer={pointer} value={value as object[] | undefined} error={error} onChange={onChange} />
    case 'spectrum':
      return <SpectrumRow pointer={pointer} value={value as Part['emitter'] extends infer E ? (E extends { spectrum?: infer S } ? S : undefined) : undefined} error={error} onChange={onChange} />
  }
}

/** What typing comes to so far, in this product's words; nothing while it cannot be read yet. */
function useUnderstood(typed: string | undefined, read: (typed: string) => [value: number, quantity: string][]): string {
  const { settings } = useSettings()
  if (typed === undefined) return ''
  try {
    return read(typed).map(([value, quantity]) => text(show(value, quantity, settings))).join(' · ')
  } catch {
    return '' // said when the field is left
  }
}

function Understood({ words }: { words: string }) {
  return words ? <Box className="figure" data-understood aria-live="polite" sx={{ fontSize: 12, color: 'var(--margin-ink)', textAlign: 'right' }}>= {words}</Box> : null
}

/** A list of figures of one quantity, each with its unit or without. */
function NumbersRow({ figure: f, pointer, value, onChange }: { figure: Figure; pointer: string; value: number[]; onChange: (v: unknown) => void }) {
  const [wrong, setWrong] = useState('')
  const [typed, setTyped] = useState<string>()
  const understood = useUnderstood(typed, (t) => readNumbers(t, f.quantity).map((x) => [x, f.quantity]))
  const take = () => {
    if (typed === undefined) return
    try {
      const numbers = readNumbers(typed, f.quantity)
      setTyped(undefined)
      setWrong('')
      onChange(numbers.length > 0 ? numbers : undefined)
    } catch (e) {
      setWrong((e as Error).message)
    }
  }
  const id = useId()
  return (
    <Row label={<label htmlFor={id}>{f.label}</label>} title={f.doc}>
      <Box sx={{ textAlign: 'right' }}>
        <Box component="input" id={id} data-pointer={pointer} className="figure" value={typed ?? value.join('; ')} aria-invalid={wrong ? true : undefined} onChange={(e: React.ChangeEvent<HTMLInputElement>) => setTyped(e.target.value)} onBlur={take} onKeyDown={(e: React.KeyboardEvent) => e.key === 'Enter' && take()} sx={{ width: 168, textAlign: 'right', border: 0, borderBottom: '1px dotted var(--power)', background: 'none', color: 'var(--power-ink)', fontSize: 14, p: 0 }} />
        <Understood words={understood} />
        {wrong && <Box role="alert" sx={{ fontSize: 12, color: 'var(--stop)' }}>{wrong}</Box>}
      </Box>
    </Row>
  )
}

const pointWord: Record<string, string> = { currentA: 'A', voltageV: 'V', x: 'where', charge: 'charge 0 to 1', capacityAh: 'Ah', caseC: 'case °C', 'caseC?': 'case or sink °C if read warm', 'junctionC?': 'or junction °C (– for none)', 'inputV?': 'input V (may be left out)', efficiency: 'efficiency 0 to 1', relative: 'power per nm', 'relativeLight?': 'light over the last (may be left out)' }

/** Points typed or pasted, one a line; what cannot be read stays with its reason. */
export function PointsRow({ figure: f, pointer, value, error, onChange }: { figure: Pick<Figure, 'label' | 'doc' | 'of'>; pointer?: string; value: readonly object[] | undefined; error?: string; onChange: (v: unknown) => void }) {
  const id = useId()
  const shown = writePoints(value, f.of)
  const [typed, setTyped] = useState<string>()
  const [wrong, setWrong] = useState('')
  const file = useRef<HTMLInputElement>(null)
  const lines = typed ?? shown
  const understood = useUnderstood(typed, (t) => {
    const last = readPoints(t, f.of).at(-1) ?? {}
    return f.of.flatMap((name) => (last[bare(name)] === undefined ? [] : [[last[bare(name)]!, quantityOf(bare(name))]]))
  })
  const take = (lines: string) => {
    try {
      const points = readPoints(lines, f.of)
      setWrong('')
      setTyped(undefined)
      if (writePoints(points, f.of) !== shown) onChange(points.length > 0 ? points : undefined)
    } catch (e) {
      setTyped(lines)
      setWrong((e as Error).message)
    }
  }
  return (
    <Box sx={{ borderBottom: '1px solid var(--line)', py: 0.35 }} title={f.doc}>
      <Box sx={{ display: 'flex', gap: 1 }}>
        <Box component="label" htmlFor={id} sx={{ flex: 1, color: 'var(--ink-soft)' }}>
          {f.label}
          <Box component="span" sx={{ display: 'block', fontSize: 12 }}>{f.of.map((name) => pointWord[name] ?? name).join(', ')}: one point a line, typed, pasted or </Box>
          <Button sx={{ p: 0, minWidth: 0, fontSize: 12 }} onClick={() => file.current?.click()}>from a file (CSV)</Button>
          <input ref={file} type="file" hidden accept=".csv,.txt,.tsv,text/csv,text/plain" aria-label={`File of ${f.label.toLowerCase()}`}
            onChange={(e) => {
              void e.target.files?.[0]?.text().then(take)
              e.target.value = ''
            }} />
        </Box>
        <Box component="textarea" id={id} data-pointer={pointer} className="figure" value={lines} rows={Math.min(Math.max(lines.split('\n').length, 2), 8)} spellCheck={false} aria-invalid={wrong || error ? true : undefined}
          onChange={(e) => setTyped(e.target.value)}
          onBlur={() => typed !== undefined && take(typed)}
          sx={{ width: 168, fontSize: 13, color: 'var(--power-ink)', background: 'none', border: '1px dotted var(--power)', resize: 'vertical', '&[aria-invalid]': { color: 'var(--stop)', borderColor: 'var(--stop)' } }} />
      </Box>
      <Understood words={understood} />
      {(wrong || error) && (
        <Box role="alert" sx={{ fontSize: 12, color: 'var(--stop)', textAlign: 'right' }}>
          {wrong || error}
        </Box>
      )}
    </Box>
  )
}

interface Spectrum {
  peakNm?: number
  widthNm?: number
  whiteK?: number
  table?: { nm: number; relative: number }[]
}

function SpectrumRow({ pointer, value, error, onChange }: { pointer: string; value: Spectrum | undefined; error?: string; onChange: (v: unknown, done?: boolean) => void }) {
  const kind = value?.whiteK !== undefined ? 'white' : value?.peakNm !== undefined ? 'one peak' : value?.table ? 'a table' : ''
  const begin: Record<string, Spectrum | undefined> = { white: { whiteK: 4000 }, 'one peak': { peakNm: 660, widthNm: 20 }, 'a table': { table: [{ nm: 400, relative: 0 }, { nm: 550, relative: 1 }, { nm: 700, relative: 0 }] } }
  const field = (name: keyof Spectrum, label: string) => (
    <FigureField label={label} pointer={`${pointer}/${name}`} quantity="count" value={get(value, `/${name}`) as number | undefined} onChange={(v, done) => onChange({ ...value, [name]: v }, done)} />
  )
  return (
    <>
      <ChoiceRow label="Spectrum" pointer={pointer} value={kind} options={Object.keys(begin)} onChange={(k) => onChange(k ? begin[k] : undefined)} />
      {kind === 'white' && field('whiteK', 'Colour temperature, K')}
      {kind === 'one peak' && field('peakNm', 'Peak, nm')}
      {kind === 'one peak' && field('widthNm', 'Width at half, nm')}
      {kind === 'a table' && <PointsRow figure={{ label: 'Spectrum', doc: 'Wavelength and power per nm, any scale', of: ['nm', 'relative'] }} value={value?.table} error={error} onChange={(table) => onChange({ table })} />}
    </>
  )
}
