import quantities from './units.gen.json'

/** Reads and shows figures in the units people use. The table of units is written from the server's. */
export type Quantity = (typeof quantities)[number]['name']

export interface Preferences {
  fahrenheit: boolean
  inches: boolean
}

interface Unit {
  symbol: string
  factor: number
  offset: number
}

const table = new Map<string, Unit[]>(quantities.map((q) => [q.name, q.units]))

export class UnitError extends Error {}

/** Parses what was typed; a bare number is in the unit the field shows. The answer is in the base unit. */
export function parse(text: string, quantity: string, shown: string): number {
  const units = table.get(quantity) ?? []
  let rest = text.replaceAll(/[\u00a0\u202f]/g, ' ').replaceAll('−', '-').replaceAll('μ', 'µ').trim()
  if (rest === '') throw new UnitError('A figure is missing')
  // Codes printed on resistors: 2R2, 4k7 (IEC 60062).
  const code = quantity === 'resistance' && /^(\d*)([RkM])(\d+)$/.exec(rest)
  if (code) rest = `${code[1]}.${code[3]} ${code[2] === 'M' ? 'MΩ' : code[2]}`
  if (quantity === 'resistance') rest = wireWords(rest)
  let total = 0
  for (let first = true; rest !== ''; first = false) {
    const number = /^[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?/.exec(rest)?.[0]
    if (!number) throw new UnitError(`“${text.trim()}” is not a number`)
    let symbol = rest.slice(number.length).trim()
    rest = ''
    if (quantity === 'duration') {
      const next = symbol.search(/\d/)
      if (next >= 0) {
        rest = symbol.slice(next)
        symbol = symbol.slice(0, next).trim()
      }
    }
    const unit = find(units, symbol === '' && first ? shown : symbol)
    if (!unit || (symbol === '' && !first)) {
      const known = units.map((u) => u.symbol).filter((s) => s !== '' && !s.startsWith('u') && !s.includes(' '))
      if (quantity === 'resistance') known.push('or a wire: 1.2 m AWG 24')
      throw new UnitError(`“${symbol}” is not a unit here; use ${known.length > 0 ? known.join(', ') : 'a plain number'}`)
    }
    total += Number(number.replace(',', '.')) * unit.factor + unit.offset
  }
  if (!Number.isFinite(total)) throw new UnitError(`“${text.trim()}” is not a number that can be used`)
  return Number(total.toPrecision(14)) // 350 mA is 0.35 A, not 0.35000000000000003
}

/** A wire's gauge or cross-section, spelled the one way the table knows it: behind its length. */
function wireWords(text: string): string {
  const first = /^(?:awg\s*(\d+)|(\d+)\s*(?:awg|gauge|ga))\s*,?\s*(.+)$/i.exec(text)
  if (first) return `${first[3]} AWG ${first[1] ?? first[2]}`
  const last = /^(.+?)\s*(?:of\s+)?(?:awg\s*(\d+)|\b(\d+)\s*(?:awg|gauge|ga))$/i.exec(text)
  if (last) return `${last[1]} AWG ${last[2] ?? last[3]}`
  const section = /^(.+?)\s+(?:of\s+)?([\d.]+)\s*(?:mm²|mm2|mm\^2)$/i.exec(text)
  return section ? `${section[1]} ${section[2]} mm²` : text
}

/** Whether a figure was typed without its unit. */
export const isBare = (text: string) => /^\s*[+-]?[\d.,]+\s*$/.test(text)

/** The quantities, of some, that a spelling of a unit belongs to. */
export const quantitiesOf = (symbol: string, among: string[]): string[] => among.filter((q) => symbol !== '' && find(table.get(q) ?? [], symbol) !== undefined)

function find(units: Unit[], symbol: string): Unit | undefined {
  const exact = units.find((u) => u.symbol === symbol)
  if (exact || symbol === '') return exact ?? units[0]
  // The wrong case is taken where it is not ambiguous: ma and v, but not MA for mA.
  const near = units.filter((u) => u.symbol.toLowerCase() === symbol.toLowerCase() && !(symbol.length > 1 && /^m/i.test(symbol) && symbol[0] !== u.symbol[0]))
  return near.length === 1 ? near[0] : undefined
}

const scaled = new Set(['current', 'voltage', 'power', 'resistance', 'charge'])

/** The unit a value is shown in, by its size and the reader's choice. */
export function unitFor(value: number, quantity: string, prefs: Preferences): Unit {
  const units = table.get(quantity) ?? []
  const named = (symbol: string) => units.find((u) => u.symbol === symbol) ?? units[0]!
  const base = units[0] ?? { symbol: '', factor: 1, offset: 0 }
  const size = Math.abs(value)
  if (quantity === 'fraction') return named('%')
  if (quantity === 'temperature') return prefs.fahrenheit ? named('°F') : base
  if (quantity === 'duration') return size < 90 ? base : size < 5400 ? named('min') : named('h')
  if (quantity === 'temperatureCoefficient') return named('mV/K')
  if (quantity === 'area') return named(prefs.inches ? 'in²' : size < 1e-4 ? 'mm²' : 'cm²')
  if (quantity === 'length') return prefs.inches && size >= 1e-3 ? named('in') : named(size < 1e-3 && size > 0 ? 'µm' : size < 1 ? 'mm' : 'm')
  if (quantity === 'airFlow') return prefs.inches ? named('CFM') : base
  if (quantity === 'speed') return prefs.inches ? named('mph') : base
  if (quantity === 'frequency') return size < 1e3 ? base : named(size < 1e6 ? 'kHz' : 'MHz')
  if (quantity === 'mass') return prefs.inches ? named(size < 0.4 ? 'oz' : 'lb') : named(size < 1 ? 'g' : 'kg')
  if (scaled.has(quantity) && size > 0 && size < 1) return named('m' + base.symbol)
  if (quantity === 'resistance' && size >= 1e6) return named('M' + base.symbol)
  if (scaled.has(quantity) && size >= 1e4) return units.find((u) => u.symbol === 'k' + base.symbol) ?? base
  return base
}

/** Digits of a number, never in exponent form. */
export function digits(value: number, significant: number): string {
  if (value === 0) return '0'
  const decimals = significant - 1 - Math.floor(Math.log10(Math.abs(value)))
  if (decimals <= 0) return (Math.round(value * 10 ** decimals) / 10 ** decimals).toFixed(0)
  return value.toFixed(Math.min(decimals, 6))
}

/** A current as bench meters show it: milliamperes below one ampere. */
export const amps = (a: number, significant = 3): string => (a !== 0 && Math.abs(a) < 0.9995 ? `${digits(a * 1000, significant)} mA` : `${digits(a, significant)} A`)

export interface Shown {
  number: string
  unit: string
}

/** A value for reading: number and unit apart, so that the unit can stand smaller. */
export function show(value: number, quantity: string, prefs: Preferences, significant = 3): Shown {
  if (quantity === 'clock') return { number: clock(value), unit: '' }
  const unit = unitFor(value, quantity, prefs)
  const x = (value - unit.offset) / unit.factor
  if (quantity === 'temperature' || quantity === 'count') return { number: x.toFixed(0), unit: unit.symbol }
  return { number: digits(x, significant), unit: unit.symbol }
}

/** How far a value is left open, in the unit the value is shown in. */
export function within(spread: number, value: number, quantity: string, prefs: Preferences): Shown {
  const unit = unitFor(value, quantity, prefs)
  return { number: digits(spread / unit.factor, 2), unit: unit.symbol === '°C' ? 'K' : unit.symbol } // a difference
}

/** A value for editing: no digit that was typed is lost, none is made up. */
export function editable(value: number, quantity: string, prefs: Preferences): Shown {
  const unit = unitFor(value, quantity, prefs)
  const x = (value - unit.offset) / unit.factor
  return { number: String(Number(x.toPrecision(6))), unit: unit.symbol }
}

export const text = (s: Shown): string => (s.unit ? `${s.number} ${s.unit}` : s.number)

const roundTimes = [1, 2, 5, 10, 20, 30, 60, 120, 300, 600, 1200, 1800, 3600, 7200, 10800, 21600, 43200, 86400, 172800, 432000, 864000, 2592000, 8640000, 31536000]

/** How far apart marks stand on a time axis up to an end, at round times: six at most. */
export const markEvery = (endS: number): number => roundTimes.find((s) => endS / s <= 6) ?? endS / 6

/** A round time on an axis. */
export function mark(s: number): string {
  if (s === 0) return '0'
  if (s < 60 || s >= 100 * 3600) return clock(s)
  if (s < 120 && s % 60 !== 0) return `${s.toFixed(0)} s`
  if (s < 3600) return `${Math.round(s / 60)} min`
  return s % 3600 === 0 ? `${s / 3600} h` : clock(s)
}

/** Hours and minutes for a duration: 3 h 24, 12 min, 40 s. */
export function clock(s: number): string {
  if (s < 100) return `${s.toFixed(0)} s`
  if (s < 3600) return `${Math.round(s / 60)} min`
  if (s < 100 * 3600) {
    const minutes = Math.round(s / 60)
    return `${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, '0')}`
  }
  return `${(s / 86400).toFixed(s < 86400 * 20 ? 1 : 0)} d`
}
