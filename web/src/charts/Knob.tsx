import type { ECharts } from 'echarts/core'
import { useEffect, useState } from 'react'
import css from './chart.module.css'

export interface Handle {
  along: 'x' | 'y'
  value: number
  name: string
  unit: string
  /** A value, or what is made of the value it has by then: keys may come faster than the page is drawn. */
  onDrag: (value: number | ((now: number) => number), done: boolean) => void
}

/** The handle of a level that can be dragged, or nudged with the arrow keys. */
export function Knob({ chart, knob }: { chart: React.RefObject<ECharts | null>; knob: Handle }) {
  const [at, setAt] = useState<number>()
  const upright = knob.along === 'y'
  const axis = upright ? { yAxisIndex: 0 } : { xAxisIndex: 0 }
  useEffect(() => {
    // Where the level lies is known once the chart has drawn itself.
    const place = () => {
      const pixel = chart.current?.convertToPixel(upright ? { yAxisIndex: 0 } : { xAxisIndex: 0 }, knob.value)
      const end = (upright ? chart.current?.getHeight() : chart.current?.getWidth()) ?? 0
      setAt(typeof pixel === 'number' && pixel >= 0 && pixel <= end ? pixel : undefined)
    }
    let c: ECharts | null = null
    const frame = requestAnimationFrame(() => {
      c = chart.current
      c?.on('finished', place)
      place()
    })
    return () => {
      cancelAnimationFrame(frame)
      c?.off('finished', place)
    }
  }, [chart, knob.value, upright])
  const value = (e: React.PointerEvent) => {
    const box = e.currentTarget.parentElement!.getBoundingClientRect()
    const pixel = upright ? Math.min(Math.max(e.clientY - box.top, 0), box.height) : Math.min(Math.max(e.clientX - box.left, 0), box.width)
    return Number(chart.current?.convertFromPixel(axis, pixel))
  }
  const nudge = (by: number) =>
    knob.onDrag((now) => {
      const step = 10 ** Math.floor(Math.log10(Math.max(now, 1e-3)) - 1)
      return Math.max(0, Math.round((now + by * step) / step) * step)
    }, false)
  return (
    <div role="slider" tabIndex={0} aria-label={knob.name} aria-orientation={upright ? 'vertical' : 'horizontal'} aria-valuenow={knob.value} aria-valuetext={`${knob.value.toPrecision(3)} ${knob.unit}`}
      onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
      onPointerMove={(e) => e.buttons === 1 && knob.onDrag(value(e), false)}
      onPointerUp={(e) => knob.onDrag(value(e), true)}
      onKeyDown={(e) => {
        const more = e.key === 'ArrowUp' || e.key === 'ArrowRight'
        if (!more && e.key !== 'ArrowDown' && e.key !== 'ArrowLeft') return
        e.preventDefault()
        nudge((more ? 1 : -1) * (e.shiftKey ? 10 : 1))
      }}
      className={upright ? `${css.knob} ${css.upright}` : css.knob}
      style={{ left: upright ? 52 : (at ?? -100) - 9, top: upright ? (at ?? -100) - 9 : undefined, visibility: at === undefined ? 'hidden' : 'visible' }} />
  )
}
