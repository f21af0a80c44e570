import { createStore } from 'zustand/vanilla'
import { answer, api, Offline, type Light, type Problem, type Solution, type Trace } from '../api/client'
import { painted } from './painted'
import { momentOf, reader, type Moment } from './trace'

/** What was last solved, of which light, and how it stands at the clock's instant. */
export interface Solved {
  /** The light that was answered last, with figures or with an error. */
  light?: Light
  variant: number
  solution?: Solution
  /** The light that the summary is of. */
  of?: Light
  trace?: Trace
  /** The light that the course in time is of. */
  traceLight?: Light
  error?: Problem | Offline
  /** The clock: asked for, or where it stands by itself. */
  t: number
  moment?: Moment
}

const retryMs = 1500

/** Where the clock stands unless asked otherwise: where the light has warmed up. */
const standardT = (trace: Trace | undefined) => (!trace ? 30 : trace.endsBy === 'settled' ? trace.endS : Math.min(2400, trace.endS / 2))

/**
 * The figures of the light on screen. One request is in flight, the newest wins: while one runs, later documents wait
 * and only the last of them is sent. The summary comes first; the course in time follows when nothing newer waits.
 * Components subscribe to the figures they show.
 */
export class SolvedStore {
  readonly state = createStore<Solved>(() => ({ variant: 0, t: 30 }))
  private wanted: { light: Light; variant: number } | undefined
  private running = false
  private closed = false
  private askedT: number | undefined
  private read: ((t: number) => Moment) | undefined
  /** Whether the course in time is asked for too. */
  private readonly course: boolean

  constructor(course: boolean) {
    this.course = course
  }

  want(light: Light, variant: number) {
    this.closed = false
    // Another variant is another light: nothing of the one before stands in its place, however long it takes, or if it fails.
    if (variant !== this.state.getState().variant) {
      this.read = undefined
      this.put({ variant, of: undefined, solution: undefined, trace: undefined, traceLight: undefined, error: undefined })
    }
    this.wanted = { light, variant }
    if (!this.running) void this.run()
  }

  /** Puts the clock; undefined: where it stands by itself. */
  at(t: number | undefined) {
    if (t === this.askedT) return
    this.askedT = t
    this.put({})
  }

  close() {
    this.closed = true
    this.wanted = undefined
  }

  private put(part: Partial<Solved>) {
    if (this.closed) return
    const next = { ...this.state.getState(), ...part }
    const { trace } = next
    if (part.trace) this.read = reader(part.trace)
    const t = Math.min(Math.max(this.askedT ?? standardT(trace), 0), trace?.endS ?? Infinity)
    this.state.setState({ ...next, t, moment: this.momentAt(t, next) }, true)
  }

  /** The instant the summary is asked for: where the clock stands, or begins. */
  private atS(variant: number) {
    const { t, trace, variant: before } = this.state.getState()
    return trace && variant === before ? t : (this.askedT ?? 30)
  }

  /** The figures at an instant: of the summary if it is of that instant, else of the course of the same light. */
  private momentAt(t: number, { solution, of, traceLight, moment }: Solved): Moment | undefined {
    const course = traceLight === of || !solution ? this.read : undefined
    if (solution && (solution.atS === t || !course)) return moment?.source === solution ? moment : momentOf(solution)
    return course?.(t)
  }

  /** Whether the page has gone on to another variant meanwhile. */
  private left = (variant: number) => variant !== this.state.getState().variant

  private async run() {
    this.running = true
    while (this.wanted && !this.closed) {
      const { light, variant } = this.wanted
      this.wanted = undefined
      try {
        const solution = await answer(api.POST('/api/solve', { params: { query: { variant, atS: this.atS(variant) } }, body: light }))
        if (this.left(variant)) continue
        this.put({ light, of: light, solution, error: undefined })
        if (this.wanted || !this.course) continue
        await painted()
        if (this.wanted) continue
        const trace = await answer(api.POST('/api/trace', { params: { query: { variant } }, body: light }))
        if (this.wanted) continue
        this.put({ trace, traceLight: light })
      } catch (e) {
        if (this.left(variant)) continue
        this.put({ light, error: e as Problem })
        if (e instanceof Offline) {
          await new Promise((r) => setTimeout(r, retryMs))
          this.wanted ??= { light, variant }
        }
      }
    }
    this.running = false
  }
}
