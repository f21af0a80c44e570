import { useCallback, useLayoutEffect, useRef } from 'react'

/** A function that stays the same one and does what the newest would: what is given it needs no drawing anew. */
export function useSteady<A extends unknown[], R>(newest: (...args: A) => R): (...args: A) => R {
  const kept = useRef(newest)
  useLayoutEffect(() => {
    kept.current = newest
  })
  return useCallback((...args: A) => kept.current(...args), [])
}
