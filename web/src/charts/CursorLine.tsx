import type { ECharts } from 'echarts/core'
import { useLayoutEffect, useRef } from 'react'

/** The clock's instant on a chart: it moves without the chart being drawn anew. Drawn tells when the axis may have changed. */
export function CursorLine({ chart, x, drawn }: { chart: React.RefObject<ECharts | null>; x: number; drawn: unknown }) {
  const line = useRef<HTMLDivElement>(null)
  useLayoutEffect(() => {
    const pixel: unknown = drawn === undefined ? undefined : chart.current?.convertToPixel({ xAxisIndex: 0 }, x)
    const seen = typeof pixel === 'number' && Number.isFinite(pixel)
    line.current!.style.transform = `translateX(${seen ? pixel : 0}px)`
    line.current!.style.visibility = seen ? 'visible' : 'hidden'
  }, [chart, x, drawn])
  return <div ref={line} aria-hidden style={{ position: 'absolute', left: 0, top: 14, bottom: 38, width: 1, background: 'var(--ink)', pointerEvents: 'none', visibility: 'hidden' }} />
}
