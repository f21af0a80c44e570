import type { Light, LightNode, Variant } from '../api/client'
import { get, set } from './pointer'
import { feedName, freshId, freshName, kindOfNode, kindWords, nodeName, type NodeKindName } from './names'
import { idsOf, nodesOf } from './tree'


export interface NodeKind {
  /** Whether it makes a bus of its own, so that others can hang on it. */
  feeds: boolean
  make: (body?: string) => Partial<LightNode>
}

export const nodeKinds: Record<NodeKindName, NodeKind> = {
  switch: { feeds: true, make: () => ({ switch: { contactOhm: 0.02 } }) },
  dimmer: { feeds: true, make: () => ({ dimmer: { level: 1 } }) },
  driver: { feeds: true, make: (body) => ({ bodyId: body, driver: {} }) },
  array: { feeds: false, make: (body) => ({ bodyId: body, array: { series: 1, parallel: 1 } }) },
  strip: { feeds: false, make: (body) => ({ bodyId: body, strip: { piecesM: [1] } }) },
  load: { feeds: false, make: (body) => ({ bodyId: body, load: {} }) },
  auxiliary: { feeds: false, make: (body) => ({ bodyId: body, auxiliary: { purpose: 'controller', currentA: 0.005 } }) },
}

const listOf = (light: Light, owner: string) => (get(light, `${owner}/loads`) as LightNode[] | undefined) ?? []

/** A list of loads put back; a node that feeds nothing any more has none. */
const putList = (light: Light, owner: string, list: LightNode[]) => set(light, `${owner}/loads`, list.length > 0 || /feeds\/\d+$/.test(owner) ? list : undefined)

/** Where a node stands: the feed or node it hangs on, and its place there. */
export function placeOf(pointer: string): { owner: string; index: number } {
  const at = pointer.lastIndexOf('/loads/')
  return { owner: pointer.slice(0, at), index: Number(pointer.slice(at + 7)) }
}

/** A new node of a kind, on the first body, with a name of its own: several drivers want telling apart. */
export function freshNode(variant: Variant, kind: NodeKindName): LightNode {
  const name = freshName(kindWords[kind], nodesOf(variant, '').map((p) => nodeName(p.node)))
  return { id: freshId(kind, idsOf(variant)), name, ...nodeKinds[kind].make(variant.bodies[0]?.id) }
}

export const hangOn = (light: Light, owner: string, node: LightNode) => putList(light, owner, [...listOf(light, owner), node])

/** Puts something new into the wire before a node: it hangs where the node hung, and the node on it. */
export function putBefore(light: Light, pointer: string, node: LightNode): Light {
  const { owner, index } = placeOf(pointer)
  const list = listOf(light, owner)
  return putList(light, owner, list.map((n, i) => (i === index ? { ...node, loads: [n] } : n)))
}

export function takeOut(light: Light, pointer: string, keepBelow: boolean): Light {
  const { owner, index } = placeOf(pointer)
  const list = listOf(light, owner)
  return putList(light, owner, list.flatMap((n, i) => (i !== index ? [n] : keepBelow ? (n.loads ?? []) : [])))
}

export function copyBranch(light: Light, variant: Variant, pointer: string): Light {
  const { owner, index } = placeOf(pointer)
  const ids = idsOf(variant)
  const names = nodesOf(variant, '').map((p) => nodeName(p.node))
  const again = (n: LightNode): LightNode => {
    const id = freshId(n.id.replace(/-\d+$/, ''), ids)
    ids.push(id)
    const name = freshName(nodeName(n), names)
    names.push(name)
    return { ...n, id, name, loads: n.loads?.map(again) }
  }
  return putList(light, owner, listOf(light, owner).flatMap((n, i) => (i === index ? [n, again(n)] : [n])))
}

/** Puts one item of a list before all others. */
export function toFront(light: Light, pointer: string, index: number): Light {
  const list = get(light, pointer) as unknown[]
  return set(light, pointer, [list[index], ...list.filter((_, i) => i !== index)])
}

/** Changes places with the neighbour before (-1) or after (1) it. */
export function shift(light: Light, pointer: string, by: 1 | -1): Light {
  const { owner, index } = placeOf(pointer)
  const list = listOf(light, owner).slice()
  const [n] = list.splice(index, 1)
  list.splice(index + by, 0, n!)
  return putList(light, owner, list)
}

/** Places a branch can be moved to: every feed, and every node that feeds others but those of the branch itself. */
export function placesFor(variant: Variant, at: string, pointer: string): { owner: string; name: string }[] {
  const { owner } = placeOf(pointer)
  const feeds = variant.feeds.map((f, i) => ({ owner: `${at}/feeds/${i}`, name: feedName(f) }))
  const nodes = nodesOf(variant, at)
    .filter((p) => nodeKinds[kindOfNode(p.node)].feeds && p.pointer !== pointer && !p.pointer.startsWith(`${pointer}/`))
    .map((p) => ({ owner: p.pointer, name: nodeName(p.node) }))
  return [...feeds, ...nodes].filter((p) => p.owner !== owner)
}

/** Hangs a branch, with all below it, on another feed or node. */
export function moveTo(light: Light, pointer: string, owner: string): Light {
  const branch = get(light, pointer) as LightNode
  // Hung first and taken out afterwards: the new place comes last in its list, so that no place before it shifts.
  return takeOut(putList(light, owner, [...listOf(light, owner), branch]), pointer, false)
}
