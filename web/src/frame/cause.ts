import type { Stage } from '../document/tree'

/** The stage of the chain under which the control of a place of the document stands; undefined: none in particular. */
export function stageFor(pointer: string): Stage | undefined {
  if (/^\/(scene|brief\/(peakCd|beamM|lux|ppfd|area|hoursADay))/.test(pointer) || /\/(stands|optic)(\/|$)/.test(pointer)) return 'light'
  if (/^\/(brief|conditions|progress)/.test(pointer)) return pointer === '/brief/outputLm' ? 'light' : 'overview'
  if (/\/driver\/stepDown/.test(pointer)) return 'driver'
  if (/\/(bodies\/|layouts\/|bodyId$|(array|strip)\/joint)/.test(pointer)) return 'heat'
  if (/\/array\/(opticEfficiency|beamDeg)$/.test(pointer)) return 'light'
  if (/\/(array|strip|load)(\/|$)/.test(pointer)) return 'emitters'
  if (/\/(driver|dimmer)(\/|$)/.test(pointer)) return 'driver'
  if (/\/(sources|switch|auxiliary)(\/|$)/.test(pointer)) return 'source'
  return undefined
}

/** The part of a pointer that names a part of the light, if it is about one. */
export const partPointer = (pointer: string) => /^\/parts\/\d+/.exec(pointer)?.[0]

/** The control on the page for a place of the document: its own, one inside it, or of the nearest place around it, as far as the item of a list. */
export function controlOf(pointer: string): HTMLElement | undefined {
  const all = [...document.querySelectorAll<HTMLElement>('[data-pointer]')].filter((e) => e.getClientRects().length > 0)
  for (let at = pointer; at !== ''; at = at.slice(0, at.lastIndexOf('/'))) {
    const found = all.find((e) => e.dataset.pointer === at) ?? all.find((e) => e.dataset.pointer!.startsWith(`${at}/`))
    if (found) return found
    if (/\/(variants|bodies|feeds|sources|loads|parts)\/\d+$/.test(at)) return undefined
  }
  return undefined
}
