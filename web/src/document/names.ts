import type { LightNode, Schemas } from '../api/client'

/** An id that nothing in the list has yet. */
export function freshId(wanted: string, taken: string[]): string {
  const base = wanted.toLowerCase().replaceAll(/[^a-z0-9]+/g, '-').slice(0, 40) || 'x'
  if (!taken.includes(base)) return base
  for (let n = 2; ; n++) if (!taken.includes(`${base}-${n}`)) return `${base}-${n}`
}

/** A name that tells a new thing apart from those there are: “Beam” beside “Beam” is “Beam 2”. */
export function freshName(wanted: string, taken: (string | undefined)[]): string {
  const base = wanted.replace(/ \d+$/, '')
  if (!taken.includes(base)) return base
  for (let n = 2; ; n++) if (!taken.includes(`${base} ${n}`)) return `${base} ${n}`
}

/** What a node of each kind is called as long as it has no name of its own. */
export const kindWords = { switch: 'Switch', dimmer: 'Wall dimmer', driver: 'Driver', array: 'Emitters', strip: 'Strip', load: 'Measured load', auxiliary: 'Fan, gauge or controller' }
export type NodeKindName = keyof typeof kindWords

export const kindOfNode = (n: LightNode): NodeKindName => (Object.keys(kindWords) as NodeKindName[]).find((k) => n[k] !== undefined) ?? 'array'

export const nodeName = (n: LightNode) => n.name ?? kindWords[kindOfNode(n)]

export const sourceName = (s: Schemas['Source']) => s.name ?? (s.pack ? `${s.pack.series}S${s.pack.parallel}P pack` : s.supply ? `${s.supply.voltageV} V supply` : s.mains ? `${s.mains.voltageV} V mains` : 'Source not chosen yet')

/** What a feed is called: by what powers it, where it has no name. */
export const feedName = (f: Schemas['Feed']) => f.name ?? (f.sources[0] ? sourceName(f.sources[0]) : 'Where power comes in')
