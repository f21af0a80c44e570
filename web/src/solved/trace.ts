import type { Schemas, Solution, Trace } from '../api/client'

/** Reads figures of the light at an instant: from the course in time if it is there, else from the summary. */
export interface Moment {
  t: number
  /** The figures of the summary it is of, if it is of one. */
  source?: Solution['figures']
  figure: (owner: string, figure: string) => number | undefined
  mode: (owner: string) => string | undefined
}

const total = 'total'

/** Reads a course in time at any instant: straight between the instants that were solved, so that powers still add up. */
export function reader(trace: Trace): (t: number) => Moment {
  const columns = new Map(trace.series.map((s) => [`${s.owner || total}/${s.figure}`, s.values]))
  const names = new Map(trace.modes.map((m) => [m.value, m.name]))
  const last = trace.t.length - 1
  return (t) => {
    let i = 0
    while (i < last - 1 && (trace.t[i + 1] ?? 0) <= t) i++
    const a = trace.t[i] ?? 0
    const b = trace.t[i + 1] ?? a
    const x = b > a ? Math.min(Math.max((t - a) / (b - a), 0), 1) : t >= b ? 1 : 0
    return {
      t,
      figure: (owner, figure) => {
        const values = columns.get(`${owner}/${figure}`)
        const p = values?.[i]
        if (p == null) return undefined
        return p + x * ((values?.[i + 1] ?? p) - p)
      },
      mode: (owner) => {
        const value = columns.get(`${owner}/mode`)?.[x >= 1 ? i + 1 : i]
        return value == null ? undefined : names.get(value)
      },
    }
  }
}

export function momentOf(solution: Solution): Moment {
  return {
    t: solution.atS,
    source: solution.figures,
    figure: (owner, figure) => solution.figures[owner]?.[figure],
    mode: (owner) => solution.modes[owner],
  }
}

/** The course of a figure; NaN, a gap in a chart, where it cannot be had. */
export const series = (trace: Trace, owner: string, figure: string): number[] | undefined =>
  trace.series.find((s) => (s.owner || total) === owner && s.figure === figure)?.values.map((v) => v ?? NaN)

/** The highest of what can be had. */
export const highest = (values: number[] | undefined, least: number): number => Math.max(least, ...(values ?? []).filter((v) => !Number.isNaN(v)))

const openingS = 1800

/** Place on the clock, 0 to 1: the first half hour takes a third of its width. */
export function warp(t: number, endS: number): number {
  if (endS <= openingS) return endS > 0 ? t / endS : 0
  return t <= openingS ? t / openingS / 3 : 1 / 3 + ((2 / 3) * (t - openingS)) / (endS - openingS)
}

export function unwarp(x: number, endS: number): number {
  if (endS <= openingS) return x * endS
  return x <= 1 / 3 ? x * 3 * openingS : openingS + ((x - 1 / 3) * 3 * (endS - openingS)) / 2
}

export type RunEvent = Schemas['Event']
