import { useEffect, useRef, useState } from 'react'
import { answer, api, Offline, type Light, type Problem, type Solution, type Trace } from '../api/client'

export interface Solved {
  light?: Light
  variant: number
  solution?: Solution
  trace?: Trace
  traceLight?: Light
  error?: Problem | Offline
}

const retryMs = 1500

/**
 * Solves what is on screen. One request is in flight, the newest wins: while one runs, later documents wait and only
 * the last of them is sent. The summary comes first; the course in time follows when nothing newer waits.
 */
class Live {
  private solved: Solved = { variant: 0 }
  private wanted: { light: Light; variant: number } | undefined
  private running = false
  private closed = false
  private readonly publish: (s: Solved) => void

  constructor(publish: (s: Solved) => void) {
    this.publish = publish
  }

  want(light: Light, variant: number) {
    this.closed = false
    this.wanted = { light, variant }
    if (!this.running) void this.run()
  }

  close() {
    this.closed = true
    this.wanted = undefined
  }

  private put(part: Partial<Solved>) {
    if (this.closed) return
    this.solved = { ...this.solved, ...part }
    this.publish(this.solved)
  }

  private async run() {
    this.running = true
    while (this.wanted && !this.closed) {
      const { light, variant } = this.wanted
      this.wanted = undefined
      try {
        const solution = await answer(api.POST('/api/solve', { params: { query: { variant } }, body: light }))
        this.put({ light, variant, solution, error: undefined })
        if (this.wanted) continue
        const trace = await answer(api.POST('/api/trace', { params: { query: { variant } }, body: light }))
        if (this.wanted) continue
        this.put({ trace, traceLight: light })
      } catch (e) {
        this.put({ light, variant, error: e as Problem })
        if (e instanceof Offline) {
          await new Promise((r) => setTimeout(r, retryMs))
          this.wanted ??= { light, variant }
        }
      }
    }
    this.running = false
  }
}

export function useSolution(light: Light | undefined, variant: number): Solved {
  const [solved, setSolved] = useState<Solved>({ variant: 0 })
  const live = useRef<Live>(null)
  useEffect(() => {
    if (!light) return
    live.current ??= new Live(setSolved)
    live.current.want(light, variant)
  }, [light, variant])
  useEffect(() => () => live.current?.close(), [])
  return solved
}
