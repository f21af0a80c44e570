import { answer, api, Problem, type Light, type LightNode, type Part, type Schemas } from '../api/client'
import { append, get, set } from '../document/pointer'
import { familyKeys } from './begin'
import type { PartKind } from './description'
import { freshId, freshName } from '../document/names'
import { nodesOf, partOf } from '../document/tree'

/** A part to choose, with how well it does where that can be told. */
export type Candidate = Partial<Omit<Schemas['Candidate'], 'part'>> & { part: Part; stock: number; hash: string }

interface Found {
  list: Candidate[]
  /** Why nothing can be said about the fit. */
  why?: string
}

/** The array at a place wired as a match has it; strings that differed are of another array. */
export const wiredAs = (light: Light, use: string, m: Pick<Candidate, 'series' | 'parallel'>) => set(set(set(light, `${use}/series`, m.series ?? 1), `${use}/parallel`, m.parallel ?? 1), `${use}/unequal`, undefined)

/** A whole board read at its wires stands as one: how many there are is asked anew, and one is assumed until it is said. */
export function asOne(light: Light, variant: number, use: string): Light {
  const at = `/variants/${variant}`
  const node = nodesOf(light.variants[variant]!, at).find((p) => use.startsWith(`${p.pointer}/array`))
  const bare = ['count', 'packageRows', 'mixed', 'unequal', 'ballastOhm', 'measuredOffsetV', 'boardKPerW', 'wantedCurrentA'].reduce((l, figure) => set(l, `${use}/${figure}`, undefined), light)
  const one = set(set(bare, `${use}/series`, 1), `${use}/parallel`, 1)
  if (!node) return one
  const path = `/feeds/${light.variants[variant]!.feeds[node.feed]!.id}/loads/${node.node.id}/array`
  return ['series', 'parallel'].reduce((l, figure) => append(l, `${at}/assumed`, { at: `${path}/${figure}`, why: 'a whole board, read at its wires, stands as one until more are said' }), one)
}

/** The size of the cells in a place: others do not go into the same holder. */
export const sizeAt = (light: Light, usedAt: string) => partOf(light, get(light, usedAt) as string | undefined)?.part.cell?.size

/** A copy of a part put into the light, with where it came from; a part that is there already is used as it is. */
export function takePart(light: Light, c: Candidate): { light: Light; id: string } {
  if (c.local) return { light, id: c.local }
  const id = freshId(c.part.name, light.parts.map((p) => p.id))
  // A new one is told apart from the new one before it.
  const name = c.cabinet ? c.part.name : freshName(c.part.name, light.parts.map((p) => p.name))
  const origin = c.cabinet ? { id: c.cabinet, hash: c.hash } : undefined
  return { light: set(light, '/parts', [...light.parts, { ...c.part, id, name, origin }]), id }
}

/** Asks which parts fit a place, cells of one size only if it is given; where that cannot be told, lists what there is. */
export async function ask(light: Light, variant: number, kind: PartKind, usedAt: string, size?: string): Promise<Found> {
  const match = matching(light, variant, kind, usedAt, size)
  let why: string | undefined
  if (match) {
    try {
      return { list: (await match) ?? [] }
    } catch (e) {
      if (!(e instanceof Problem)) throw e
      why = e.message
    }
  }
  const cabinet = ((await answer(api.GET('/api/cabinet', { params: { query: { kind } } }))) ?? []).filter((p) => !p.unreadable)
  const mine = light.parts.filter((p) => p[kind]).map((part): Candidate => ({ part, local: part.id, stock: 0, hash: '' }))
  const names = new Set(mine.map((c) => c.part.name))
  return { why, list: [...mine, ...cabinet.filter((c) => !names.has(c.part.name)).map((c): Candidate => ({ part: c.part, cabinet: c.id, stock: c.stock, hash: c.hash }))] }
}

/** The families of drivers at a place, those that can work there first; where that cannot be told, all. */
export async function askFamilies(light: Light, variant: number, usedAt: string): Promise<Schemas['Family'][]> {
  const node = get(light, usedAt.replace(/\/driver\/partId$/, '')) as LightNode | undefined
  try {
    if (node) return (await answer(api.POST('/api/match/families', { params: { query: { variant, node: node.id } }, body: light }))) ?? []
  } catch (e) {
    if (!(e instanceof Problem)) throw e
  }
  return familyKeys.map((family) => ({ family, fit: 'not-yet', why: '' }))
}

function matching(light: Light, variant: number, kind: PartKind, usedAt: string, size?: string): Promise<Candidate[] | null> | undefined {
  const at = `/variants/${variant}`
  if (kind === 'cell') {
    const feed = get(light, usedAt.replace(/\/sources\/.*/, '')) as { id: string } | undefined
    return feed && answer(api.POST('/api/match/cells', { params: { query: { variant, feed: feed.id, size } }, body: light }))
  }
  if (kind === 'protection' || kind === 'charger') {
    const source = get(light, usedAt.replace(/\/pack\/.*/, '')) as { id: string } | undefined
    return source && answer(api.POST('/api/match/packparts', { params: { query: { variant, source: source.id, kind } }, body: light }))
  }
  if (usedAt.includes('/mixed/')) return undefined // what goes well in series with the others cannot be told
  const node = get(light, usedAt.replace(/\/(driver|array|strip)\/partId$/, '')) as LightNode | undefined
  if (!node) return undefined
  if (kind === 'driver') return answer(api.POST('/api/match/drivers', { params: { query: { variant, node: node.id } }, body: light }))
  if (kind === 'emitter') {
    const driver = nodesOf(light.variants[variant]!, at).find((p) => p.node.id === node.id)?.above.findLast((a) => a.node.driver?.partId)
    return driver && answer(api.POST('/api/match/emitters', { params: { query: { variant, node: driver.node.id, array: node.id } }, body: light }))
  }
  return undefined
}
