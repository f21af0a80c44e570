import { createContext, useContext } from 'react'
import { useStore } from 'zustand/react'
import { useShallow } from 'zustand/react/shallow'
import type { Solution } from '../api/client'
import { SolvedStore, type Solved } from './store'

/** The figures of the page's light; a page without one has none. */
export const SolvedContext = createContext(new SolvedStore(false))

/** A way to say which lights may be asked for next. */
export const useForesight = () => useContext(SolvedContext).foresee

/** Something of what was solved; the component is drawn anew only when that changes, a list when one of its members does. */
export function useSolved<T>(select: (s: Solved) => T): T {
  return useStore(useContext(SolvedContext).state, useShallow(select))
}

/** Figures of one thing at the clock's instant, by their names. */
export function useFigures<K extends string>(owner: string | undefined, ...names: K[]): Partial<Record<K, number>> {
  const values = useSolved((s) => names.map((n) => (owner === undefined ? undefined : s.moment?.figure(owner, n))))
  return Object.fromEntries(names.map((n, i) => [n, values[i]])) as Partial<Record<K, number>>
}

export const useMode = (owner: string) => useSolved((s) => s.moment?.mode(owner))

/** Something of the summary. */
export const useSolution = <T>(select: (s: Solution) => T): T | undefined => useSolved((s) => s.solution && select(s.solution))

/** What is not chosen or read yet; of other gaps, such as those of the heat, the currents are known all the same. */
const unchosen = /\/(partId|points|sources)$/

/**
 * Whether there are figures, of some things if they are named: rows that show them wait for it. Of what is not chosen
 * yet nothing is known to be 0, and of nothing where for want of it nothing flows.
 */
export const useAnyFigures = (...owners: string[]) => useSolved((s) => {
  if (!s.moment) return false
  const wants = s.solution?.missing.filter((m) => unchosen.test(m.pointer)) ?? []
  if (wants.length === 0) return true
  return (s.solution!.figures.total?.inputW ?? 0) > 0 && (owners.length === 0 || owners.some((id) => wants.every((m) => m.node !== id)))
})

/** Why a figure of the document is assumed; undefined: somebody gave it. */
export const useMeasured = (pointer: string) => useSolution((s) => s.measured.find((a) => a.pointer === pointer)?.why)
export const useAssumed = (pointer: string) => useSolution((s) => s.assumed.find((a) => a.pointer === pointer)?.why)
