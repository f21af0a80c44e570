import type { ECharts } from 'echarts/core'
import { useEffect, useState } from 'react'
import css from './chart.module.css'

const least = 8 // pixels below which a drag was a click

/** A stretch of the x axis that is pulled open with the mouse: it is told in the axis's own unit. A finger scrolls, as everywhere. */
export function Stretch({ chart, roomRef, onStretch }: { chart: React.RefObject<ECharts | null>; roomRef: React.RefObject<HTMLElement | null>; onStretch: (from: number, to: number) => void }) {
  const [open, setOpen] = useState<[number, number]>()
  useEffect(() => {
    const room = roomRef.current
    if (!room) return
    let from: number | undefined
    const at = (e: PointerEvent) => {
      const box = room.getBoundingClientRect()
      return Math.min(Math.max(e.clientX - box.left, 0), box.width)
    }
    const down = (e: PointerEvent) => {
      if (e.pointerType === 'touch' || e.button !== 0) return
      from = at(e)
      e.preventDefault() // nothing is selected meanwhile
    }
    const move = (e: PointerEvent) => from !== undefined && setOpen([from, at(e)])
    const up = (e: PointerEvent) => {
      if (from === undefined) return
      const [a, b] = [Math.min(from, at(e)), Math.max(from, at(e))]
      from = undefined
      setOpen(undefined)
      if (b - a < least) return
      const value = (x: number) => Number(chart.current?.convertFromPixel({ xAxisIndex: 0 }, x))
      onStretch(value(a), value(b))
    }
    room.addEventListener('pointerdown', down)
    window.addEventListener('pointermove', move)
    window.addEventListener('pointerup', up)
    return () => {
      room.removeEventListener('pointerdown', down)
      window.removeEventListener('pointermove', move)
      window.removeEventListener('pointerup', up)
    }
  }, [chart, roomRef, onStretch])
  if (!open) return null
  return <div aria-hidden className={css.stretch} style={{ left: Math.min(...open), width: Math.abs(open[1] - open[0]) }} />
}
