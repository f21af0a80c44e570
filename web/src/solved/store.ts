import { createStore } from 'zustand/vanilla'
import { Offline, Problem, type Light, type Schemas, type Solution, type Trace } from '../api/client'
import { lines } from '../api/lines'
import { Ahead, furtherOn } from './ahead'
import { giveWay } from './turns'
import { painted } from './painted'
import { momentOf, reader, type Moment } from './trace'

/** What was last solved, of which light, and how it stands at the clock's instant. */
export interface Solved {
  /** The light that was answered last, with figures or with an error. */
  light?: Light
  variant: number
  solution?: Solution
  /** The light that the figures of the summary are of. */
  of?: Light
  /** The light that is judged in it: what is over a limit comes after the figures. */
  judged?: Light
  trace?: Trace
  /** The light that the course in time is of. */
  traceLight?: Light
  error?: Problem | Offline
  /** The clock: asked for, or where it stands by itself. */
  t: number
  moment?: Moment
}

const retryMs = 1500

/** A light that takes longer is not worked out before it is asked for, and how long the page rests before, chosen. */
const quickMs = 200
const restMs = 40

/** Where the clock stands unless asked otherwise: where the light has warmed up. */
const standardT = (trace: Trace | undefined) => (!trace ? 30 : trace.endsBy === 'settled' ? trace.endS : Math.min(2400, trace.endS / 2))

/**
 * The figures of the light on screen. One request is in flight, the newest wins: until its figures are there later
 * documents wait, and only the last of them is sent. The figures come first; what is judged of them and the course in time
 * follow when nothing newer waits. Components subscribe to the figures they show.
 */
export class SolvedStore {
  readonly state = createStore<Solved>(() => ({ variant: 0, t: 30 }))
  private wanted: { light: Light; variant: number } | undefined
  private running = false
  /** Ends what is asked; there only when its figures are there. */
  private enough: (() => void) | undefined
  private closed = false
  private askedT: number | undefined
  private read: ((t: number) => Moment) | undefined
  /** Whether the course in time is asked for too. */
  private readonly course: boolean
  private readonly ahead = new Ahead<Schemas['SolveStep']>()
  /** The last two lights that were asked for. */
  private steps: [before?: Light, last?: Light] = []
  /** Which lights may come after the one that is asked for. */
  private near: ((light: Light) => Light[]) | undefined
  /** Whether the last answer came soon. */
  private quick = false

  constructor(course: boolean) {
    this.course = course
  }

  want(light: Light, variant: number) {
    this.closed = false
    // Another variant is another light: nothing of the one before stands in its place, however long it takes, or if it fails.
    if (variant !== this.state.getState().variant) {
      this.read = undefined
      this.put({ variant, of: undefined, judged: undefined, solution: undefined, trace: undefined, traceLight: undefined, error: undefined })
    }
    this.wanted = { light, variant }
    this.near = undefined
    if (this.steps[1] !== light) this.steps = [this.steps[1], light]
    giveWay()
    if (this.running) this.enough?.()
    else void this.run()
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
    this.ahead.stop()
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
    if (solution && (solution.atS === t || !course)) return moment?.source === solution.figures ? moment : momentOf(solution)
    return course?.(t)
  }

  /** Whether the page has gone on to another variant meanwhile. */
  private left = (variant: number) => variant !== this.state.getState().variant

  private async run() {
    this.running = true
    while (this.wanted && !this.closed) {
      const { light, variant } = this.wanted
      this.wanted = undefined
      const ask = new AbortController()
      try {
        await this.hear(light, variant, ask)
      } catch (e) {
        if (this.left(variant) || ask.signal.aborted) continue
        this.put({ light, error: e as Problem })
        if (e instanceof Offline) {
          this.ahead.forget() // it may be another server that answers next
          await new Promise((r) => setTimeout(r, retryMs))
          this.wanted ??= { light, variant }
        }
      }
    }
    this.running = false
  }

  /** Has lights worked out that may be asked for next; only while nothing is asked for, and if that does not take long. */
  readonly foresee = (make: (light: Light) => Light[]) => {
    this.near = make
    const light = this.steps[1]
    if (light && !this.running) this.expect(make(light))
  }

  private expect(lights: Light[]) {
    if (this.wanted || this.closed || !this.quick) return
    const { variant } = this.state.getState()
    this.ahead.ask(lights.map((light) => {
      const body = JSON.stringify(light)
      const { path, key } = this.question(variant, body)
      return { key, lines: (signal) => lines<Schemas['SolveStep']>(path, body, signal) }
    }), restMs)
  }

  /** What is asked of a light, and what its answer goes by. */
  private question(variant: number, body: string) {
    const path = `/api/solve/steps?variant=${variant}&atS=${this.atS(variant)}&course=${this.course}`
    return { path, key: `${path} ${body}` }
  }

  private async hear(light: Light, variant: number, ask: AbortController) {
    let solved: Schemas['Solved'] | undefined
    let seen = painted
    let judged = false
    const body = JSON.stringify(light)
    const { path, key } = this.question(variant, body)
    const begun = performance.now()
    const heard: Schemas['SolveStep'][] = []
    const coming = this.ahead.take(key)
    try {
      for await (const step of (coming instanceof Promise ? await coming : coming) ?? lines<Schemas['SolveStep']>(path, body, ask.signal)) {
        heard.push(step)
        if (this.left(variant)) return
        if (step.problem) throw new Problem(422, { detail: step.problem })
        if (step.solved) {
          solved = step.solved
          const { solution } = this.state.getState()
          // What was judged of the light before stands until the new one is.
          if (solution) {
            this.put({ light, of: light, solution: { ...solution, ...solved }, error: undefined })
            const newer = new Promise<void>((wake) => {
              this.enough = () => {
                ask.abort()
                wake()
              }
            })
            seen = () => Promise.race([painted(), newer])
            await seen()
          }
        } else if (step.judged && solved) {
          judged = true
          this.put({ light, of: light, judged: light, solution: { ...solved, ...step.judged }, error: undefined })
        } else if (step.trace) {
          await seen()
          if (this.wanted && this.enough) return
          this.put({ trace: step.trace, traceLight: light })
        }
        if (this.wanted && (judged || this.enough)) return
      }
      if (!judged) throw new Offline()
      this.ahead.keep(key, heard)
      const [before, last] = this.steps
      this.quick = performance.now() - begun < quickMs
      const next = this.near?.(light) ?? [before && last === light ? furtherOn(before, light) : undefined].filter((l) => l !== undefined)
      if (next.length > 0) this.expect(next)
    } finally {
      this.enough = undefined
    }
  }
}
