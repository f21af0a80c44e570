import { contours } from 'd3-contour'
import { useId, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent, type RefObject } from 'react'
import type { Schemas } from '../api/client'
import { useSettings } from '../settings/SettingsProvider'
import { digits, editable, show, text } from '../units/quantity'
import { labelAt, shade } from './contour'
import { useRoom } from './useRoom'

type LightMap = Schemas['LightMap']
type StandAt = Schemas['StandAt']

interface Props {
  map: LightMap
  title: string
  stands?: StandAt[]
  /** Where light leaves, drawn as dots. */
  lights?: Schemas['LightAt'][]
  /** Drawn as a dashed line. */
  target?: number
  /** Scale that several maps share, and lines; absent: the map's own. */
  top?: number
  levels?: number[]
  /** Larger than the map: what lies beside it is drawn too. */
  most?: number
  onMove?: (stand: number, xM: number, yM: number, done: boolean) => void
  pictureRef?: RefObject<SVGSVGElement | null>
}

const widest = 760
const rim = 30
const bottom = 26

/** Light over a rectangle from above: dark to bright in one hue, with lines at round figures. A point is read under the mouse, a line where it is dragged; lights can be dragged. */
export function FieldMap({ map, title, stands, lights, target, top, levels = map.levels, most = 340, onMove, pictureRef }: Props) {
  const { settings } = useSettings()
  const { room, frameRef } = useRoom(200, widest)
  const own = useRef<SVGSVGElement>(null)
  const svg = pictureRef ?? own
  const held = useRef<{ stand: number; dx: number; dy: number }>(undefined)
  const [at, setAt] = useState<[x: number, y: number]>()
  const [line, setLine] = useState<[from: [number, number], to: [number, number]]>()
  const [dragged, setDragged] = useState(false)
  const clip = useId()
  const scale = Math.min((room - 2 * rim) / map.lengthM, most / map.widthM)
  const [w, h] = [map.lengthM * scale, map.widthM * scale]
  const highest = top ?? map.max
  const unit = map.unit === 'lx' ? 'lx' : 'µmol'
  const bands = useMemo(() => {
    const path = (polygons: number[][][][]) => polygons.map((rings) => rings.map((ring) => `M${ring.map(([x, y]) => `${((x! / map.nx) * w).toFixed(1)},${((y! / map.ny) * h).toFixed(1)}`).join('L')}Z`).join('')).join('')
    return contours().size([map.nx, map.ny]).thresholds(levels)(map.values).map((band, i) => ({ level: levels[i]!, d: path(band.coordinates), label: labelAt(band.coordinates, map.nx, map.ny, w, h) }))
  }, [map, levels, w, h])
  const wanted = useMemo(() => (target !== undefined && target > map.min && target < map.max ? contours().size([map.nx, map.ny]).thresholds([target])(map.values)[0]?.coordinates.map((rings) => rings.map((ring) => `M${ring.map(([x, y]) => `${(x! / map.nx) * w},${(y! / map.ny) * h}`).join('L')}Z`).join('')).join('') : undefined), [map, target, w, h])
  const labels = bands.reduce<typeof bands>((list, b) => {
    const [x, y] = b.label ?? [0, 0]
    const clear = list.every((k) => Math.abs(k.label![0] - x) > 40 || Math.abs(k.label![1] - y) > 13)
    return b.label && clear ? [...list, b] : list
  }, [])
  const length = (m: number) => text(editable(Number(m.toPrecision(3)), 'length', settings))
  const value = (x: number, y: number) => map.values[Math.min(map.ny - 1, Math.max(0, Math.floor((y / map.widthM + 0.5) * map.ny))) * map.nx + Math.min(map.nx - 1, Math.max(0, Math.floor((x / map.lengthM + 0.5) * map.nx)))] ?? 0
  const point = (e: PointerEvent): [number, number] => {
    const box = svg.current!.getBoundingClientRect()
    const zoom = (w + 2 * rim) / box.width
    return [((e.clientX - box.left) * zoom - rim) / scale - map.lengthM / 2, ((e.clientY - box.top) * zoom - 6) / scale - map.widthM / 2]
  }
  const put = (x: number, y: number) => [(x + map.lengthM / 2) * scale, (y + map.widthM / 2) * scale] as const
  const tidy = (m: number) => Math.round(m * 500) / 500
  const within = ([x, y]: [number, number]) => Math.abs(x) <= map.lengthM / 2 && Math.abs(y) <= map.widthM / 2
  const drag = (e: PointerEvent, done: boolean) => {
    if (!held.current || !onMove) return
    const [x, y] = point(e)
    onMove(held.current.stand, tidy(x + held.current.dx), tidy(y + held.current.dy), done)
    if (!done) return
    held.current = undefined
    setDragged(false)
  }
  const nudge = (i: number) => (e: KeyboardEvent) => {
    const by = e.shiftKey ? 0.1 : 0.01
    const step = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by], ArrowDown: [0, by] }[e.key]
    if (!step || !onMove) return
    e.preventDefault()
    e.stopPropagation()
    onMove(i, tidy(stands![i]!.xM + step[0]!), tidy(stands![i]!.yM + step[1]!), true)
  }
  const along = line && Array.from({ length: 61 }, (_, i) => {
    const f = i / 60
    return value(line[0][0] + f * (line[1][0] - line[0][0]), line[0][1] + f * (line[1][1] - line[0][1]))
  })
  const far = line ? Math.hypot(line[1][0] - line[0][0], line[1][1] - line[0][1]) : 0
  return (
    <div ref={frameRef}>
      <svg ref={svg} viewBox={`0 0 ${w + 2 * rim} ${h + 6 + bottom}`} width={w + 2 * rim} style={{ touchAction: 'none', display: 'block', maxWidth: '100%' }} role="group" aria-label={`${title}: ${length(map.lengthM)} by ${length(map.widthM)}, ${digits(map.min, 3)} to ${digits(map.max, 3)} ${map.unit}`}
        onPointerMove={(e) => {
          const p = point(e)
          setAt(within(p) ? p : undefined)
          if (line && e.buttons === 1 && !held.current) setLine([line[0], p])
        }}
        onPointerLeave={() => setAt(undefined)}>
        <defs><clipPath id={clip}><rect width={w} height={h} /></clipPath></defs>
        <g transform={`translate(${rim} 6)`}>
          <rect width={w} height={h} style={{ fill: shade(map.min / highest) }} stroke="var(--ink-soft)" onPointerDown={(e) => { const p = point(e); setLine([p, p]) }} onPointerUp={() => line && Math.hypot(line[1][0] - line[0][0], line[1][1] - line[0][1]) < map.lengthM / 100 && setLine(undefined)} />
          <g clipPath={`url(#${clip})`} style={{ pointerEvents: 'none' }}>
            {bands.map((b) => <path key={b.level} d={b.d} fillRule="evenodd" style={{ fill: shade(b.level / highest) }} stroke="var(--light-ink)" strokeWidth="0.6" strokeOpacity="0.5" />)}
            {wanted && <path d={wanted} fill="none" stroke="var(--ink)" strokeWidth="1.6" strokeDasharray="6 4" />}
            {lights?.map((l, i) => {
              const [x, y] = put(l.x, l.y)
              return <circle key={i} cx={x} cy={y} r="1.6" fill="var(--ink)" fillOpacity="0.55" />
            })}
            {labels.map((b) => b.label && <text key={b.level} x={b.label[0]} y={b.label[1]} fontSize="11" textAnchor="middle" className="figure" fill="var(--ink)" stroke="var(--paper)" strokeWidth="3" paintOrder="stroke">{plain(b.level)}</text>)}
          </g>
          {stands?.map((s, i) => {
            const [x, y] = put(s.xM, s.yM)
            const [l, b] = [Math.max(s.lengthM * scale, 14), Math.max(s.widthM * scale, 14)]
            return (
              <g key={i} data-stand={i} tabIndex={0} role="button" aria-label={`Light ${i + 1} at ${length(s.xM)}, ${length(s.yM)}, ${length(s.heightM)} high; arrow keys move it`} style={{ cursor: onMove ? 'grab' : 'default' }}
                onPointerDown={(e) => {
                  const p = point(e)
                  held.current = { stand: i, dx: s.xM - p[0], dy: s.yM - p[1] }
                  setDragged(true)
                  e.currentTarget.setPointerCapture(e.pointerId)
                }} onPointerMove={(e) => drag(e, false)} onPointerUp={(e) => drag(e, true)} onKeyDown={nudge(i)}>
                <rect x={x - l / 2} y={y - b / 2} width={l} height={b} rx="3" transform={s.turnDeg ? `rotate(${s.turnDeg} ${x} ${y})` : undefined} fill="var(--paper)" fillOpacity="0.12" stroke="var(--ink)" strokeWidth="1.4" strokeDasharray={s.said ? undefined : '4 3'} />
              </g>
            )
          })}
          {line && <path d={`M${put(...line[0]).join(',')}L${put(...line[1]).join(',')}`} stroke="var(--power-ink)" strokeWidth="2" style={{ pointerEvents: 'none' }} />}
          {at && !dragged && <g style={{ pointerEvents: 'none' }}><circle cx={put(...at)[0]} cy={put(...at)[1]} r="3.5" fill="none" stroke="var(--power-ink)" strokeWidth="1.5" /></g>}
          <text x={w / 2} y={h + 18} textAnchor="middle" fontSize="12" className="figure" fill="var(--ink-soft)">{length(map.lengthM)}</text>
          <text transform={`translate(-10 ${h / 2}) rotate(-90)`} textAnchor="middle" fontSize="12" className="figure" fill="var(--ink-soft)">{length(map.widthM)}</text>
        </g>
      </svg>
      <div aria-live="polite" style={{ fontSize: 12.5, color: 'var(--ink-soft)', minHeight: 20 }} data-testid="map-read">
        {at ? <span className="figure">{digits(value(...at), 3)} {unit} at {length(at[0])}, {length(at[1])} from the middle</span> : line && along ? <span className="figure">Along {length(far)}: {digits(Math.min(...along), 3)} to {digits(Math.max(...along), 3)} {unit}, {digits(along.reduce((a, b) => a + b, 0) / along.length, 3)} on average</span> : 'Point at the map to read it, drag over it to read a line.'}
      </div>
      {line && along && far > 0 && <Profile values={along} lengthM={far} unit={unit} />}
    </div>
  )
}

const plain = (x: number) => String(Number(x.toPrecision(3)))

/** The light along a line. */
function Profile({ values, lengthM, unit }: { values: number[]; lengthM: number; unit: string }) {
  const { settings } = useSettings()
  const highest = Math.max(...values, 1e-9)
  return (
    <svg viewBox="0 0 320 84" width={320} role="img" aria-label="Light along the line">
      <path d={`M30,64${values.map((v, i) => `L${30 + (280 * i) / (values.length - 1)},${64 - (54 * v) / highest}`).join('')}L310,64Z`} fill="var(--light-soft)" stroke="var(--light-ink)" />
      <text x="26" y="14" textAnchor="end" fontSize="10.5" className="figure" fill="var(--ink-soft)">{digits(highest, 2)}</text>
      <text x="26" y="67" textAnchor="end" fontSize="10.5" className="figure" fill="var(--ink-soft)">0</text>
      <text x="30" y="79" fontSize="10.5" fill="var(--ink-soft)">{unit}</text>
      <text x="310" y="79" textAnchor="end" fontSize="10.5" className="figure" fill="var(--ink-soft)">{text(show(lengthM, 'length', settings))}</text>
    </svg>
  )
}
