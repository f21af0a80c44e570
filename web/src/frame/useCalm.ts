import { startTransition, useEffect, useState } from 'react'
import type { Light } from '../api/client'
import { painted } from '../solved/painted'
import type { SolvedStore } from '../solved/store'

/** How long the rest of the page waits for the figures of a change, chosen: longer would be seen. */
const longestMs = 120

/** The light on screen as workbench, charts and lists are drawn for it: after its figures, which go first, or soon if those take long. */
export function useCalm(light: Light | undefined, solved: SolvedStore): Light | undefined {
  const [calm, setCalm] = useState(light)
  useEffect(() => {
    let over = false
    const put = () => !over && startTransition(() => setCalm(light))
    const stop = solved.state.subscribe((s) => s.light === light && void painted().then(put))
    const timer = setTimeout(put, longestMs)
    return () => {
      over = true
      stop()
      clearTimeout(timer)
    }
  }, [light, solved])
  return calm
}
