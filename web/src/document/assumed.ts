import type { Light, Schemas } from '../api/client'
import { get, set } from './pointer'

/** The JSON Pointer of the place that an assumption names: through ids, a node below its feed however deep it hangs. Undefined: it is gone. */
export function assumedAt(light: Light, variant: number, at: string): string | undefined {
  const words = at.slice(1).split('/')
  const ofLight = words[0] === 'parts' || words[0] === 'conditions'
  let pointer = ofLight ? '' : `/variants/${variant}`
  for (const word of words) {
    const here = get(light, pointer)
    const step = Array.isArray(here) ? named(here as Item[], word.replaceAll('~1', '/').replaceAll('~0', '~')) : `/${word}`
    if (step === undefined) return undefined
    pointer += step
  }
  return get(light, pointer) === undefined ? undefined : pointer
}

interface Item {
  id?: string
  loads?: Item[]
}

function named(list: Item[], id: string): string | undefined {
  for (const [i, e] of list.entries()) {
    if (e.id === id) return `/${i}`
    const deep = named(e.loads ?? [], id)
    if (deep) return `/${i}/loads${deep}`
  }
  return undefined
}

/** Marks a figure as one that a reading stands for. */
export const measuredAt = (light: Light, variant: number, at: string, why: string): Light => {
  const list = light.variants[variant]?.measured ?? []
  return set(light, `/variants/${variant}/measured`, [...list.filter((m) => m.at !== at), { at, why }])
}

/** What was read takes the place of what was stated, and is marked. */
export const taken = (light: Light, variant: number, r: Schemas['Replacement']): Light =>
  r.figures.reduce((l, f) => measuredAt(set(l, f.pointer, Number(f.value.toPrecision(4))), variant, f.at, r.read), light)

const lists = ['assumed', 'measured'] as const

/** What is assumed, or was measured, is so no longer once its figure is changed, or gone. */
export function settle(before: Light, after: Light): Light {
  if (before === after) return after
  return lists.reduce((light, list) => settled(before, light, list), after)
}

function settled(before: Light, after: Light, list: (typeof lists)[number]): Light {
  if (!after.variants.some((v) => v[list])) return after
  const variants = after.variants.map((v, i) => {
    const was = before.variants.findIndex((w) => w.id === v.id)
    if (!v[list] || was < 0) return v
    const known = new Map(before.variants[was]?.[list]?.map((a) => [a.at, a]))
    const left = v[list].filter((a) => {
      if (known.get(a.at) !== a) return true // said with this very change
      const now = assumedAt(after, i, a.at)
      const then = assumedAt(before, was, a.at)
      return now !== undefined && then !== undefined && JSON.stringify(get(after, now)) === JSON.stringify(get(before, then))
    })
    if (left.length === v[list].length) return v
    return set(v, `/${list}`, left.length > 0 ? left : undefined)
  })
  return variants.every((v, i) => v === after.variants[i]) ? after : { ...after, variants }
}
