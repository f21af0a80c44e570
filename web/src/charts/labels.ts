import type { ECharts } from 'echarts/core'
import type { Line } from './lines'

/** Where the name of a line, or of a point, stands: its top left corner, in the pixels of the chart. */
export interface Label {
  /** Which line it names; absent: a point, or a level. */
  line?: number
  /** Of a level: its colour. */
  colour?: string
  name: string
  x: number
  y: number
}

interface Rect {
  left: number
  right: number
  top: number
  bottom: number
}

const height = 15
const gap = 3
const apart = 9
/** Where along the chart names are tried, from the best. */
const places = [0.6, 0.72, 0.48, 0.84, 0.36, 0.9, 0.24, 0.14]

const inks: Record<string, string> = { '--power': '--power-ink', '--light': '--light-ink', '--heat': '--heat-ink', '--heat-flow': '--heat-ink', '--power-flow': '--power-ink', '--light-flow': '--light-ink' }

/** The colour for words about a line. */
export const inkOf = (colour: string) => inks[colour] ?? colour

const overlaps = (a: Rect, b: Rect) => a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom

const ruler = document.createElement('canvas').getContext('2d')
function widthOf(text: string): number {
  if (!ruler) return text.length * 7
  ruler.font = "12px 'Atkinson Hyperlegible Next Variable'"
  return ruler.measureText(text).width
}

/** The heights that a line takes between two places across, undefined where it has no points there. */
function span(points: [number, number][], left: number, right: number): [top: number, bottom: number] | undefined {
  let top = Infinity
  let bottom = -Infinity
  for (let i = 0; i < points.length; i++) {
    const [x, y] = points[i]!
    const [nx, ny] = points[i + 1] ?? [x, y]
    if (Math.max(x, nx) < left || Math.min(x, nx) > right || !(y === y) || !(ny === ny)) continue
    // the part of the piece that lies between
    const at = (to: number) => (nx === x ? y : y + ((Math.min(Math.max(to, Math.min(x, nx)), Math.max(x, nx)) - x) / (nx - x)) * (ny - y))
    for (const v of nx === x ? [y, ny] : [at(left), at(right)]) {
      top = Math.min(top, v)
      bottom = Math.max(bottom, v)
    }
  }
  return bottom >= top ? [top, bottom] : undefined
}

/** The name of a point: above it if no line crosses that, else beside or below it. */
function besideMark([x, y]: [number, number], w: number, plot: Rect, drawn: [number, number][][], taken: Rect[]): Rect {
  const at = (left: number, top: number): Rect => ({ left, right: left + w, top, bottom: top + height })
  // Near it first, then a little farther off.
  const tries = [9, 22, 36].flatMap((off) => {
    const [above, below] = [y - off - height, y + off]
    return [at(x - w / 2, above), at(x - w - 9, above), at(x + 9, above), at(x - w - 9, below), at(x + 9, below), at(x - w / 2, below), at(x + off + 3, y - height / 2), at(x - w - off - 3, y - height / 2)]
  })
  const free = (r: Rect) => r.left >= plot.left && r.right <= plot.right && r.top >= plot.top - 12 && r.bottom <= plot.bottom && !taken.some((t) => overlaps(t, r)) && drawn.every((d) => {
    const s = span(d, r.left, r.right)
    return !s || s[1] < r.top || s[0] > r.bottom
  })
  return tries.find(free) ?? at(Math.min(Math.max(x - w / 2, plot.left), plot.right - w), y - 9 - height)
}

/** The name of a level: above it or below, at the end of the chart where no line crosses it; at its beginning where every place is crossed. */
function besideLevel(y: number, w: number, plot: Rect, drawn: [number, number][][], taken: Rect[]): Rect {
  const at = (left: number, top: number): Rect => ({ left, right: left + w, top, bottom: top + height })
  const tries = [y - height - 1, y + 2].flatMap((top) => [at(plot.left + 5, top), at(plot.right - w - 5, top), at((plot.left + plot.right - w) / 2, top)])
  const free = (r: Rect) => r.top >= plot.top - 12 && r.bottom <= plot.bottom && !taken.some((t) => overlaps(t, r)) && drawn.every((d) => {
    const s = span(d, r.left, r.right)
    return !s || s[1] < r.top || s[0] > r.bottom
  })
  return tries.find(free) ?? tries[0]!
}

/** Puts the name of each line beside it where nothing crosses it; a line without such a place has none. Points have theirs first, and always. */
export function placeLabels(chart: ECharts, lines: Line[], levels: { value: number; axis: 0 | 1; name: string; colour: string }[], marks: { x: number; y: number; name: string }[]): Label[] {
  const width = chart.getWidth()
  const plot: Rect = { left: 60, right: width - (lines.some((l) => l.axis === 1) ? 60 : 18), top: 14, bottom: chart.getHeight() - 38 }
  // An axis that nothing is drawn against is not there.
  const pixel = (axis: 0 | 1, p: [number, number]) => {
    const at: unknown = chart.convertToPixel({ xAxisIndex: 0, yAxisIndex: axis }, p)
    return Array.isArray(at) ? (at as [number, number]) : undefined
  }
  const drawn = lines.map((l) => l.points.map((p): [number, number] => pixel(l.axis, p) ?? [NaN, NaN]))
  const taken: Rect[] = []
  const labels: Label[] = []
  for (const m of marks) {
    const p = pixel(0, [m.x, m.y])
    if (!p) continue
    const named = besideMark(p, widthOf(m.name) * 1.08, plot, drawn, taken) // it is bold
    labels.push({ name: m.name, x: named.left, y: named.top })
    taken.push(named, { left: p[0] - 8, right: p[0] + 8, top: p[1] - 8, bottom: p[1] + 8 })
  }
  for (const v of levels) {
    const p = pixel(v.axis, [lines[0]?.points[0]?.[0] ?? 0, v.value])
    if (!p) continue
    const named = besideLevel(p[1], widthOf(v.name) + 2, plot, drawn, taken)
    labels.push({ name: v.name, x: named.left, y: named.top, colour: v.colour })
    taken.push(named, { left: plot.left, right: plot.right, top: p[1] - 2, bottom: p[1] + 2 })
  }
  if (lines.length < 2 || plot.right - plot.left < 120) return labels
  lines.forEach((line, i) => {
    const w = widthOf(line.name) + 4
    for (const share of places) {
      const left = plot.left + share * (plot.right - plot.left) - w / 2
      const own = span(drawn[i]!, left, left + w)
      if (!own || left < plot.left || left + w > plot.right) continue
      const found = [own[0] - height - gap, own[1] + gap].find((top) => {
        const rect = { left, right: left + w, top, bottom: top + height }
        if (top < plot.top || rect.bottom > plot.bottom || taken.some((t) => overlaps(t, rect))) return false
        // Nothing crosses it, and no other line is so near that the name might be its.
        return drawn.every((d, k) => {
          const s = span(d, left, left + w)
          const room = k === i ? 1 : apart
          return !s || s[1] + room < top || s[0] - room > rect.bottom
        })
      })
      if (found === undefined) continue
      taken.push({ left: left - 4, right: left + w + 4, top: found, bottom: found + height })
      labels.push({ line: i, name: line.name, x: left + 2, y: found })
      return
    }
  })
  return labels
}

/** The colour of what a name belongs to. */
export const colourOfLabel = (l: Label, lines: Line[]) => (l.line === undefined ? (l.colour ?? '--ink') : (lines[l.line]?.colour ?? ''))

/** A drawing that leaves the page takes its names along. */
export function withLabels(svg: string, labels: Label[], lines: Line[], resolve: (colour: string) => string): string {
  const words = labels.map((l) => {
    const text = document.createElementNS('http://www.w3.org/2000/svg', 'text')
    text.setAttribute('x', String(l.x))
    text.setAttribute('y', String(l.y + 12))
    text.setAttribute('font-size', '12')
    text.setAttribute('fill', resolve(inkOf(colourOfLabel(l, lines))))
    text.textContent = l.name
    return new XMLSerializer().serializeToString(text)
  })
  return svg.replace(/<\/svg>\s*$/, `${words.join('')}</svg>`)
}
