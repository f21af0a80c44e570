import type { Schemas, Variant } from '../api/client'

type Pack = NonNullable<Schemas['Source']['pack']>
export type Place = { group: number; cell: number }

export interface PackPlace {
  pointer: string
  pack: Pack
  /** The id of its feed. */
  feed: string
}

/** The first pack in use, and where it stands. */
export function packAt(variant: Variant, at: string): PackPlace | undefined {
  const i = variant.feeds.findIndex((f) => f.sources[0]?.pack?.partId)
  const feed = variant.feeds[i]
  const pack = feed?.sources[0]?.pack
  return feed && pack && { pointer: `${at}/feeds/${i}/sources/0/pack`, pack, feed: feed.id }
}

/** Two cells of a pack change places. */
export function swapped(pack: Pack, a: Place, b: Place): Pack['groups'] {
  const one = pack.groups?.[a.group]?.cells[a.cell]
  const two = pack.groups?.[b.group]?.cells[b.cell]
  if (!one || !two) return pack.groups
  return pack.groups?.map((g, i) => ({ ...g, cells: g.cells.map((c, k) => (i === a.group && k === a.cell ? two : i === b.group && k === b.cell ? one : c)) }))
}

/** A cell goes into another group; the last one of a group stays. */
export function moved(pack: Pack, a: Place, to: number): Pack['groups'] {
  const cell = pack.groups?.[a.group]?.cells[a.cell]
  if (!cell || pack.groups![a.group]!.cells.length < 2) return pack.groups
  return pack.groups?.map((g, i) => ({ ...g, cells: i === a.group ? g.cells.filter((_, k) => k !== a.cell) : i === to ? [...g.cells, cell] : g.cells }))
}
