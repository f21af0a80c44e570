import type { Solution, Variant } from '../api/client'
import type { Moment } from '../solved/trace'
import { capital } from '../units/words'

export interface Dark {
  /** Why nothing flows at all. */
  why?: string
  /** Whether a finding says what keeps a whole light dark; else its data lack something. */
  kept: boolean
  /** What is said across the ribbon. */
  word?: string
}

/** Why a light is dark, if it is. What keeps a whole light dark is told before what its data lack. */
export function darkOf(variant: Variant, solution: Solution | undefined, moment: Moment | undefined): Dark {
  const flows = !solution || (solution.figures.total?.inputW ?? 0) > 0
  // A board may trip hours later, too.
  const kept = solution?.findings.find((f) => f.code === 'starts-cut-off' || f.code === 'does-not-start' || (f.code === 'protection-trips' && !flows))
  const why = flows ? undefined : capital(kept?.why ?? solution.answers.fluxWhy ?? solution.missing[0]?.why ?? 'Nothing flows: look for an open switch or a source below the emitters’ voltage.')
  const idle = variant.feeds.every((f) => (moment?.figure(f.id, 'busA') ?? 0) <= 1e-9)
  return { why, kept: kept !== undefined, word: moment && idle && !why ? 'Cut off: no power flows.' : why }
}
