import Box from '@mui/material/Box'
import { memo, useMemo } from 'react'
import type { Light, Trace, Variant } from '../api/client'
import { Chart } from '../charts/Chart'
import type { Axis, Line } from '../charts/lines'
import { useSettings } from '../settings/SettingsProvider'
import { clock, mark, markEvery } from '../units/quantity'
import { highest, series } from '../solved/trace'
import { nodeName } from '../document/names'
import { nodesOf, type Placed, type Stage } from '../document/tree'

interface Props {
  light: Light
  variant: Variant
  at: string
  trace: Trace
  t: number
  stage: Stage
  touchLimitC: number | undefined
}

/** Beside the curves of a driver it has half of the room. */
const beside = { less: 118, among: 2 }

/** The course in time, with the figures that matter to the open stage. */
export const RunChart = memo(function RunChart({ light, variant, at, trace, t, stage, touchLimitC }: Props) {
  const { settings } = useSettings()
  const chart = useMemo(() => {
    const lines: Line[] = []
    const add = (name: string, unit: string, colour: string, axis: 0 | 1, values: number[] | undefined, more: Partial<Line> = {}) => {
      if (values) lines.push({ name, unit, colour, axis, points: trace.t.map((x, i) => [x, values[i]!]), ...more })
    }
    const degrees = settings.fahrenheit ? '°F' : '°C'
    const toDegrees = (v: number[] | undefined) => (settings.fahrenheit ? v?.map((c) => c * 1.8 + 32) : v)
    const levels: { value: number; axis: 0 | 1; name: string; colour: string }[] = []
    const nodes = nodesOf(variant, at)
    const arrays = nodes.filter((p) => p.node.array)
    const temperatures = (axis: 0 | 1) => {
      // Of several arrays the hottest stands for all.
      const top = (p: Placed) => highest(series(trace, p.node.id, 'junctionC'), -Infinity)
      const hottest = arrays.toSorted((a, b) => top(b) - top(a))[0]
      if (hottest) add(arrays.length > 1 ? `hottest junction, ${nodeName(hottest.node)}` : 'junction', degrees, '--heat', axis, toDegrees(series(trace, hottest.node.id, 'junctionC')))
      for (const b of variant.bodies.slice(0, 3)) add(b.name, degrees, '--heat-flow', axis, toDegrees(series(trace, b.id, 'bodyC')), { dashed: true })
    }
    // Light that is not known is no line at nothing.
    const lit = highest(series(trace, 'total', 'fluxLm'), 0) > 0
    const flux = (axis: 0 | 1) => lit && add('light', 'lm', '--light', axis, series(trace, 'total', 'fluxLm'), { digits: 0 })
    const volts = (axis: 0 | 1) => variant.feeds.forEach((f) => add(variant.feeds.length > 1 ? `source ${f.name ?? f.id}` : 'source', 'V', '--power', axis, series(trace, f.id, 'busV'), { digits: 2 }))
    const light0: Axis = { name: 'Light, lm', min: 0 }
    const volt: Axis = { name: 'Voltage, V' }
    const hot: Axis = { name: `Temperature, ${degrees}` }
    // A constant-voltage supply has no headroom worth a picture; the run itself is shown then.
    const regulator = nodes.find((p) => p.node.driver && light.parts.find((q) => q.id === p.node.driver?.partId)?.driver?.family !== 'voltage')
    let title = 'The whole run'
    let y: [Axis, Axis?] = [light0, hot]
    if (stage === 'source') {
      title = 'Source and light over the run'
      y = lit ? [volt, light0] : [volt]
      volts(0)
      flux(1)
    } else if (stage === 'driver' && regulator) {
      title = 'Headroom over the run'
      y = [volt]
      const driver = regulator
      const part = light.parts.find((p) => p.id === driver?.node.driver?.partId)?.driver
      if (driver) {
        add('driver input', 'V', '--power', 0, series(trace, driver.node.id, 'inV'), { digits: 2 })
        const out = series(trace, driver.node.id, 'outV')
        const headroom = part?.headroomV ?? 0
        add('emitters', 'V', '--light', 0, out, { digits: 2 })
        if (headroom > 0) add(`emitters + ${headroom} V headroom`, 'V', '--heat', 0, out?.map((v) => (v > 0 ? v + headroom : 0)), { dashed: true, digits: 2 })
      }
    } else if (stage === 'heat') {
      title = 'Temperatures over the run'
      y = [hot]
      temperatures(0)
      const limit = touchLimitC
      if (limit !== undefined) levels.push({ value: settings.fahrenheit ? limit * 1.8 + 32 : limit, axis: 0, name: light.conditions.handheld ? 'a hand holds' : 'a hand touches', colour: '--caution-ink' })
    } else if (stage === 'light') {
      title = 'Light over the run'
      y = [light0]
      flux(0)
      const half = trace.events.find((e) => e.kind === 'half-light')
      const i = half ? trace.t.findIndex((x) => x >= half.t) : -1
      const value = series(trace, 'total', 'fluxLm')?.[i]
      if (value) levels.push({ value, axis: 0, name: 'half', colour: '--light-ink' })
      if (light.brief.outputLm !== undefined) levels.push({ value: light.brief.outputLm, axis: 0, name: 'wanted', colour: '--ink-soft' })
    } else {
      const right = lit ? 1 : 0
      title = stage !== 'overview' ? (lit ? 'Light and temperature over the run' : 'Temperatures over the run') : lit ? 'The whole run: light, source, temperatures' : 'The whole run: source, temperatures'
      flux(0)
      temperatures(right)
      y = lit ? [light0, hot] : [hot]
      if (stage === 'overview') {
        const top = Math.max(0, ...arrays.map((p) => highest(series(trace, p.node.id, 'junctionC'), 0)))
        // volts and degrees share the right axis only where they are of a size
        if (top < 200) variant.feeds.forEach((f) => add('source', 'V', '--power', right, series(trace, f.id, 'busV'), { digits: 2 }))
        y = lit ? [light0, { name: `${degrees} and V` }] : [{ name: `${degrees} and V` }]
      }
    }
    return { title, y, lines, levels, x: { name: 'Time since switch-on', max: trace.endS, format: clock, every: markEvery(trace.endS), mark } }
  }, [light, variant, at, trace, stage, touchLimitC, settings.fahrenheit])
  if (chart.lines.length === 0) return <Box sx={{ color: 'var(--ink-soft)', maxWidth: 460 }}>Nothing of this is known yet that changes in time: the light of the emitters, the way their heat takes, and what feeds them make the curves.</Box>
  return <Chart {...chart} height={268} fill={stage === 'driver' && nodesOf(variant, at).some((p) => p.node.driver?.partId) ? beside : { less: 66 }} cursor={Math.min(t, trace.endS)} />
})
