import type { Light, LightNode, Variant } from '../api/client'
import { freshId } from './names'

const refersTo = (variant: Variant, id: string): boolean => {
  const below = (n: LightNode): boolean => n.driver?.partId === id || n.strip?.partId === id || n.load?.partId === id || n.array?.partId === id || (n.array?.mixed ?? []).some((m) => m.partId === id) || (n.loads ?? []).some(below)
  return variant.feeds.some((f) => f.sources.some((s) => s.pack?.partId === id) || f.loads.some(below))
}

/** What is said of a part, said of another. */
const moved = (from: string, to: string) => (a: { at: string; why: string }) => (a.at.startsWith(`/parts/${from}/`) ? { ...a, at: `/parts/${to}/${a.at.slice(from.length + 8)}` } : a)

/** A copy of a variant that takes another part in the place of one. */
function repointed(variant: Variant, from: string, to: string): Variant {
  const swap = <T extends { partId?: string }>(use: T | undefined): T | undefined => (use?.partId === from ? { ...use, partId: to } : use)
  const node = (n: LightNode): LightNode => ({
    ...n,
    ...(n.driver && { driver: swap(n.driver) }), ...(n.strip && { strip: swap(n.strip) }), ...(n.load && { load: swap(n.load) }),
    ...(n.array && { array: { ...swap(n.array)!, ...(n.array.mixed && { mixed: n.array.mixed.map((m) => swap(m)!) }) } }),
    ...(n.loads && { loads: n.loads.map(node) }),
  })
  return {
    ...variant,
    feeds: variant.feeds.map((f) => ({ ...f, sources: f.sources.map((s) => (s.pack ? { ...s, pack: swap(s.pack) } : s)), loads: f.loads.map(node) })),
    ...(variant.assumed && { assumed: variant.assumed.map(moved(from, to)) }),
    ...(variant.measured && { measured: variant.measured.map(moved(from, to)) }),
  }
}

/** What a change of a part did: it holds in one variant; others keep the part as it was, under its old id. */
export interface Apart {
  /** The changed part's id, and that of the part as the others have it. */
  mine: string
  theirs: string
}

/**
 * Keeps variants independent: a part that was changed while another variant takes it too is parted in two. The changed
 * one keeps its place in the list, so that whoever shows it goes on showing it.
 */
export function keepApart(before: Light, after: Light, index: number): { light: Light; apart: Apart[] } {
  const variant = after.variants[index]
  const apart: Apart[] = []
  let light = after
  if (!variant) return { light, apart }
  after.parts.forEach((part, i) => {
    const was = before.parts.find((p) => p.id === part.id)
    if (!was || was === part || !refersTo(variant, part.id) || JSON.stringify(was) === JSON.stringify(part)) return
    if (!after.variants.some((v, k) => k !== index && refersTo(v, part.id))) return
    const id = freshId(part.id, light.parts.map((p) => p.id))
    light = { ...light, parts: [...light.parts.map((p, k) => (k === i ? { ...p, id } : p)), was], variants: light.variants.map((v, k) => (k === index ? repointed(v, part.id, id) : v)) }
    apart.push({ mine: id, theirs: part.id })
  })
  return { light, apart }
}

/** The change told of all variants after all: they take the changed part too. */
export function together(light: Light, { mine, theirs }: Apart): Light {
  const part = light.parts.find((p) => p.id === mine)
  if (!part) return light
  return { ...light, parts: light.parts.filter((p) => p.id !== theirs), variants: light.variants.map((v) => repointed(v, theirs, mine)) }
}

/** The part that a node or source takes, if it is one thing. */
export const idOfPart = (use: unknown): string | undefined => {
  const u = use as Partial<LightNode> & { pack?: { partId?: string } }
  return u.driver?.partId ?? u.array?.partId ?? u.strip?.partId ?? u.load?.partId ?? u.pack?.partId
}
