import { useEffect, useState } from 'react'

/** A state of the page that outlives it in this browser: what is in the drawer, the clock at hand. */
export function useKept<T>(name: string, initial: T): [T, (value: T) => void] {
  const key = `photherm-${name}`
  const [value, setValue] = useState<T>(() => {
    try {
      return (JSON.parse(localStorage.getItem(key) ?? 'null') as T | null) ?? initial
    } catch {
      return initial
    }
  })
  useEffect(() => localStorage.setItem(key, JSON.stringify(value)), [key, value])
  return [value, setValue]
}
