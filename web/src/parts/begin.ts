import type { Part } from '../api/client'
import type { PartKind } from './description'
import usual from './usual.gen.json'

/** Typical figures to begin with where nothing is known: marked as a guess until better ones are typed. */
const blank: Record<PartKind, Part> = {
  emitter: {
    id: 'part', name: 'New white emitter', basis: 'guess',
    emitter: {
      colour: 'white', forward: [{ currentA: 0.1, voltageV: 2.65 }, { currentA: 0.35, voltageV: 2.8 }, { currentA: 1, voltageV: 3.05 }], vfRefTempC: 25, ratedCurrentA: 0.7, maxCurrentA: 1, maxJunctionC: 125,
      fluxLm: 130, fluxCurrentA: 0.35, fluxRefTempC: 25, fluxAgainstCurrent: [{ x: 0.1, ratio: 0.31 }, { x: 0.35, ratio: 1 }, { x: 0.7, ratio: 1.8 }, { x: 1, ratio: 2.35 }], spectrum: { whiteK: 4000 }, rThKPerW: 8, rThBasis: 'real',
    },
  },
  driver: { id: 'part', name: 'New linear driver', basis: 'guess', driver: { family: 'linear', setCurrentA: 0.35, headroomV: 0.3 } },
  cell: { id: 'part', name: 'New 18650 cell', basis: 'guess', cell: { chemistry: 'li-ion-4.2', size: '18650', capacityAh: 2.5, resistanceOhm: 0.06 } },
  strip: { id: 'part', name: 'New 12 V strip', basis: 'guess', strip: { voltageV: 12, powerWPerM: 9.6, cutM: 0.05, loopOhmPerM: 0.12, fluxLmPerM: 900 } },
  profile: { id: 'part', name: 'New profile', basis: 'guess', profile: { widthM: 0.1, heightM: 0.035, perimeterM: 0.8, kgPerM: 2, baseM: 0.004 } },
  protection: { id: 'part', name: 'New protection board', basis: 'guess', protection: { series: 1, cutCellV: 2.5, releaseCellV: 3, overCellV: 4.3, overReleaseCellV: 4.1, resistanceOhm: 0.05 } },
  charger: { id: 'part', name: 'New charger', basis: 'guess', charger: { kind: 'linear', chemistry: 'li-ion-4.2', currentA: 0.5, inputV: 5 } },
  load: { id: 'part', name: 'New 12 V module', basis: 'guess', load: { points: [{ voltageV: 12, currentA: 0.25 }] } },
}

/** A new driver of a family, with what such a one usually needs and loses; what it is set to is the light's. */
const drivers = usual.drivers as Record<string, Part['driver']>
const driverNames: Record<string, string> = { linear: 'linear driver', buck: 'step-down driver', boost: 'step-up driver', 'buck-boost': 'step-up and -down driver', voltage: 'converter with a voltage knob', resistor: 'series resistor', window: 'mains current driver', supply: 'mains supply of a voltage' }

export const familyKeys = Object.keys(driverNames)

export const driverName = (family: string) => driverNames[family] ?? family

export const beginDriver = (family: string): Part => ({ id: 'part', name: `New ${driverName(family)}`, basis: 'guess', driver: drivers[family] })

/** What a driver keeps when it is said to be of another family: what is not of the family. */
const lasting = new Set(['inputMinV', 'inputMaxV', 'restartV', 'isolated', 'class', 'powerFactor', 'maxCaseC', 'protections', 'note', 'diameterM', 'lengthM', 'widthM', 'heightM', 'standbyW', 'dimming', 'cutEdge'])

export const withFamily = (d: NonNullable<Part['driver']>, family: NonNullable<Part['driver']>['family']): NonNullable<Part['driver']> => ({ ...(Object.fromEntries(Object.entries(d).filter(([k]) => lasting.has(k))) as Partial<NonNullable<Part['driver']>>), family })

export const begin = (kind: PartKind): { stock: number; part: Part } => ({ stock: 0, part: blank[kind] })
