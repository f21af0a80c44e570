import type { Light, Schemas, Variant } from '../api/client'
import { get, set } from '../document/pointer'
import { litOf, nodesOf, type Placed } from '../document/tree'

export type Stand = Schemas['Stand']
export type StandAt = Schemas['StandAt']

/** A stand as the document keeps it. */
export const kept = ({ bodyId, xM, yM, heightM, tiltDeg, turnDeg, rollDeg }: Stand): Stand => ({ bodyId, xM, yM, heightM, ...(tiltDeg ? { tiltDeg } : {}), ...(turnDeg ? { turnDeg } : {}), ...(rollDeg ? { rollDeg } : {}) })

/** The light with its bodies so. */
export const withStands = (light: Light, at: string, stands: Stand[]): Light => set(light, `${at}/stands`, stands.length > 0 ? stands.map(kept) : undefined)

/** All stands that are looked at, said or not, with one changed: what was only taken is then said. */
export const changed = (light: Light, at: string, all: StandAt[], index: number, change: (s: Stand) => Stand): Light =>
  withStands(light, at, all.filter((s) => s.bodyId !== '').map((s) => (s === all[index] ? change(s) : s)))

/** All of them changed alike. */
export const allChanged = (light: Light, at: string, all: StandAt[], change: (s: Stand) => Stand): Light => withStands(light, at, all.filter((s) => s.bodyId !== '').map(change))

/** The drivers whose light can be turned down. */
export const dimmable = (variant: Variant, at: string): Placed[] => nodesOf(variant, at).filter((p) => p.node.driver && litOf(nodesOf({ ...variant, feeds: [{ id: '', sources: [], loads: p.node.loads ?? [] }] }, '')).length > 0)

const inUse = (p: Placed) => p.node.driver!.modes?.find((m) => m.name === p.node.driver!.mode)?.level ?? p.node.driver!.dimming

/** How far the first of them is turned down, of its current. */
export const levelOf = (drivers: Placed[]): number => (drivers[0] && inUse(drivers[0])?.current) ?? 1

/** All of them turned down to a share of what they give now. */
export const turned = (light: Light, drivers: Placed[], share: number): Light =>
  drivers.reduce((l, p) => {
    const level = Number(((inUse(p)?.current ?? 1) * share).toPrecision(3))
    const at = `${p.pointer}/driver`
    const plain = set(l, `${at}/mode`, undefined)
    const rest = { ...(get(plain, `${at}/dimming`) as object | undefined) }
    return set(plain, `${at}/dimming`, level >= 1 && Object.keys(rest).filter((k) => k !== 'current').length === 0 ? undefined : { ...rest, current: Math.min(level, 1) })
  }, light)

/** So many lights like the one there is, spread along the longer side of what is lit. */
export function spread(light: Light, at: string, all: StandAt[], n: number, lengthM: number, widthM: number): Light | undefined {
  const first = all[0]
  if (!first || first.bodyId === '' || new Set(all.map((s) => s.bodyId)).size > 1) return undefined
  const along = lengthM >= widthM
  const rows = n > 3 && Math.min(lengthM, widthM) > Math.max(lengthM, widthM) / 2 ? 2 : 1
  const each = Math.ceil(n / rows)
  return withStands(light, at, Array.from({ length: n }, (_, i) => {
    const u = ((i % each) + 0.5) / each - 0.5
    const v = (Math.floor(i / each) + 0.5) / rows - 0.5
    const round = (x: number) => Math.round(x * 1000) / 1000
    return { ...first, xM: round(along ? u * lengthM : v * lengthM), yM: round(along ? v * widthM : u * widthM) }
  }))
}

/** All emitters behind another optic: their cover, and where they look, stay. */
export const withOptic = (light: Light, variant: Variant, at: string, o: Schemas['OneOptic']): Light =>
  nodesOf(variant, at).filter((p) => o.nodes.includes(p.node.id)).reduce((l, p) => {
    const reflector = o.kind === 'smooth-reflector' || o.kind === 'textured-reflector'
    const figures: [string, unknown][] = [
      ['array/beamDeg', o.kind === 'lens' ? o.deg : undefined],
      ['array/opticEfficiency', o.efficiency < 1 ? o.efficiency : undefined],
      ['optic/table', undefined],
      ['optic/spotDeg', reflector ? o.deg : undefined],
      ...(o.kind === 'bare' ? ([['optic/spillDeg', undefined], ['optic/spotShare', undefined]] as [string, unknown][]) : []),
      ['optic/kind', o.kind],
    ]
    return figures.reduce((now, [figure, value]) => set(now, `${p.pointer}/${figure}`, value), l)
  }, light)

/** Each channel's driver turned to its level, of what it gives now; undefined: some share a driver, or have none. */
export function withLevels(light: Light, variant: Variant, at: string, levels: { node: string; level: number }[]): Light | undefined {
  const all = nodesOf(variant, at)
  const drivers = levels.map((x) => all.find((p) => p.node.id === x.node)?.above.findLast((p) => p.node.driver))
  if (new Set(drivers).size < levels.length || drivers.some((p) => !p || litOf(all.filter((q) => q.above.some((a) => a.node.id === p.node.id))).length > 1)) return undefined
  return levels.reduce((l, x, i) => turned(l, [drivers[i]!], x.level), light)
}
