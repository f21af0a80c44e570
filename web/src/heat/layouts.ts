import type { Light, Schemas, Variant } from '../api/client'
import { freshId } from '../document/names'
import { append, get, set } from '../document/pointer'
import { idsOf } from '../document/tree'

export type LayoutSpot = Schemas['LayoutSpot']
type Layout = Schemas['Layout']

/** The layout of a body and where it stands; undefined: it has none. */
export function layoutOf(variant: Variant, at: string, body: string): { layout: Layout; pointer: string } | undefined {
  const index = variant.layouts?.findIndex((l) => l.bodyId === body) ?? -1
  return index < 0 ? undefined : { layout: variant.layouts![index]!, pointer: `${at}/layouts/${index}` }
}

/** The light with a layout for a body, and its pointer. */
function withLayout(light: Light, at: string, body: string): { light: Light; pointer: string } {
  const variant = get(light, at) as Variant
  const found = layoutOf(variant, at, body)
  if (found) return { light, pointer: found.pointer }
  const ids = [...idsOf(variant), ...(variant.layouts ?? []).map((l) => l.id)]
  return { light: append(light, `${at}/layouts`, { id: freshId('places', ids), bodyId: body }), pointer: `${at}/layouts/${variant.layouts?.length ?? 0}` }
}

/** An array's places put in the stead of those it had. */
export function placed(light: Light, at: string, body: string, node: string, spots: LayoutSpot[]): Light {
  const w = withLayout(light, at, body)
  const others = ((get(w.light, `${w.pointer}/spots`) as LayoutSpot[] | undefined) ?? []).filter((s) => s.nodeId !== node)
  return set(w.light, `${w.pointer}/spots`, [...others, ...spots])
}

/** Something kept free in the middle of a plate. */
export function keptFree(light: Light, at: string, body: string, lengthM: number, widthM: number): Light {
  const w = withLayout(light, at, body)
  const side = Number((Math.min(lengthM, widthM) / 8).toPrecision(2))
  return append(w.light, `${w.pointer}/keepOuts`, { xM: lengthM / 2, yM: widthM / 2, lengthM: side, widthM: side })
}
