import type { Variant } from '../api/client'
import type { Moment } from '../solved/trace'
import { litOf, nodesOf, timesOf, type Placed } from '../document/tree'

/** Everything between one driver, or a bus without one, and the light. */
export interface Lane {
  key: string
  /** The trunk it branches off; undefined: straight from the source. */
  trunk?: Trunk
  driver?: Placed
  arrays: Placed[]
  driverInW: number
  driverLossW: number
  arrayInW: number
  arrayLossW: number
  opticW: number
  lightW: number
}

/** A driver that feeds other drivers, with any between: drawn once, before the lanes that branch off it. */
export interface Trunk {
  driver: Placed
  inW: number
  lossW: number
}

/** The powers a ribbon shows. They add up: source = losses + light. */
export interface Flows {
  sourceW: number
  sourceLossW: number
  /** What chargers give: it flows into the source, from outside. */
  chargerW: number
  wireLossW: number
  trunks: Trunk[]
  lanes: Lane[]
  heatW: number
  airW: number
  looseW: number
  switches: Placed[]
}

export function flowsOf(variant: Variant, at: string, m: Moment): Flows {
  const nodes = nodesOf(variant, at)
  const w = (id: string, figure: string) => Math.max(0, m.figure(id, figure) ?? 0)
  const feeds = variant.feeds.map((f) => f.id)
  const feedsDrivers = new Set(nodes.filter((p) => p.node.driver).flatMap((p) => p.above.filter((a) => a.node.driver).map((a) => a.node.id)))
  const trunks = new Map<string, Trunk>()
  /** The outermost driver above, or the node itself, that feeds other drivers. */
  const trunk = (p: Placed): Trunk | undefined => {
    const driver = [...p.above, p].find((a) => feedsDrivers.has(a.node.id))
    if (!driver) return undefined
    const made = trunks.get(driver.node.id) ?? { driver, inW: 0, lossW: 0 }
    trunks.set(driver.node.id, made)
    return made
  }
  const lanes = new Map<string, Lane>()
  const lane = (p: Placed): Lane => {
    const nearest = p.node.driver ? p : p.above.findLast((a) => a.node.driver)
    const driver = nearest && !feedsDrivers.has(nearest.node.id) ? nearest : undefined
    const key = driver?.node.id ?? `on-${nearest?.node.id ?? p.feed}`
    const made = lanes.get(key) ?? { key, trunk: trunk(p), driver, arrays: [], driverInW: 0, driverLossW: 0, arrayInW: 0, arrayLossW: 0, opticW: 0, lightW: 0 }
    lanes.set(key, made)
    return made
  }
  // What stands between a trunk and its lanes, itself included: not what lights, nor what hangs on a lane's own driver.
  const inTrunk = (p: Placed) => !litOf([p]).length && ![...p.above, p].some((a) => a.node.driver && !feedsDrivers.has(a.node.id))
  let wireLossW = 0
  for (const p of nodes) {
    const times = timesOf(p)
    const loss = times * w(p.node.id, 'lossW')
    const before = trunk(p)
    if (before && inTrunk(p)) before.lossW += loss
    else if (p.node.driver) lane(p).driverLossW += loss
    else if (p.node.array ?? p.node.load ?? p.node.strip) {
      const l = lane(p)
      l.arrays.push(p)
      l.arrayLossW += loss
      l.opticW += times * w(p.node.id, 'opticW')
      l.lightW += times * w(p.node.id, 'lightW')
    } else if (p.above.some((a) => a.node.driver)) lane(p).driverLossW += loss
    else wireLossW += loss
  }
  for (const l of lanes.values()) {
    l.arrayInW = l.arrayLossW + l.opticW + l.lightW
    l.driverInW = l.arrayInW + l.driverLossW
    if (l.trunk) l.trunk.inW += l.driverInW
  }
  for (const t of trunks.values()) t.inW += t.lossW
  // A pack at rest warms a little as its cells even out; that is no flow.
  const live = feeds.filter((id) => w(id, 'busA') > 0)
  return {
    sourceW: live.reduce((sum, id) => sum + w(id, 'sourceW'), 0),
    sourceLossW: live.reduce((sum, id) => sum + w(id, 'lossW'), 0),
    chargerW: feeds.reduce((sum, id) => sum + w(id, 'chargerA') * w(id, 'busV'), 0),
    wireLossW,
    trunks: [...trunks.values()],
    lanes: [...lanes.values()],
    heatW: w('total', 'heatW'),
    airW: m.figure('total', 'airW') ?? 0,
    looseW: w('total', 'looseW'),
    switches: nodes.filter((p) => p.node.switch),
  }
}

/**
 * Rounds parts of a sum to one number of decimals so that they still add up to the rounded sum: largest remainder.
 */
export function roundTogether(parts: number[], decimals: number): number[] {
  const unit = 10 ** -decimals
  const target = Math.round(parts.reduce((a, b) => a + b, 0) / unit)
  const floors = parts.map((p) => Math.floor(p / unit + 1e-9))
  const order = parts.map((p, i) => ({ i, rest: p / unit - floors[i]! })).sort((a, b) => b.rest - a.rest)
  let left = target - floors.reduce((a, b) => a + b, 0)
  for (const { i } of order) {
    if (left <= 0) break
    floors[i]! += 1
    left -= 1
  }
  return floors.map((n) => n * unit)
}

/** The flows as text: one number of decimals for all, rounded together. */
export function labelsOf(f: Flows) {
  const decimals = f.sourceW >= 100 ? 0 : f.sourceW >= 1 ? 1 : f.sourceW >= 0.1 ? 2 : 3
  const parts = [f.sourceLossW, f.wireLossW, ...f.trunks.map((t) => t.lossW), ...f.lanes.flatMap((l) => [l.driverLossW, l.arrayLossW, l.opticW, l.lightW])]
  const rounded = roundTogether(parts, decimals)
  const say = (x: number) => x.toFixed(decimals)
  const [sourceLoss = 0, wireLoss = 0] = rounded
  const first = 2 + f.trunks.length
  const laneW = f.lanes.map((_, i) => rounded.slice(first + 4 * i, first + 4 * i + 4))
  const lanes = laneW.map(([driverLoss = 0, arrayLoss = 0, optic = 0, light = 0]) => {
    return {
      driverIn: say(driverLoss + arrayLoss + optic + light),
      driverLoss: say(driverLoss),
      arrayIn: say(arrayLoss + optic + light),
      arrayLoss: say(arrayLoss),
      emitted: say(optic + light),
      optic: say(optic),
      light: say(light),
    }
  })
  const total = rounded.reduce((a, b) => a + b, 0)
  const light = laneW.reduce((sum, parts) => sum + (parts[3] ?? 0), 0)
  const trunks = f.trunks.map((t, i) => {
    const loss = rounded[2 + i] ?? 0
    const out = laneW.reduce((sum, parts, k) => (f.lanes[k]!.trunk === t ? sum + parts.reduce((a, b) => a + b, 0) : sum), 0)
    return { in: say(loss + out), loss: say(loss) }
  })
  return { source: say(total), sourceLoss: say(sourceLoss), wireLoss: say(wireLoss), trunks, lanes, heat: say(total - light), decimals, zero: say(0) }
}
