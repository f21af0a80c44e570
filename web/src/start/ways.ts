import type { Schemas } from '../api/client'
import type { PartKind } from '../parts/description'

export type Facts = Schemas['Facts']

/** Stations of the chain that facts fill, in the order of the current. */
export type Station = 'source' | 'driver' | 'emitters' | 'body' | 'place' | 'before' | 'kept'

/** One thing that can be said. */
export type Fact =
  | { kind: 'words'; name: 'source' | 'was' | 'emitters' | 'driver' | 'body' | 'readings' | 'pieces' | 'area' | 'hours'; label: string; example: string; part?: PartKind; tall?: boolean }
  | { kind: 'choice'; name: 'light' | 'wet'; label: string; options: Record<string, string> }
  | { kind: 'ticks'; name: 'keeps'; label: string; options: Record<string, string> }
  | { kind: 'tick'; name: 'dimmed'; label: string }

export interface Way {
  title: string
  /** What one should have at hand for it. */
  says: string
  stations: { station: Station; question: string; facts: Fact[] }[]
}

const wet: Fact = { kind: 'choice', name: 'wet', label: 'How wet it gets', options: { '': 'not said', dry: 'dry', damp: 'damp', splashed: 'rain and splashes', 'over-water': 'hangs over water', 'under-water': 'under water' } }
const words = (name: Extract<Fact, { kind: 'words' }>['name'], label: string, example: string, more?: { part?: PartKind; tall?: boolean }): Fact => ({ kind: 'words', name, label, example, ...more })

export const ways: Record<Facts['way'], Way> = {
  lamp: {
    title: 'An old lamp to rebuild', says: 'What feeds it, and what made its light. The old lamp stays beside the new one, to compare.',
    stations: [
      { station: 'source', question: 'What feeds it?', facts: [words('source', 'Cells by number and size, block, adapter or wall', '2 D cells · 6 V block · 12 V adapter · wall')] },
      { station: 'kept', question: 'What stays?', facts: [{ kind: 'ticks', name: 'keeps', label: 'Stays as it is', options: { switch: 'switch', reflector: 'reflector', housing: 'housing' } }] },
      { station: 'emitters', question: 'What made the light?', facts: [{ kind: 'choice', name: 'light', label: 'It was', options: { '': 'as it is called below', bulb: 'a bulb', tube: 'a tube', flame: 'a flame' } }, words('was', 'Its watts, or its amperes', '2.4 W · 0.7 A')] },
      { station: 'body', question: 'How much room, and how wet?', facts: [words('area', 'Room there is: diameter × length', '50 × 90 mm'), wet] },
    ],
  },
  parts: {
    title: 'Parts in the drawer', says: 'Pick what lies there, or say what its label says, in any order. The rest is assumed.',
    stations: [
      { station: 'source', question: 'What feeds it?', facts: [words('source', 'Cells, adapter or wall', '3 × 21700, 4 Ah · 19 V 3 A adapter', { part: 'cell' })] },
      { station: 'driver', question: 'What drives it?', facts: [words('driver', 'Kind of driver, what it is set to', 'step-down 0.7 A · linear · step-up', { part: 'driver' })] },
      { station: 'emitters', question: 'What lights up?', facts: [words('emitters', 'As the label or the seller says', '3 × 3 V 1.5 A 140 lm/W · 20 W 30–34 V', { part: 'emitter' })] },
      { station: 'body', question: 'What carries the heat?', facts: [words('body', 'Its measures, surface, K/W', '90 × 60 × 2 mm · 300 cm² · 4 K/W')] },
    ],
  },
  meter: {
    title: 'A lamp and a meter', says: 'Volts and amperes as they were read, in the order they were taken. The lamp is then known by its draw.',
    stations: [
      { station: 'emitters', question: 'What did the meter show?', facts: [words('readings', 'Readings, each with its volts and amperes', '12 V 410 mA\n11.2 V 380 mA', { tall: true })] },
      { station: 'source', question: 'What feeds it now, or shall?', facts: [words('source', 'Cells, adapter or wall', '2 × 21700 · 12 V adapter', { part: 'cell' })] },
      { station: 'before', question: 'What fed it before?', facts: [words('was', 'Stands beside it as a variant', '8 AA')] },
      { station: 'body', question: 'What carries the heat?', facts: [words('body', 'Its measures, surface, K/W', '150 cm² · 60 g')] },
    ],
  },
  strip: {
    title: 'Strip', says: 'Volts and watts a metre, how many pieces, what supplies it.',
    stations: [
      { station: 'source', question: 'What supplies it?', facts: [words('source', 'Supply by its watts, adapter, cells', '60 W supply · 12 V 5 A adapter'), { kind: 'tick', name: 'dimmed', label: 'behind a wall dimmer' }] },
      { station: 'emitters', question: 'What strip, in what pieces?', facts: [words('emitters', 'Volts and watts a metre', '12 V 9.6 W/m', { part: 'strip' }), words('pieces', 'Pieces', '2 × 1.5 m · 0.8 m, 1.2 m')] },
      { station: 'place', question: 'How long is it lit?', facts: [words('hours', 'Hours a day', '6 h')] },
    ],
  },
  boards: {
    title: 'Boards over an area', says: 'A shelf of plants, a tank, a bench: its size, the boards, their supply.',
    stations: [
      { station: 'source', question: 'What supplies them?', facts: [words('source', 'Wall, adapter or cells', 'wall · 24 V adapter')] },
      { station: 'driver', question: 'What drives them?', facts: [words('driver', 'Kind of driver, what it is set to', 'two pots, 48 V 2 A', { part: 'driver' })] },
      { station: 'emitters', question: 'What boards?', facts: [words('emitters', 'How many, by their label', '2 × 48 V 1 A 170 lm/W', { part: 'emitter' })] },
      { station: 'place', question: 'Over what, how long?', facts: [words('area', 'Length × width', '1 × 0.5 m'), words('hours', 'Hours a day', '12 h')] },
    ],
  },
}

/** The stations that the drawing shows for a way: facts or assumptions fill them. */
export const stationWords: Record<Station, string> = { source: 'Source', driver: 'Driver', emitters: 'Emitters', body: 'Body', place: 'Place', before: 'Before', kept: 'Kept' }
