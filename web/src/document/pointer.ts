import type { Light } from '../api/client'
import { resolve, schemas, type Schema } from './schema'

const steps = (pointer: string): string[] =>
  pointer === '' ? [] : pointer.slice(1).split('/').map((s) => s.replaceAll('~1', '/').replaceAll('~0', '~'))

/** Reads a place of a document by JSON Pointer (RFC 6901). */
export function get(document: unknown, pointer: string): unknown {
  let here: unknown = document
  for (const step of steps(pointer)) {
    if (here === null || typeof here !== 'object') return undefined
    here = (here as Record<string, unknown>)[step]
  }
  return here
}

/** A copy of the document with one place changed; undefined takes the place away. Missing objects on the way are made. */
export function set<T>(document: T, pointer: string, value: unknown): T {
  const change = (here: unknown, [step, ...rest]: string[]): unknown => {
    if (step === undefined) return value
    if (Array.isArray(here)) {
      const list = here.slice() as unknown[]
      list[Number(step)] = change(list[Number(step)], rest)
      return list
    }
    const copy: Record<string, unknown> = { ...(here as Record<string, unknown> | undefined) }
    const next = change(copy[step], rest)
    if (next === undefined) delete copy[step]
    else copy[step] = next
    return copy
  }
  return change(document, steps(pointer)) as T
}

/** A copy with one more item at the end of a list, which is made if there is none. */
export const append = <T>(document: T, pointer: string, item: unknown): T => set(document, pointer, [...((get(document, pointer) as unknown[] | undefined) ?? []), item])

/** A copy without one item of a list; a list that would be empty is taken away, or kept as such. */
export function without<T>(document: T, pointer: string, index: number, keepEmpty = false): T {
  const rest = ((get(document, pointer) as unknown[] | undefined) ?? []).filter((_, i) => i !== index)
  return set(document, pointer, rest.length > 0 || keepEmpty ? rest : undefined)
}

/** What the published description says of a place of a light. */
function described(pointer: string): Schema | undefined {
  let here: Schema | undefined = schemas['Light']
  for (const step of steps(pointer)) {
    const at = resolve(here)
    here = /^\d+$/.test(step) ? at?.items : at?.properties?.[step]
  }
  return here
}

/** What the figure at a place is called: the beginning of its description. */
export function labelOf(pointer: string): string {
  const place = described(pointer)
  const words = (place?.description ?? resolve(place)?.description ?? '').split(/[;,:(]/)[0]!.trim()
  return words || pointer.split('/').slice(-2).join(' ')
}

/** The physical range of a figure, from the published description of the light file. */
export function range(pointer: string): { minimum: number; maximum: number; whole: boolean } {
  const here = resolve(described(pointer))
  return { minimum: here?.minimum ?? -Infinity, maximum: here?.maximum ?? Infinity, whole: here?.type === 'integer' }
}

/** Places at which two lights differ, at most `limit`. */
export function differences(a: Light, b: Light, limit = 12): { pointer: string; mine: unknown; theirs: unknown }[] {
  const found: { pointer: string; mine: unknown; theirs: unknown }[] = []
  const walk = (x: unknown, y: unknown, at: string) => {
    if (found.length >= limit || Object.is(x, y)) return
    if (x !== null && y !== null && typeof x === 'object' && typeof y === 'object') {
      for (const key of new Set([...Object.keys(x), ...Object.keys(y)])) {
        walk((x as Record<string, unknown>)[key], (y as Record<string, unknown>)[key], `${at}/${key}`)
      }
      return
    }
    found.push({ pointer: at, mine: x, theirs: y })
  }
  walk(a, b, '')
  return found
}
