import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { answer, api, type Light, type LightNode, type Schemas } from '../api/client'
import { Chart } from '../charts/Chart'
import type { Line } from '../charts/lines'
import type { Handle } from '../charts/Knob'
import { get, set } from '../document/pointer'
import type { Change } from '../document/store'
import { amps, digits } from '../units/quantity'
import { nodeName } from '../document/names'
import { useSolved } from '../solved/useSolved'
import { type Placed } from '../document/tree'

interface Props {
  light: Light
  variant: number
  driver: Placed
  setCurrentA: number | undefined
  several: boolean
  change: Change
}

const names: Record<string, string> = { full: 'driver, pack full', half: 'driver, half', empty: 'driver, at cut-off', nominal: 'driver', lowest: 'input a tenth low', highest: 'a tenth high' }

const half = { less: 118, among: 2 }

/** Whether emitters hang on a node: what else hangs there is called its load. */
const lights = (n: LightNode): boolean => (n.loads ?? []).some((l) => l.array !== undefined || lights(l))

/** Where the curves meet: the load cold and warm against what the driver offers; the set current can be dragged. */
export function PlaneChart({ light, variant, driver, setCurrentA, several, change }: Props) {
  const node = driver.node.id
  const what = lights(driver.node) ? 'emitters' : 'load'
  // What is wrong with the light or the connection the page says. The figures go first.
  const solved = useSolved((s) => s.traceLight === light || s.error !== undefined)
  const plane = useQuery({ queryKey: ['plane', variant, node, light], queryFn: ({ signal }) => answer(api.POST('/api/plane', { signal, params: { query: { variant, node } }, body: light })), retry: false, enabled: solved, placeholderData: (old) => old }).data
  const chart = useMemo(() => {
    if (!plane) return undefined
    const lines: Line[] = []
    const corner = (points: Schemas['VA'][]) => points.map(({ v, a }): [number, number] => [v, a])
    // Where warming or input makes no difference, one line says it all.
    const same = (c: Schemas['PlaneCurve'], d: Schemas['PlaneCurve']) => c.points.length === d.points.length && c.points.every((p, k) => Math.abs(p.v - d.points[k]!.v) < 0.01 && Math.abs(p.a - d.points[k]!.a) < 1e-3)
    const loads = plane.loads.filter((c, i) => i === 0 || !same(c, plane.loads[0]!))
    for (const c of loads) lines.push({ name: loads.length > 1 ? `${what}, ${c.name}` : what, unit: 'A', colour: c.name === 'cold' ? '--light' : '--heat', axis: 0, points: corner(c.points), dashed: c.name === 'low bin' ? 'dotted' : c.name === 'high bin', digits: 3 })
    const envelopes = plane.envelopes.filter((c, i) => i === 0 || !same(c, plane.envelopes[0]!))
    envelopes.forEach((c, i) => lines.push({ name: names[c.name] ?? c.name, unit: 'A', colour: '--power', axis: 0, points: corner(c.points), dashed: i > 1 ? 'dotted' : i > 0, digits: 3 }))
    const points = plane.loads.flatMap((c) => c.points)
    const open = Math.max(...plane.envelopes.flatMap((c) => c.points.map((p) => p.v)))
    const low = Math.min(...points.map((p) => p.v))
    const top = Math.max(...plane.points.map((p) => p.outA), setCurrentA ?? 0)
    const first = plane.points[0]
    return {
      lines,
      x: { name: `Voltage at the ${what}, V`, min: Math.floor(low * 0.97), max: Math.ceil(open * 1.04), format: (v: number) => `${v.toFixed(2)} V`, mark: String },
      y: [{ name: 'Current, A', min: 0, max: Number((top * 1.25).toPrecision(2)) }] as [{ name: string; min: number; max: number }],
      marks: first ? [{ x: first.outV, y: first.outA, name: `${digits(first.outV, 3)} V · ${amps(first.outA)}` }] : [],
    }
  }, [plane, setCurrentA, what])
  if (!chart) return null
  const limits = light.parts.find((p) => p.id === driver.node.driver?.partId)?.driver
  const setVoltageV = limits?.family === 'voltage' ? (driver.node.driver?.setVoltageV ?? limits.setVoltageV) : undefined
  const dragged = (name: 'setCurrentA' | 'setVoltageV', label: string, shown: number, least: number, most: number, figures: number): Handle['onDrag'] => (value, done) =>
    change(
      (l) => {
        const pointer = `${driver.pointer}/driver/${name}`
        const next = typeof value === 'number' ? value : value((get(l, pointer) as number | undefined) ?? shown)
        return set(l, pointer, Number(Math.min(Math.max(next, least), most).toPrecision(figures)))
      },
      label,
      done,
    )
  const knobs: Handle[] = []
  if (setCurrentA !== undefined) knobs.push({ along: 'y', value: setCurrentA, name: 'Set current', unit: 'A', onDrag: dragged('setCurrentA', 'Set current', setCurrentA, limits?.minCurrentA ?? 0.001, limits?.maxCurrentA ?? 200, 2) })
  if (setVoltageV !== undefined) knobs.push({ along: 'x', value: setVoltageV, name: 'Set voltage', unit: 'V', onDrag: dragged('setVoltageV', 'Set voltage', setVoltageV, limits?.minVoltageV ?? 0, limits?.maxVoltageV ?? 1000, 3) })
  return <Chart title={several ? `Where the curves meet: ${nodeName(driver.node)}` : 'Where the curves meet'} {...chart} height={250} fill={half} knobs={knobs} />
}
