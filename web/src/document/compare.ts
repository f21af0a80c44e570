import type { Light, Part, Variant } from '../api/client'
import { idOfPart } from './apart'
import { labelOf } from './pointer'
import { nodeName, sourceName } from './names'
import { nodesOf } from './tree'

/** A place at which variants differ, with what each has there. */
export interface Difference {
  name: string
  pointer: string
  values: unknown[]
}

const most = 40

/** The figures and words of a part or a use, flat; ids and lists of points are told as a whole. */
function flat(x: unknown, at: string, out: Map<string, unknown>) {
  if (x === null || typeof x !== 'object') return void out.set(at, x)
  if (Array.isArray(x)) return void out.set(at, JSON.stringify(x))
  for (const [key, value] of Object.entries(x)) if (!['id', 'loads', 'origin', 'partId', 'bodyId', 'name', 'note'].includes(key)) flat(value, `${at}/${key}`, out)
}

/** Everything of a variant that can differ, under a name that is the same in all: parts by the place they stand in. */
function placesOf(light: Light, variant: Variant, index: number): Map<string, [name: string, pointer: string, value: unknown]> {
  const out = new Map<string, [string, string, unknown]>()
  const parts = new Map<string, Part>(light.parts.map((p) => [p.id, p]))
  const put = (key: string, owner: string, pointer: string, value: unknown, described: string) => out.set(key, [`${owner}: ${labelOf(described)}`, pointer, value])
  const use = (id: string, owner: string, thing: unknown, pointer: string) => {
    const found = new Map<string, unknown>()
    flat(thing, '', found)
    for (const [at, value] of found) put(`${id}${at}`, owner, `${pointer}${at}`, value, `${pointer}${at}`)
    const part = parts.get(idOfPart(thing) ?? '')
    if (!part) return
    out.set(`${id}/part`, [owner, pointer, part.name])
    const inside = new Map<string, unknown>()
    flat(part, '', inside)
    const place = light.parts.indexOf(part)
    for (const [at, value] of inside) put(`${id}/part${at}`, owner, `/parts/${place}${at}`, value, `/parts/${place}${at}`)
  }
  const at = `/variants/${index}`
  variant.feeds.forEach((f, i) => f.sources.forEach((s, k) => use(`source ${k} of ${f.id}`, sourceName({ ...s, pack: undefined, supply: undefined, mains: undefined, name: s.name ?? 'Source' }), s, `${at}/feeds/${i}/sources/${k}`)))
  nodesOf(variant, at).forEach((p) => use(p.node.id, nodeName(p.node), p.node, p.pointer))
  variant.bodies.forEach((b, i) => use(b.id, b.name, b, `${at}/bodies/${i}`))
  return out
}

/** Where the variants of a light differ, at most so many places: a part that is another hides what that changes in it. */
export function variantDifferences(light: Light): Difference[] {
  const all = light.variants.map((v, i) => placesOf(light, v, i))
  const keys = [...new Set(all.flatMap((m) => [...m.keys()]))]
  const out: Difference[] = []
  const others = new Set<string>()
  for (const key of keys.toSorted((a, b) => Number(b.endsWith('/part')) - Number(a.endsWith('/part')))) {
    const found = all.map((m) => m.get(key))
    const values = found.map((f) => f?.[2])
    if (values.every((v) => v === values[0])) continue
    if (key.endsWith('/part')) others.add(key)
    else if ([...others].some((o) => key.startsWith(`${o}/`))) continue
    const first = found.find((f) => f !== undefined)!
    out.push({ name: first[0], pointer: first[1], values })
  }
  return out.slice(0, most)
}
