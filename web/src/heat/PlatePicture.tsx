import { contours } from 'd3-contour'
import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react'
import type { Schemas } from '../api/client'
import { labelAt } from '../charts/contour'
import { useSettings } from '../settings/SettingsProvider'
import { show, text } from '../units/quantity'

type Plate = Schemas['Plate']
type Layout = Schemas['Layout']

/** Steps between two lines, K: the first that leaves no more than so many of them. */
const steps = [0.2, 0.5, 1, 2, 5, 10, 20, 50, 100]
const mostBands = 8

interface Props {
  plate: Plate
  layout: Layout | undefined
  /** Side of the pad of a spot, m. */
  padOf: (spot: Schemas['LayoutSpot']) => [length: number, width: number]
  nameOf: (node: string) => string
  onMove: (spot: number, xM: number, yM: number, done: boolean) => void
}

const widest = 720
const most = 330
const rim = 26
const top = 6

/** A plate from above, warm to hot in one hue with lines of equal temperature; what sits on it can be dragged. */
export function PlatePicture({ plate, layout, padOf, nameOf, onMove }: Props) {
  const { settings } = useSettings()
  const degrees = (c: number) => text(show(c, 'temperature', settings, 3))
  // Drawn at the size of its room, so that its figures keep theirs.
  const [room, setRoom] = useState(520)
  const frame = useRef<HTMLDivElement>(null)
  useEffect(() => {
    const watch = new ResizeObserver(([entry]) => setRoom(Math.min(Math.max(entry!.contentRect.width, 200), widest)))
    watch.observe(frame.current!)
    return () => watch.disconnect()
  }, [])
  const scale = Math.min((room - 2 * rim) / plate.lengthM, most / plate.widthM)
  const [w, h] = [plate.lengthM * scale, plate.widthM * scale]
  const svg = useRef<SVGSVGElement>(null)
  const held = useRef<{ spot: number; dx: number; dy: number }>(undefined)
  const map = plate.map
  const bands = useMemo(() => {
    if (!map) return []
    const low = Math.min(...map.c)
    const high = Math.max(...map.c)
    const step = steps.find((s) => (high - low) / s <= mostBands) ?? 100
    const levels: number[] = []
    for (let t = Math.ceil(low / step) * step; t < high; t += step) levels.push(Number(t.toFixed(1)))
    const path = (polygons: number[][][][]) => polygons.map((rings) => rings.map((ring) => `M${ring.map(([x, y]) => `${(x! / map.nx) * w},${(y! / map.ny) * h}`).join('L')}Z`).join('')).join('')
    return contours().size([map.nx, map.ny]).thresholds(levels)(map.c).map((band, i, all) => ({ t: levels[i]!, d: path(band.coordinates), share: (i + 1) / all.length, label: labelAt(band.coordinates, map.nx, map.ny, w, h) }))
  }, [map, w, h])
  // A figure of a line is left out where it would lie on a pad, or on the one before.
  const pads = layout?.spots?.map((s) => ({ x: s.xM * scale, y: s.yM * scale, size: padOf(s).map((m) => m * scale) })) ?? []
  const labels = bands.reduce<typeof bands>((kept, b) => {
    const [x, y] = b.label ?? [0, 0]
    const clear = pads.every((p) => Math.abs(x - p.x) > p.size[0]! / 2 + 16 || Math.abs(y - 4 - p.y) > p.size[1]! / 2 + 7) && kept.every((k) => Math.abs(k.label![0] - x) > 40 || Math.abs(k.label![1] - y) > 13)
    return b.label && clear ? [...kept, b] : kept
  }, [])
  const limit = useMemo(() => (map && map.c.some((c) => c > plate.limitC) ? contours().size([map.nx, map.ny]).thresholds([plate.limitC])(map.c)[0]?.coordinates.map((rings) => rings.map((ring) => `M${ring.map(([x, y]) => `${(x! / map.nx) * w},${(y! / map.ny) * h}`).join('L')}Z`).join('')).join('') : undefined), [map, plate.limitC, w, h])
  const tidy = (m: number) => Math.round(m * 2000) / 2000 // half a millimetre
  const clamp = (x: number, pad: number, side: number) => tidy(Math.min(Math.max(x, pad / 2), side - pad / 2))
  const move = (spot: number, x: number, y: number, done: boolean) => {
    const s = layout!.spots![spot]!
    const [l, b] = padOf(s)
    onMove(spot, clamp(x, l, plate.lengthM), clamp(y, b, plate.widthM), done)
  }
  const point = (e: PointerEvent) => {
    const box = svg.current!.getBoundingClientRect()
    const zoom = (w + 2 * rim) / box.width
    return { x: ((e.clientX - box.left) * zoom - rim) / scale, y: ((e.clientY - box.top) * zoom - top) / scale }
  }
  const grab = (spot: number) => (e: PointerEvent<SVGGElement>) => {
    const p = point(e)
    const s = layout!.spots![spot]!
    held.current = { spot, dx: s.xM - p.x, dy: s.yM - p.y }
    e.currentTarget.setPointerCapture(e.pointerId)
  }
  const drag = (e: PointerEvent<SVGGElement>, done: boolean) => {
    if (!held.current) return
    const p = point(e)
    move(held.current.spot, p.x + held.current.dx, p.y + held.current.dy, done)
    if (done) held.current = undefined
  }
  const nudge = (spot: number) => (e: KeyboardEvent) => {
    const by = e.shiftKey ? 0.01 : 0.001
    const step = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by], ArrowDown: [0, by] }[e.key]
    if (!step) return
    e.preventDefault()
    e.stopPropagation()
    const s = layout!.spots![spot]!
    move(spot, s.xM + step[0]!, s.yM + step[1]!, true)
  }
  const length = (m: number) => text(show(m, 'length', settings))
  return (
    <div ref={frame}>
    <svg ref={svg} viewBox={`0 0 ${w + 2 * rim} ${h + top + 24}`} width={w + 2 * rim} style={{ touchAction: 'none', display: 'block' }} role="group" aria-label={`The plate from above, ${length(plate.lengthM)} by ${length(plate.widthM)}${map ? `, ${degrees(Math.min(...map.c))} to ${degrees(Math.max(...map.c))}` : ''}`}>
      <g transform={`translate(${rim} ${top})`}>
        <rect width={w} height={h} fill={map ? 'var(--heat-soft)' : 'var(--track)'} fillOpacity={map ? 0.35 : 1} stroke="var(--ink-soft)" />
        {bands.map((b) => <path key={b.t} d={b.d} fillRule="evenodd" style={{ fill: `color-mix(in oklab, var(--heat) ${Math.round(b.share * 100)}%, var(--heat-soft))` }} fillOpacity={0.72} stroke="var(--heat-ink)" strokeWidth="0.6" strokeOpacity="0.55" />)}
        {limit && <path d={limit} fill="none" stroke="var(--ink)" strokeWidth="1.6" strokeDasharray="6 4" />}
        {labels.map((b) => b.label && <text key={b.t} x={b.label[0]} y={b.label[1]} fontSize="11" textAnchor="middle" className="figure" fill="var(--ink)" stroke="var(--paper)" strokeWidth="3" paintOrder="stroke">{degrees(b.t)}</text>)}
        {layout?.keepOuts?.map((k, i) => <rect key={i} x={(k.xM - k.lengthM / 2) * scale} y={(k.yM - k.widthM / 2) * scale} width={k.lengthM * scale} height={k.widthM * scale} fill={k.hole ? 'var(--paper)' : 'none'} stroke="var(--ink-soft)" strokeDasharray={k.hole ? undefined : '3 3'}><title>{k.purpose ?? (k.hole ? 'cut out' : 'kept free')}</title></rect>)}
        {layout?.spots?.map((s, i) => {
          const [l, b] = padOf(s)
          const at = plate.places.find((p) => p.spot === i)
          const inside = l * scale > 70 && b * scale > 18
          const right = s.xM * scale + (l * scale) / 2 + 44 < w
          return (
            <g key={i} data-spot={i} tabIndex={0} role="button" aria-label={`${nameOf(s.nodeId)} at ${length(s.xM)}, ${length(s.yM)}${at ? `: case ${degrees(at.caseC)}, junction ${degrees(at.junctionC)}` : ''}; arrow keys move it`} style={{ cursor: 'grab' }}
              onPointerDown={grab(i)} onPointerMove={(e) => drag(e, false)} onPointerUp={(e) => drag(e, true)} onKeyDown={nudge(i)}>
              <rect x={(s.xM - l / 2) * scale} y={(s.yM - b / 2) * scale} width={Math.max(l * scale, 3)} height={Math.max(b * scale, 3)} rx="2" fill="var(--light)" fillOpacity="0.85" stroke="var(--ink)" strokeWidth={at?.hottest ? 2 : 0.8} />
              {at && <text x={s.xM * scale + (inside ? 0 : (right ? 1 : -1) * ((l * scale) / 2 + 4))} y={s.yM * scale + 4} textAnchor={inside ? 'middle' : right ? 'start' : 'end'} fontSize="12" fontWeight={at.hottest ? 700 : 400} className="figure" fill="var(--ink)" stroke="var(--paper)" strokeWidth="3" paintOrder="stroke">{degrees(at.caseC)}</text>}
            </g>
          )
        })}
        <text x={w / 2} y={h + 18} textAnchor="middle" fontSize="12" className="figure" fill="var(--ink-soft)">{length(plate.lengthM)}</text>
        <text transform={`translate(-8 ${h / 2}) rotate(-90)`} textAnchor="middle" fontSize="12" className="figure" fill="var(--ink-soft)">{length(plate.widthM)}</text>
      </g>
    </svg>
    </div>
  )
}
