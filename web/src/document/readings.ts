import type { Light, Schemas } from '../api/client'
import { set } from './pointer'

export type Done = Schemas['Done']

/** Puts down what was done and read at a step of the sitting that is open; what is not spoken of stays. */
export function recorded(light: Light, variant: number, node: string, step: string, is: Partial<Done>): Light {
  const list = light.variants[variant]?.setUp ?? []
  const old = list.find((d) => d.node === node && d.step === step)
  const next = Object.fromEntries(Object.entries({ ...old, node, step, ...is }).filter(([, x]) => x !== undefined && x !== false)) as unknown as Done
  const rest = list.filter((d) => d !== old)
  return set(light, `/variants/${variant}/setUp`, Object.keys(next).length > 2 ? [...rest, next] : rest)
}

/** Closes the sitting that is open under a name; the next one begins empty. */
export function closed(light: Light, variant: number, id: string, name: string): Light {
  const v = light.variants[variant]!
  const session = { id, name, done: v.setUp ?? [], ...(v.setUpNote ? { note: v.setUpNote } : {}) }
  const at = `/variants/${variant}`
  return set(set(set(light, `${at}/sessions`, [...(v.sessions ?? []), session]), `${at}/setUp`, undefined), `${at}/setUpNote`, undefined)
}

/** Puts a correction beside the document, in the place of an earlier one of its figure. */
export const corrected = (light: Light, variant: number, take: Schemas['Correction']): Light =>
  set(light, `/variants/${variant}/corrected`, [...(light.variants[variant]?.corrected ?? []).filter((x) => x.at !== take.at), take])
