import type { Part } from '../api/client'
import { resolve, schemas, type Schema } from '../document/schema'
import { parse, quantitiesOf } from '../units/quantity'

export type PartKind = 'emitter' | 'driver' | 'cell' | 'strip' | 'load' | 'profile' | 'protection' | 'charger'
export const partKinds: PartKind[] = ['emitter', 'driver', 'cell', 'strip', 'load', 'profile', 'protection', 'charger']
export const kindWord: Record<PartKind, [one: string, many: string]> = { emitter: ['emitter', 'Emitters'], driver: ['driver', 'Drivers'], cell: ['cell', 'Cells'], strip: ['strip', 'Strip'], load: ['measured load', 'Measured loads'], profile: ['profile', 'Profiles'], protection: ['protection board', 'Protection'], charger: ['charger', 'Chargers'] }

export const kindOf = (p: Part): PartKind => (p.emitter ? 'emitter' : p.driver ? 'driver' : p.cell ? 'cell' : p.strip ? 'strip' : p.load ? 'load' : p.profile ? 'profile' : p.protection ? 'protection' : 'charger')

/** One figure of a part, as the published description of the light file has it. */
export interface Figure {
  name: string
  label: string
  doc: string
  kind: 'number' | 'word' | 'choice' | 'yes-no' | 'points' | 'numbers' | 'spectrum'
  quantity: string
  options: string[]
  /** The names of the figures of one point; one that may be left out ends in a question mark. */
  of: string[]
}

const names: Record<PartKind, string> = { emitter: 'Emitter', driver: 'Driver', cell: 'Cell', strip: 'Strip', load: 'MeasuredLoad', profile: 'Profile', protection: 'Protection', charger: 'Charger' }
const shares = new Set(['tolerance', 'programTolerance', 'efficiency', 'powerFactor', 'dimFloor', 'ripple', 'health', 'fluxBin', 'endShare', 'prechargeShare', 'selfDischargePerMonth'])
const bySuffix: [RegExp, string][] = [
  [/VPerK$/, 'temperatureCoefficient'], [/M3PerH$/, 'airFlow'], [/MPerS$/, 'speed'], [/WPerM2$/, 'irradiance'], [/M2$/, 'area'], [/[kK]PerW$/, 'thermalResistance'], [/JPerK$/, 'heatCapacity'], [/LmPerW$/, 'efficacy'], [/WPerM$/, 'powerPerLength'], [/LmPerM$/, 'fluxPerLength'], [/OhmPerM$/, 'resistance'], [/Per(V|M)$/, 'count'], [/[a-z]H$/, 'hours'], [/Ah$/, 'charge'], [/Ohm$/, 'resistance'], [/Kg$/, 'mass'],
  [/Lm$/, 'luminousFlux'], [/Hz$/, 'frequency'], [/AtA$/, 'current'], [/[a-z]A$/, 'current'], [/[a-z]V$/, 'voltage'], [/[a-z]W$/, 'power'], [/[a-z]C$/, 'temperature'], [/[a-z]M$/, 'length'], [/[a-z]S$/, 'duration'],
]

/** A reading of a measured load. */
export const readingsOf = ['voltageV', 'currentA', 'relativeLight?']

/** The figures of one point, as people write them: what is set first, then what comes of it. */
const pointOf: Record<string, string[]> = {
  forward: ['currentA', 'voltageV', 'caseC?', 'junctionC?'], efficiencyPoints: ['currentA', 'efficiency', 'inputV?'], fluxAgainstCurrent: ['x', 'ratio'], fluxAgainstTemp: ['x', 'ratio'], openCircuit: ['charge', 'voltageV'], lumenMaintenance: ['caseC', 'hours', 'ratio'], limitPoints: ['voltageV', 'currentA'], capacityAgainstLoad: ['currentA', 'capacityAh'], points: readingsOf,
}

/** Whether there are chargers for cells of a chemistry. */
export const chargeable = (chemistry: string | undefined): boolean => chemistry === undefined || (resolve(schemas['Charger']?.properties?.['chemistry'])?.enum ?? []).includes(chemistry)

/** The quantity of a figure, by its name. */
export const quantityOf = (name: string): string => (shares.has(name) ? 'fraction' : (bySuffix.find(([r]) => r.test(name))?.[1] ?? 'count'))

function figure(name: string, schema: Schema): Figure {
  const s = resolve(schema) ?? {}
  const doc = schema.description ?? s.description ?? name
  const base = { name, doc, label: doc.split(/[;,:(]/)[0]!.trim(), quantity: quantityOf(name), options: s.enum ?? [], of: [] as string[] }
  const type = Array.isArray(s.type) ? s.type[0] : s.type
  if (name === 'spectrum') return { ...base, kind: 'spectrum' }
  if (type === 'array') {
    const items = resolve(s.items) ?? {}
    if (items.properties) return { ...base, kind: 'points', of: pointOf[name] ?? Object.keys(items.properties) }
    return { ...base, kind: items.type === 'string' ? 'word' : 'numbers', of: items.type === 'string' ? ['words'] : [] }
  }
  if (s.enum) return { ...base, kind: 'choice' }
  return { ...base, kind: type === 'string' ? 'word' : type === 'boolean' ? 'yes-no' : 'number' }
}

/** The few figures worth showing first; the rest is a click away. */
const first: Record<PartKind, string[]> = {
  emitter: ['colour', 'forward', 'vfRefTempC', 'ratedCurrentA', 'maxCurrentA', 'maxJunctionC', 'fluxLm', 'fluxCurrentA', 'fluxRefTempC', 'rThKPerW', 'spectrum', 'vfBinV', 'rows'],
  driver: ['family', 'setCurrentA', 'minCurrentA', 'maxCurrentA', 'setVoltageV', 'minVoltageV', 'maxVoltageV', 'maxOutputW', 'headroomV', 'inputMinV', 'inputMaxV', 'efficiency', 'tolerance', 'dimming'],
  cell: ['chemistry', 'size', 'capacityAh', 'resistanceOhm', 'maxDischargeA'],
  strip: ['voltageV', 'powerWPerM', 'cutM', 'loopOhmPerM', 'fluxLmPerM', 'longestRunM'],
  load: ['points', 'beyond', 'fluxLm'],
  profile: ['widthM', 'heightM', 'perimeterM', 'kgPerM', 'baseM', 'material', 'surface'],
  protection: ['series', 'chemistry', 'cutCellV', 'releaseCellV', 'cutDelayS', 'latches', 'overCellV', 'maxCurrentA', 'resistanceOhm', 'standbyA', 'lowSide'],
  charger: ['kind', 'chemistry', 'series', 'currentA', 'programV', 'endCellV', 'inputV', 'kPerW', 'foldC', 'watchesTemperature'],
}
const switching = ['family', 'setCurrentA', 'minCurrentA', 'maxCurrentA', 'programV', 'programFactor', 'headroomV', 'inputMinV', 'inputMaxV', 'efficiency', 'tolerance', 'dimming', 'diameterM', 'lengthM', 'widthM', 'heightM']
const ofFamily: Record<string, string[]> = {
  none: ['family'], resistor: ['family', 'resistanceOhm', 'ratedW'], dropper: ['family', 'dropV', 'resistanceOhm', 'ratedW'],
  linear: ['family', 'setCurrentA', 'minCurrentA', 'maxCurrentA', 'headroomV', 'inputMinV', 'inputMaxV', 'tolerance', 'channels', 'tieable', 'programV', 'programFactor', 'dimming'],
  buck: switching, boost: switching, 'buck-boost': switching,
}
export function firstFigures(part: Part): string[] {
  const kind = kindOf(part)
  return (kind === 'driver' && part.driver && ofFamily[part.driver.family]) || first[kind]
}

/** All figures a part can have, the usual ones first. */
export function figuresOf(part: Part): Figure[] {
  const kind = kindOf(part)
  const usual = [...new Set([...firstFigures(part), ...first[kind]])]
  const place = (name: string) => (usual.includes(name) ? usual.indexOf(name) : usual.length)
  // A part has no part of its own.
  return Object.entries(schemas[names[kind]]?.properties ?? {}).filter(([name]) => name !== 'partId').flatMap(([name, s]) => (name === 'claimed' ? claims() : [figure(name, s)])).sort((a, b) => place(a.name) - place(b.name))
}

/** What label or seller say, each figure by itself. */
const claims = (): Figure[] => Object.entries(schemas['Claim']?.properties ?? {}).map(([name, s]) => ({ ...figure(name, s), name: `claimed/${name}`, label: `Claimed: ${figure(name, s).label.toLowerCase()}` }))

/** A figure's name without the mark of what may be left out. */
export const bare = (name: string) => name.replace('?', '')

/** A bare current of so much is asked about, chosen: milliamperes were meant more often. */
const askedFromA = 20

const figureOf = (line: string) => (line.includes('.') ? /([+-]?\d+(?:\.\d+)?(?:[eE][+-]?\d+)?|–)\s*([a-zA-Zµμ°%Ω][a-zA-Z0-9µμ°%Ω/²·]*)?/g : /([+-]?\d+(?:[.,]\d+)?(?:[eE][+-]?\d+)?|–)\s*([a-zA-Zµμ°%Ω][a-zA-Z0-9µμ°%Ω/²·]*)?/g)

/** Reads lines of figures: one point a line, with units or without, anything else between its figures. A unit says which of them a figure is. */
export function readPoints(text: string, of: string[]): Record<string, number>[] {
  return text.split('\n').map((line, i) => ({ line: line.trim(), i })).filter(({ line }) => line !== '').map(({ line, i }) => {
    const here = `Line ${i + 1}, “${line}”`
    // A comma between digits is a decimal comma only where a point is nowhere.
    const found = [...line.matchAll(figureOf(line))]
    const least = of.filter((name) => !name.endsWith('?')).length
    if (found.length < least || found.length > of.length) {
      if (i === 0 && found.length === 0) return undefined // a heading
      throw new Error(`${here}: ${least === of.length ? least : `${least} to ${of.length}`} figures are needed (${of.map(bare).join(', ')})`)
    }
    const open = of.map(bare)
    const point: Record<string, number> = {}
    const put = (name: string, x: number) => {
      point[name] = x
      open.splice(open.indexOf(name), 1)
    }
    for (const [, number, unit = ''] of found) {
      if (!unit || number === '–') continue
      const name = open.find((n) => quantitiesOf(unit, [quantityOf(n)]).length > 0)
      if (!name) throw new Error(`${here}: “${unit}” is no unit of what is still missing (${open.join(', ')})`)
      put(name, parse(`${number} ${unit}`, quantityOf(name), ''))
    }
    for (const [, number, unit = ''] of found) {
      if (unit && number !== '–') continue
      const name = open[0]!
      if (number === '–') {
        open.shift()
        continue
      }
      const x = Number(number!.replace(',', '.'))
      if (quantityOf(name) === 'current' && x >= askedFromA) throw new Error(`${here}: ${number} A or ${number} mA? Type the unit`)
      put(name, x)
    }
    return point
  }).filter((p) => p !== undefined)
}

/** Reads a list of figures of one quantity, each with its unit or without. */
export function readNumbers(text: string, quantity: string): number[] {
  return [...text.matchAll(figureOf(text))].map(([, number, unit = '']) => {
    const x = parse(`${number} ${unit}`, quantity, '')
    if (quantity === 'current' && !unit && x >= askedFromA) throw new Error(`${number} A or ${number} mA? Type the unit`)
    return x
  })
}

export const writePoints = (points: readonly object[] | undefined, of: string[]): string =>
  (points ?? []).map((p) => of.map((name) => String((p as Record<string, number | undefined>)[bare(name)] ?? '–')).join('  ').replace(/[–\s]+$/, '')).join('\n')
