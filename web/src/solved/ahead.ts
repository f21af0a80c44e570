import type { Light } from '../api/client'
import { set } from '../document/pointer'

/** How many answers are kept, chosen: some steps back and forth, of up to a hundred kilobytes each. */
const most = 6

/** Answers of lights that were asked for lately, and of the one that may be asked for next: a light has but one. */
export class Ahead<Step> {
  private readonly answers = new Map<string, Step[]>()
  private asking: { key: string; answer: Promise<Step[] | undefined>; end: AbortController } | undefined
  private timer: ReturnType<typeof setTimeout> | undefined

  keep(key: string, answer: Step[]) {
    this.answers.delete(key)
    this.answers.set(key, answer)
    for (const oldest of this.answers.keys()) {
      if (this.answers.size <= most) return
      this.answers.delete(oldest)
    }
  }

  /** The answer if it is there, a promise of it if it is on its way; what else is on its way is withdrawn. */
  take(key: string): Step[] | Promise<Step[] | undefined> | undefined {
    clearTimeout(this.timer)
    if (this.asking?.key === key) return this.asking.answer
    this.stop()
    return this.answers.get(key)
  }

  /** Asks for some in a moment, one after the other, unless something else is asked for before. */
  ask(questions: { key: string; lines: (signal: AbortSignal) => AsyncIterable<Step> }[], waitMs: number) {
    this.stop()
    const next = () => {
      const q = questions.shift()
      if (!q) return
      if (this.answers.has(q.key)) return next()
      const end = new AbortController()
      const hear = async () => {
        const answer: Step[] = []
        try {
          for await (const step of q.lines(end.signal)) answer.push(step)
          this.keep(q.key, answer)
          return answer
        } catch {
          return undefined // it is asked for when it is wanted, and tells then what is wrong
        } finally {
          if (this.asking?.end === end) {
            this.asking = undefined
            next()
          }
        }
      }
      this.asking = { key: q.key, answer: hear(), end }
    }
    this.timer = setTimeout(next, waitMs)
  }

  stop() {
    clearTimeout(this.timer)
    this.asking?.end.abort()
    this.asking = undefined
  }

  forget() {
    this.stop()
    this.answers.clear()
  }
}

/** The one figure in which two documents differ; undefined: it is another thing, or more than one. */
function onlyDifference(before: unknown, after: unknown, path = ''): { path: string; was: number; is: number } | undefined | 'none' {
  if (before === after) return 'none'
  if (typeof before === 'number' && typeof after === 'number') return { path, was: before, is: after }
  if (typeof before !== 'object' || typeof after !== 'object' || before === null || after === null) return undefined
  const [a, b] = [before, after] as [Record<string, unknown>, Record<string, unknown>]
  const keys = new Set([...Object.keys(a), ...Object.keys(b)])
  let found: ReturnType<typeof onlyDifference> = 'none'
  for (const k of keys) {
    const here = onlyDifference(a[k], b[k], `${path}/${k.replaceAll('~', '~0').replaceAll('/', '~1')}`)
    if (here === 'none') continue
    if (here === undefined || found !== 'none') return undefined
    found = here
  }
  return found
}

/** The light one step further on, where the last change was a step of one figure. */
export function furtherOn(before: Light, after: Light): Light | undefined {
  const d = onlyDifference(before, after)
  if (d === undefined || d === 'none') return undefined
  // As a step writes it, without the last digits of the sum.
  return set(after, d.path, Number((d.is + (d.is - d.was)).toPrecision(12)))
}
