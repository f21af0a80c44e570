import { useColorScheme } from '@mui/material/styles'
import { LineChart } from 'echarts/charts'
import { GridComponent, MarkLineComponent, MarkPointComponent, TooltipComponent } from 'echarts/components'
import * as echarts from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { useEffect, useMemo, useRef, useState, type CSSProperties } from 'react'
import { save } from '../api/save'
import { CursorLine } from './CursorLine'
import { Knob, type Handle } from './Knob'
import { Stretch } from './Stretch'
import type { Axis, Line } from './lines'
import { colourOfLabel, inkOf, placeLabels, withLabels, type Label } from './labels'
import { inTurn } from '../solved/turns'
import css from './chart.module.css'

echarts.use([LineChart, GridComponent, TooltipComponent, MarkLineComponent, MarkPointComponent, SVGRenderer])

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
  /** A stretch of x that is pulled open with the mouse. */
  onStretch?: (from: number, to: number) => void
  /** Grows with the room it stands in: less these pixels for what stands there beside it, parted between so many charts. */
  fill?: { less: number; among?: number }
}

const colours = new Map<string, string>()

/** A colour of the theme in use, read once: asking the browser makes it lay out the page. */
function colourOf(name: string): string {
  const key = `${document.documentElement.dataset.theme ?? ''} ${name}`
  const known = colours.get(key)
  if (known) return known
  const read = getComputedStyle(document.documentElement).getPropertyValue(name).trim()
  if (read) colours.set(key, read)
  return read
}
const resolve = (colour: string) => (colour.startsWith('--') ? colourOf(colour) : colour)

/** The one wrapper around the chart library: axes with units, direct labels, cursor read-out, CSV and SVG out. */
export function Chart({ title, lines, x, y, cursor, levels, knobs, marks, height = 236, fill, onStretch }: Props) {
  const box = useRef<HTMLDivElement>(null)
  const chart = useRef<echarts.ECharts>(null)
  const { colorScheme } = useColorScheme()

  useEffect(() => {
    const c = echarts.init(box.current, undefined, { renderer: 'svg' })
    chart.current = c
    return () => c.dispose()
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
      grid: { left: 58, right: second ? 58 : 16, top: 14, bottom: 38 },
      tooltip: {
        trigger: 'axis', confine: true,
        // Its own box, named: else the library asks for the box's style at every drawing, and the browser lays out the whole page.
        appendTo: (own: HTMLElement) => own,
        backgroundColor: colourOf('--paper'), borderColor: grid, textStyle: { color: colourOf('--ink'), fontSize: 12 },
        formatter: (items: { axisValue: number; seriesIndex: number; value?: [number, number]; color: string }[]) => {
          const at = document.createElement('div')
          at.textContent = x.format(items[0]?.axisValue ?? 0)
          for (const item of items) {
            const l = lines[item.seriesIndex]
            const row = document.createElement('div')
            // Under a pointer that rests, the line may have just become another.
            row.textContent = l && item.value ? `${l.name} ${item.value[1].toFixed(l.digits ?? 1)} ${l.unit}` : ''
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
        markPoint: i === 0 && marks ? { silent: true, symbol: 'circle', symbolSize: 11, itemStyle: { color: colourOf('--paper'), borderColor: colourOf('--ink'), borderWidth: 2 }, label: { show: false }, data: marks.map((m) => ({ coord: [m.x, m.y] })) } : undefined,
        markLine: {
          silent: true, symbol: 'none', animation: false,
          data: [
            ...(levels ?? []).filter((v) => lines.findIndex((s) => s.axis === v.axis) === i).map((v) => ({ yAxis: v.value, lineStyle: { color: resolve(v.colour), type: 'dashed' as const }, label: { show: false } })),
          ],
        },
      })),
    }
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the colour scheme changes what colourOf answers
  }, [title, lines, x, y, levels, marks, colorScheme])

  const [labels, setLabels] = useState<Label[]>()
  const drawn = useRef(false)
  const latest = useRef(() => {})
  const waiting = useRef<number>(undefined)
  useEffect(() => {
    const draw = () => {
      const c = chart.current
      if (!c) return
      drawn.current = true
      waiting.current = undefined
      c.setOption(option as never, { replaceMerge: ['series', 'xAxis', 'yAxis'] })
      setLabels(placeLabels(c, lines, levels ?? [], marks ?? []))
    }
    if (!drawn.current) return draw()
    waiting.current ??= performance.now()
    return inTurn(waiting.current, draw)
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the option is made of all of them
  }, [option])
  useEffect(() => {
    latest.current = () => {
      if (chart.current) setLabels(placeLabels(chart.current, lines, levels ?? [], marks ?? []))
    }
  })
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => {
      const c = chart.current
      const { width, height: tall } = entry!.contentRect
      if (!c || !drawn.current || (Math.abs(c.getWidth() - width) < 1 && Math.abs(c.getHeight() - tall) < 1)) return
      c.resize()
      latest.current()
    })
    observer.observe(box.current!)
    return () => observer.disconnect()
  }, [])
  const told = new Set(labels?.map((l) => l.line))

  const csv = () => {
    const rows = [[x.name, ...lines.map((l) => `${l.name} [${l.unit}]`)].map((s) => `"${s.replaceAll('"', '""')}"`).join(',')]
    const at = [...new Set(lines.flatMap((l) => l.points.map((p) => p[0])))].sort((a, b) => a - b)
    const maps = lines.map((l) => new Map(l.points))
    for (const t of at) rows.push([t, ...maps.map((m) => m.get(t) ?? '')].join(','))
    save(`${title}.csv`, new Blob([rows.join('\r\n') + '\r\n'], { type: 'text/csv' }))
  }
  return (
    <figure className={css.figure} aria-label={`${title}: ${lines.map((l) => l.name).join(', ')}`}>
      <div className={css.top}>
        <figcaption className={css.title}>{title}</figcaption>
        {lines.filter((_, i) => labels && !told.has(i)).map((l) => (
          <span key={l.name} className={css.legend}>
            <svg width="18" height="6" aria-hidden>
              <line x1="0" x2="18" y1="3" y2="3" stroke={`var(${l.colour})`} strokeWidth="3" strokeDasharray={l.dashed === 'dotted' ? '2 3' : l.dashed ? '5 3' : undefined} />
            </svg>
            {l.name}
          </span>
        ))}
        <button type="button" className={css.out} onClick={csv}>
          CSV
        </button>
        <button type="button" className={css.out} onClick={() => save(`${title}.svg`, new Blob([withLabels(chart.current!.renderToSVGString(), labels ?? [], lines, resolve)], { type: 'image/svg+xml' }))}>
          SVG
        </button>
      </div>
      <div className={css.room}>
        <div ref={box} className={fill ? `${css.drawing} ${css.grows}` : css.drawing} style={{ '--tall': `${height}px`, ...(fill && { '--least': `${fill.among ? 150 : 190}px`, '--less': `${fill.less}px`, '--among': fill.among ?? 1 }) } as CSSProperties} />
        {labels?.map((l) => (
          <div key={l.line ?? l.name} aria-hidden className={css.label} style={{ left: l.x, top: l.y, color: `var(${inkOf(colourOfLabel(l, lines))})`, fontWeight: l.line === undefined && l.colour === undefined ? 700 : undefined }}>
            {l.name}
          </div>
        ))}
        {cursor !== undefined && <CursorLine chart={chart} x={cursor} drawn={labels} />}
        {onStretch && <Stretch chart={chart} roomRef={box} onStretch={onStretch} />}
        {knobs?.map((k) => <Knob key={k.name} chart={chart} knob={k} />)}
      </div>
    </figure>
  )
}
