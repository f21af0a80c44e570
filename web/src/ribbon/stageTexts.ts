import type { Light, Solution } from '../api/client'
import { nodesOf, partOf, timesOf, type Placed, type Stage } from '../document/tree'
import type { Moment } from '../solved/trace'
import { amps, digits } from '../units/quantity'
import { familyWord } from '../units/words'

/** A stage of the chain, with its figures in a line. */
export interface StageText {
  stage: Stage
  title: string
  key: string
  line: string
}

const join = (...s: (string | false | undefined)[]) => s.filter(Boolean).join(' · ')
const howMany = (list: Placed[]) => list.reduce((n, p) => n + timesOf(p), 0)

/** What the ribbon says of each stage at an instant; degrees writes a temperature. */
export function stageTexts(light: Light, index: number, moment: Moment | undefined, solution: Solution | undefined, degrees: (c: number | undefined) => string): StageText[] {
  const variant = light.variants[index]!
  const nodes = nodesOf(variant, `/variants/${index}`)
  const feed = variant.feeds[0]
  const pack = feed?.sources[0]?.pack
  const cell = partOf(light, pack?.partId)?.part.cell
  const f = (id: string, figure: string, unit: string) => {
    const v = moment?.figure(id, figure)
    // No voltage where nothing is chosen yet is nothing known, not a nought.
    return v === undefined || (v === 0 && unit === 'V') ? '' : unit === 'A' ? amps(v, 3) : `${digits(v, 3)} ${unit}`
  }
  const drivers = nodes.filter((n) => n.node.driver)
  const arrays = nodes.filter((n) => n.node.array)
  const source = !feed ? 'none yet' : join(pack && `${pack.series}S${pack.parallel}P${cell ? ` ${digits(cell.capacityAh * (cell.health ?? 1) * pack.parallel, 2)} Ah` : ''}`, f(feed.id, 'busV', 'V'), (moment?.figure(feed.id, 'busV') ?? 0) > 0 && f(feed.id, 'busA', 'A'), (moment?.figure(feed.id, 'chargerA') ?? 0) > 0 && `charger ${f(feed.id, 'chargerA', 'A')}`)
  const driver = () => {
    const d = drivers[0]?.node
    if (howMany(drivers) > 1) return `${howMany(drivers)} drivers`
    if (!d) return 'none'
    const part = partOf(light, d.driver?.partId)?.part.driver
    return part ? join(`${familyWord[part.family]} ${f(d.id, 'outA', 'A')}`, d.driver?.mode ?? moment?.mode(d.id)) : 'not chosen yet'
  }
  const emitters = () => {
    const a = arrays[0]?.node
    const strip = nodes.find((n) => n.node.strip)?.node
    const load = nodes.find((n) => n.node.load)?.node
    const hot = Math.max(...arrays.map((n) => moment?.figure(n.node.id, 'junctionC') ?? -Infinity))
    if (howMany(arrays) > 1) return join(`${howMany(arrays)} arrays`, hot > -Infinity && degrees(hot))
    if (a?.array) return join(`${a.array.series} × ${a.array.parallel}${(a.array.count ?? 1) > 1 ? ` × ${a.array.count}` : ''}`, f(a.id, 'inV', 'V'), degrees(moment?.figure(a.id, 'junctionC')))
    if (strip?.strip) return join(`${digits(strip.strip.piecesM.reduce((x, m) => x + m, 0), 3)} m of strip`, f(strip.id, 'inV', 'V'))
    return load ? join('measured load', f(load.id, 'inV', 'V')) : 'none yet'
  }
  const flux = moment?.figure('total', 'fluxLm')
  const body = variant.bodies[0]
  return [
    { stage: 'source', key: '1', title: 'Source', line: source },
    { stage: 'driver', key: '2', title: 'Driver', line: driver() },
    { stage: 'emitters', key: '3', title: 'Emitters', line: emitters() },
    { stage: 'light', key: '4', title: 'Light', line: flux === undefined || flux === 0 ? (solution?.answers.fluxLm == null ? 'not known' : 'dark') : `${digits(flux, 3)} lm out of front` },
    { stage: 'heat', key: '5', title: 'Heat path', line: body ? join(body.name, degrees(moment?.figure(body.id, 'bodyC'))) : 'mounted on nothing yet' },
  ]
}
