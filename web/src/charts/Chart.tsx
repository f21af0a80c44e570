import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useColorScheme } from '@mui/material/styles'
import { LineChart } from 'echarts/charts'
import { AriaComponent, GridComponent, MarkLineComponent, MarkPointComponent, TooltipComponent } from 'echarts/components'
import * as echarts from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { useEffect, useMemo, useRef, useState } from 'react'

echarts.use([LineChart, GridComponent, TooltipComponent, MarkLineComponent, MarkPointComponent, AriaComponent, SVGRenderer])

export interface Line {
  name: string
  unit: string
  colour: string
  /** Which of the two vertical axes; 0 is the left one. */
  axis: 0 | 1
  points: [number, number][]
  dashed?: boolean | 'dotted'
  digits?: number
}

export interface Axis {
  name: string
  min?: number
  max?: number
}

export interface Handle {
  along: 'x' | 'y'
  value: number
  name: string
  unit: string
  onDrag: (value: number, done: boolean) => void
}

interface Props {
  title: string
  lines: Line[]
  /** every: marks at multiples of it, written by mark. */
  x: { name: string; min?: number; max: number; format: (x: number) => string; every?: number; mark?: (x: number) => string }
  /** Levels that can be dragged: of the left axis, or of the one below. */
  knobs?: Handle[]
  /** Points worth a mark: where, with what words. */
  marks?: { x: number; y: number; name: string }[]
  y: [Axis, Axis?]
  cursor?: number
  levels?: { value: number; axis: 0 | 1; name: string; colour: string }[]
  height?: number
}

const colourOf = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim()
const resolve = (colour: string) => (colour.startsWith('--') ? colourOf(colour) : colour)

function save(name: string, type: string, content: string) {
  const a = document.createElement('a')
  a.href = URL.createObjectURL(new Blob([content], { type }))
  a.download = name
  a.click()
  setTimeout(() => URL.revokeObjectURL(a.href), 1000)
}

/** The one wrapper around the chart library: axes with units, direct labels, cursor read-out, CSV and SVG out. */
export function Chart({ title, lines, x, y, cursor, levels, knobs, marks, height = 236 }: Props) {
  const box = useRef<HTMLDivElement>(null)
  const chart = useRef<echarts.ECharts>(null)
  const { colorScheme } = useColorScheme()

  useEffect(() => {
    const c = echarts.init(box.current, undefined, { renderer: 'svg' })
    chart.current = c
    const observer = new ResizeObserver(() => c.resize())
    observer.observe(box.current!)
    return () => {
      observer.disconnect()
      c.dispose()
    }
  }, [])

  const option = useMemo(() => {
    const ink = colourOf('--ink-soft')
    const grid = colourOf('--line')
    const axis = (a: Axis | undefined, side: 'left' | 'right') =>
      a && {
        type: 'value', name: a.name, nameLocation: 'middle', nameGap: 40, nameTextStyle: { color: ink, fontSize: 12 }, position: side, min: a.min, max: a.max, scale: true,
        axisLabel: { color: ink, fontSize: 11, showMaxLabel: a.max === undefined }, splitLine: { show: side === 'left', lineStyle: { color: grid } }, splitNumber: 4,
      }
    // An axis that no line is drawn against is left out.
    const second = lines.some((l) => l.axis === 1) ? y[1] : undefined
    return {
      animation: false,
      textStyle: { fontFamily: 'Atkinson Hyperlegible Next Variable' },
      aria: { enabled: true, label: { description: `${title}: ${lines.map((l) => l.name).join(', ')}` } },
      grid: { left: 58, right: second ? 58 : 16, top: 14, bottom: 38 },
      tooltip: {
        trigger: 'axis', confine: true, backgroundColor: colourOf('--paper'), borderColor: grid, textStyle: { color: colourOf('--ink'), fontSize: 12 },
        formatter: (items: { axisValue: number; seriesIndex: number; value: [number, number]; color: string }[]) => {
          const at = document.createElement('div')
          at.textContent = x.format(items[0]?.axisValue ?? 0)
          for (const item of items) {
            const l = lines[item.seriesIndex]
            const row = document.createElement('div')
            row.textContent = l ? `${l.name} ${item.value[1].toFixed(l.digits ?? 1)} ${l.unit}` : ''
            at.append(row)
          }
          return at
        },
      },
      xAxis: {
        type: 'value', name: x.name, nameLocation: 'middle', nameGap: 24, nameTextStyle: { color: ink, fontSize: 12 }, min: x.min ?? 0, max: x.max,
        interval: x.every, axisLabel: { color: ink, fontSize: 11, formatter: x.mark ?? x.format, hideOverlap: true, showMaxLabel: x.every === undefined }, splitLine: { show: false }, axisLine: { lineStyle: { color: grid } },
      },
      yAxis: [axis(y[0], 'left'), axis(second, 'right')].filter(Boolean),
      series: lines.map((l, i) => ({
        type: 'line', name: l.name, data: l.points, yAxisIndex: l.axis, showSymbol: false, color: resolve(l.colour), lineStyle: { width: 2, type: l.dashed === 'dotted' ? 'dotted' : l.dashed ? 'dashed' : 'solid' },
        markPoint: i === 0 && marks ? { silent: true, symbol: 'circle', symbolSize: 11, itemStyle: { color: colourOf('--paper'), borderColor: colourOf('--ink'), borderWidth: 2 }, label: { position: 'top', distance: 8, color: colourOf('--ink'), fontSize: 12, fontWeight: 'bold', formatter: (m: { name: string }) => m.name }, data: marks.map((m) => ({ name: m.name, coord: [m.x, m.y] })) } : undefined,
        markLine: {
          silent: true, symbol: 'none', animation: false,
          data: [
            ...(i === 0 && cursor !== undefined ? [{ xAxis: cursor, lineStyle: { color: colourOf('--ink'), type: 'solid', width: 1 }, label: { show: false } }] : []),
            ...(levels ?? []).filter((v) => lines.findIndex((s) => s.axis === v.axis) === i).map((v) => ({ yAxis: v.value, lineStyle: { color: resolve(v.colour), type: 'dashed' as const }, label: { formatter: v.name, position: 'insideStartTop' as const, color: resolve(v.colour), fontSize: 11 } })),
          ],
        },
      })),
    }
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the colour scheme changes what colourOf answers
  }, [title, lines, x, y, cursor, levels, marks, colorScheme])

  useEffect(() => {
    chart.current?.setOption(option as never, { notMerge: true })
  }, [option])

  const csv = () => {
    const rows = [[x.name, ...lines.map((l) => `${l.name} [${l.unit}]`)].map((s) => `"${s.replaceAll('"', '""')}"`).join(',')]
    const at = [...new Set(lines.flatMap((l) => l.points.map((p) => p[0])))].sort((a, b) => a - b)
    const maps = lines.map((l) => new Map(l.points))
    for (const t of at) rows.push([t, ...maps.map((m) => m.get(t) ?? '')].join(','))
    save(`${title}.csv`, 'text/csv', rows.join('\r\n') + '\r\n')
  }
  return (
    <Box component="figure" sx={{ m: 0, minWidth: 0 }} aria-label={title}>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'baseline', columnGap: 1.5, fontSize: 12.5 }}>
        <Box component="figcaption" sx={{ fontWeight: 700, fontSize: 14, mr: 'auto' }}>
          {title}
        </Box>
        {lines.map((l) => (
          <Box key={l.name} component="span" sx={{ display: 'inline-flex', alignItems: 'center', gap: 0.5, color: 'var(--ink-soft)' }}>
            <svg width="18" height="6" aria-hidden>
              <line x1="0" x2="18" y1="3" y2="3" stroke={`var(${l.colour})`} strokeWidth="3" strokeDasharray={l.dashed === 'dotted' ? '2 3' : l.dashed ? '5 3' : undefined} />
            </svg>
            {l.name}
          </Box>
        ))}
        <Button sx={{ p: 0, minWidth: 0, fontSize: 12 }} onClick={csv}>
          CSV
        </Button>
        <Button sx={{ p: 0, minWidth: 0, fontSize: 12 }} onClick={() => save(`${title}.svg`, 'image/svg+xml', chart.current!.renderToSVGString())}>
          SVG
        </Button>
      </Box>
      <Box sx={{ position: 'relative' }}>
        <Box ref={box} sx={{ height, width: '100%' }} />
        {knobs?.map((k) => <Knob key={k.name} chart={chart} knob={k} height={height} />)}
      </Box>
    </Box>
  )
}

/** The handle of a level that can be dragged, or nudged with the arrow keys. */
function Knob({ chart, knob, height }: { chart: React.RefObject<echarts.ECharts | null>; knob: Handle; height: number }) {
  const [at, setAt] = useState<number>()
  const upright = knob.along === 'y'
  const axis = upright ? { yAxisIndex: 0 } : { xAxisIndex: 0 }
  useEffect(() => {
    // Where the level lies is known once the chart has drawn itself.
    const place = () => {
      const pixel = chart.current?.convertToPixel(upright ? { yAxisIndex: 0 } : { xAxisIndex: 0 }, knob.value)
      const end = upright ? height : (chart.current?.getWidth() ?? 0)
      setAt(typeof pixel === 'number' && pixel >= 0 && pixel <= end ? pixel : undefined)
    }
    let c: echarts.ECharts | null = null
    const frame = requestAnimationFrame(() => {
      c = chart.current
      c?.on('finished', place)
      place()
    })
    return () => {
      cancelAnimationFrame(frame)
      c?.off('finished', place)
    }
  }, [chart, knob.value, upright, height])
  const value = (e: React.PointerEvent) => {
    const box = e.currentTarget.parentElement!.getBoundingClientRect()
    const pixel = upright ? Math.min(Math.max(e.clientY - box.top, 0), height) : Math.min(Math.max(e.clientX - box.left, 0), box.width)
    return Number(chart.current?.convertFromPixel(axis, pixel))
  }
  const step = 10 ** Math.floor(Math.log10(Math.max(knob.value, 1e-3)) - 1)
  const nudge = (by: number) => knob.onDrag(Math.max(0, Math.round((knob.value + by * step) / step) * step), false)
  return (
    <Box role="slider" tabIndex={0} aria-label={knob.name} aria-orientation={upright ? 'vertical' : 'horizontal'} aria-valuenow={knob.value} aria-valuetext={`${knob.value.toPrecision(3)} ${knob.unit}`}
      onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
      onPointerMove={(e) => e.buttons === 1 && knob.onDrag(value(e), false)}
      onPointerUp={(e) => knob.onDrag(value(e), true)}
      onKeyDown={(e) => {
        const more = e.key === 'ArrowUp' || e.key === 'ArrowRight'
        if (!more && e.key !== 'ArrowDown' && e.key !== 'ArrowLeft') return
        e.preventDefault()
        nudge((more ? 1 : -1) * (e.shiftKey ? 10 : 1))
      }}
      sx={{ position: 'absolute', left: upright ? 52 : (at ?? -100) - 9, top: upright ? (at ?? -100) - 9 : height - 47, width: 18, height: 18, borderRadius: '50%', background: 'var(--power)', border: '3px solid var(--paper)', cursor: upright ? 'ns-resize' : 'ew-resize', touchAction: 'none', visibility: at === undefined ? 'hidden' : 'visible' }} />
  )
}
