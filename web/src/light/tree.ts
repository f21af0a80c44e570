import type { Light, LightNode, Part, Variant } from '../api/client'

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

export const nodeName = (n: LightNode) => n.name ?? n.id

/** What a node, source, feed or body is called. */
export function nameOf(variant: Variant, id: string): string {
  const node = nodesOf(variant, '').find((p) => p.node.id === id)?.node
  const other = [...variant.feeds, ...variant.feeds.flatMap((f) => f.sources), ...variant.bodies].find((x) => x.id === id)
  return node ? nodeName(node) : (other?.name ?? id)
}

export function stageOf(n: LightNode): Stage {
  if (n.array || n.load || n.strip) return 'emitters'
  return n.driver ? 'driver' : 'source'
}

export function partOf(light: Light, id: string | undefined): { part: Part; pointer: string } | undefined {
  const i = light.parts.findIndex((p) => p.id === id)
  return i >= 0 ? { part: light.parts[i]!, pointer: `/parts/${i}` } : undefined
}

/** An id that nothing in the list has yet. */
export function freshId(wanted: string, taken: string[]): string {
  const base = wanted.toLowerCase().replaceAll(/[^a-z0-9]+/g, '-').slice(0, 40) || 'x'
  if (!taken.includes(base)) return base
  for (let n = 2; ; n++) if (!taken.includes(`${base}-${n}`)) return `${base}-${n}`
}

/** Driver families as people call them. */
export const familyWord = {
  none: 'straight through', resistor: 'resistor', dropper: 'fixed dropper', linear: 'linear', buck: 'step-down', boost: 'step-up', 'buck-boost': 'step-up/down', window: 'mains current', voltage: 'supply',
}

/** The first letter made large: for sentences that stand alone. */
export const capital = (s: string) => s.charAt(0).toUpperCase() + s.slice(1)

/** Every id a variant uses: a new one must differ from all. */
export const idsOf = (variant: Variant): string[] => [...variant.feeds.flatMap((f) => [f.id, ...f.sources.map((s) => s.id)]), ...nodesOf(variant, '').map((p) => p.node.id), ...variant.bodies.map((b) => b.id)]
