import type { Schemas } from '../api/client'

type Source = Schemas['Source']
export type SourceKind = 'pack' | 'adapter' | 'rail' | 'bench' | 'power-bank' | 'mains'

/** What can feed a light: what it is called, and a new one of it. */
export const sourceKinds: Record<SourceKind, { word: string; make: (id: string) => Source }> = {
  pack: { word: 'Pack of cells', make: (id) => ({ id, pack: { series: 1, parallel: 1 } }) },
  mains: { word: 'Wall socket', make: (id) => ({ id, mains: { voltageV: 230, frequencyHz: 50 } }) },
  adapter: { word: 'Adapter', make: (id) => ({ id, supply: { voltageV: 12, kind: 'adapter' } }) },
  rail: { word: 'Rail of a supply', make: (id) => ({ id, supply: { voltageV: 12, kind: 'rail', unit: 'supply' } }) },
  bench: { word: 'Bench supply', make: (id) => ({ id, supply: { voltageV: 12, maxCurrentA: 1, kind: 'bench' } }) },
  'power-bank': { word: 'USB power bank', make: (id) => ({ id, supply: { voltageV: 5, maxCurrentA: 2, kind: 'power-bank' } }) },
}

export const kindOfSource = (s: Source): SourceKind | undefined => (s.pack ? 'pack' : s.mains ? 'mains' : s.supply ? (s.supply.kind ?? 'adapter') : undefined)
