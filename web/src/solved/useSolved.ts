import { createContext, useContext } from 'react'
import { useStore } from 'zustand/react'
import { useShallow } from 'zustand/react/shallow'
import type { Solution } from '../api/client'
import { SolvedStore, type Solved } from './store'

/** The figures of the page's light; a page without one has none. */
export const SolvedContext = createContext(new SolvedStore(false))

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

/** Whether there are figures: rows that show them wait for it. Where nothing flows because something is not known, nothing is known to be 0. */
export const useAnyFigures = () => useSolved((s) => s.moment !== undefined && (!s.solution || (s.solution.figures.total?.inputW ?? 0) > 0 || s.solution.missing.length === 0))

/** Why a figure of the document is assumed; undefined: somebody gave it. */
export const useMeasured = (pointer: string) => useSolution((s) => s.measured.find((a) => a.pointer === pointer)?.why)
export const useAssumed = (pointer: string) => useSolution((s) => s.assumed.find((a) => a.pointer === pointer)?.why)
