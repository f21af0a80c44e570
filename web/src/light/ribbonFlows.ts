import type { Variant } from '../api/client'
import type { Moment } from './trace'
import { nodesOf, type Placed } from './tree'

/** Everything between one driver, or a feed without one, and the light. */
export interface Lane {
  key: string
  driver?: Placed
  arrays: Placed[]
  driverInW: number
  driverLossW: number
  arrayInW: number
  arrayLossW: number
  opticW: number
  lightW: number
}

/** The powers a ribbon shows. They add up: source = losses + light. */
export interface Flows {
  sourceW: number
  sourceLossW: number
  wireLossW: number
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
  const lanes = new Map<string, Lane>()
  const lane = (p: Placed): Lane => {
    const driver = p.node.driver ? p : p.above.findLast((a) => a.node.driver)
    const key = driver?.node.id ?? `feed-${p.feed}`
    const made = lanes.get(key) ?? { key, driver, arrays: [], driverInW: 0, driverLossW: 0, arrayInW: 0, arrayLossW: 0, opticW: 0, lightW: 0 }
    lanes.set(key, made)
    return made
  }
  let wireLossW = 0
  for (const p of nodes) {
    const loss = w(p.node.id, 'lossW')
    if (p.node.driver) {
      const l = lane(p)
      l.driverLossW += loss
    } else if (p.node.array ?? p.node.load ?? p.node.strip) {
      const l = lane(p)
      l.arrays.push(p)
      l.arrayLossW += loss
      l.opticW += w(p.node.id, 'opticW')
      l.lightW += w(p.node.id, 'lightW')
    } else if (p.above.some((a) => a.node.driver)) lane(p).driverLossW += loss
    else wireLossW += loss
  }
  for (const l of lanes.values()) {
    l.arrayInW = l.arrayLossW + l.opticW + l.lightW
    l.driverInW = l.arrayInW + l.driverLossW
  }
  // A pack at rest warms a little as its cells even out; that is no flow.
  const live = feeds.filter((id) => w(id, 'busA') > 0)
  return {
    sourceW: live.reduce((sum, id) => sum + w(id, 'sourceW'), 0),
    sourceLossW: live.reduce((sum, id) => sum + w(id, 'lossW'), 0),
    wireLossW,
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
  const parts = [f.sourceLossW, f.wireLossW, ...f.lanes.flatMap((l) => [l.driverLossW, l.arrayLossW, l.opticW, l.lightW])]
  const rounded = roundTogether(parts, decimals)
  const say = (x: number) => x.toFixed(decimals)
  const [sourceLoss = 0, wireLoss = 0] = rounded
  const lanes = f.lanes.map((_, i) => {
    const [driverLoss = 0, arrayLoss = 0, optic = 0, light = 0] = rounded.slice(2 + 4 * i, 6 + 4 * i)
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
  const light = f.lanes.reduce((sum, _, i) => sum + (rounded[5 + 4 * i] ?? 0), 0)
  return { source: say(total), sourceLoss: say(sourceLoss), wireLoss: say(wireLoss), lanes, heat: say(total - light), decimals, zero: say(0) }
}
