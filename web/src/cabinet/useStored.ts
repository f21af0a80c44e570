import { useRef, useState } from 'react'
import { Offline, Problem } from '../api/client'

/** Keeps what is edited in place stored: one change at a time, the newest last; offline it is tried again. */
export function useStored<T>(revision: number, put: (next: T, base: number) => Promise<{ revision: number }>, onSaved: () => void) {
  const [wrong, setWrong] = useState<Map<string, string>>(new Map())
  const [failure, setFailure] = useState('')
  const base = useRef(revision)
  const waiting = useRef<T>(undefined)
  const busy = useRef(false)
  const store = async (next: T) => {
    waiting.current = next
    if (busy.current) return
    busy.current = true
    while (waiting.current !== undefined) {
      const now: T = waiting.current
      waiting.current = undefined
      try {
        base.current = (await put(now, base.current)).revision
        setWrong(new Map())
        setFailure('')
        onSaved()
      } catch (e) {
        setFailure((e as Error).message)
        if (e instanceof Problem) setWrong(new Map(e.fields.map((f) => [f.location, f.message])))
        if (e instanceof Offline) {
          waiting.current ??= now
          await new Promise((r) => setTimeout(r, 1500))
        }
      }
    }
    busy.current = false
  }
  return { store, wrong, failure }
}
