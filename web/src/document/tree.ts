import type { Light, LightNode, Part, Variant } from '../api/client'
import { feedName, nodeName, sourceName } from './names'
import { labelOf } from './pointer'

export type Stage = 'overview' | 'source' | 'driver' | 'emitters' | 'light' | 'heat'
export const stages: Stage[] = ['overview', 'source', 'driver', 'emitters', 'light', 'heat']

/** A node of the power tree with its place. */
export interface Placed {
  node: LightNode
  pointer: string
  feed: number
  above: Placed[]
}

/** All nodes of a variant, from the source outwards. */
export function nodesOf(variant: Variant, at: string): Placed[] {
  const out: Placed[] = []
  const walk = (nodes: LightNode[] | undefined, pointer: string, feed: number, above: Placed[]) =>
    (nodes ?? []).forEach((node, i) => {
      const placed = { node, pointer: `${pointer}/loads/${i}`, feed, above }
      out.push(placed)
      walk(node.loads, placed.pointer, feed, [...above, placed])
    })
  variant.feeds.forEach((f, i) => walk(f.loads, `${at}/feeds/${i}`, i, []))
  return out
}

const bears = (n: LightNode, id: string): boolean => (n.loads ?? []).some((l) => l.id === id || bears(l, id))

/** Which of several nodes a view is about: the chosen one, what hangs on it, or what it hangs on; else the first that has its part. */
export function chosenOf(list: Placed[], chosen: string | undefined): Placed | undefined {
  const found = chosen === undefined ? undefined : (list.find((p) => p.node.id === chosen) ?? list.find((p) => p.above.some((a) => a.node.id === chosen)) ?? list.find((p) => bears(p.node, chosen)))
  return found ?? list.find((p) => p.node.driver?.partId ?? p.node.array?.partId ?? p.node.strip?.partId) ?? list[0]
}

/** What lights up: emitters, strip, measured loads. */
export const litOf = (nodes: Placed[]) => nodes.filter((p) => p.node.array ?? p.node.load ?? p.node.strip)

/** The node of the tree that a place of the document belongs to. */
export const nodeAt = (variant: Variant, at: string, pointer: string): Placed | undefined => nodesOf(variant, at).findLast((p) => `${pointer}/`.startsWith(`${p.pointer}/`))

/** How many of a node there are in the whole light: its figures are of one. */
export const timesOf = (p: Placed) => [...p.above, p].reduce((n, q) => n * Math.max(q.node.count ?? 1, 1), 1)

/** What a node, source, feed or body is called. */
export function nameOf(variant: Variant, id: string): string {
  const node = nodesOf(variant, '').find((p) => p.node.id === id)?.node
  if (node) return nodeName(node)
  const feed = variant.feeds.find((f) => f.id === id)
  if (feed) return feedName(feed)
  const source = variant.feeds.flatMap((f) => f.sources).find((s) => s.id === id)
  return source ? sourceName(source) : (variant.bodies.find((b) => b.id === id)?.name ?? id)
}

/** What a place of a light is called: its figure, and the node it belongs to. */
export function placeName(light: Light, pointer: string): string {
  const at = /^\/variants\/(\d+)/.exec(pointer)
  const variant = at && light.variants[Number(at[1])]
  const node = variant && nodeAt(variant, at[0], pointer)?.node
  return node ? `${nodeName(node)}: ${labelOf(pointer)}` : labelOf(pointer)
}

export function stageOf(n: LightNode): Stage {
  if (n.array || n.load || n.strip) return 'emitters'
  return n.driver ? 'driver' : 'source'
}

export function partOf(light: Light, id: string | undefined): { part: Part; pointer: string } | undefined {
  const i = light.parts.findIndex((p) => p.id === id)
  return i >= 0 ? { part: light.parts[i]!, pointer: `/parts/${i}` } : undefined
}

/** Every id a variant uses: a new one must differ from all. */
export const idsOf = (variant: Variant): string[] => [...variant.feeds.flatMap((f) => [f.id, ...f.sources.map((s) => s.id)]), ...nodesOf(variant, '').map((p) => p.node.id), ...variant.bodies.map((b) => b.id)]
