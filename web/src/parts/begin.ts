import type { Part } from '../api/client'
import type { PartKind } from './description'

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
  load: { id: 'part', name: 'New 12 V module', basis: 'guess', load: { points: [{ voltageV: 12, currentA: 0.25 }] } },
}

export const begin = (kind: PartKind): { stock: number; part: Part } => ({ stock: 0, part: blank[kind] })
