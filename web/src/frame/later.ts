import { lazy, type ComponentType } from 'react'

const retryMs = 1500

const answers = () => fetch('/', { method: 'HEAD' }).then((r) => r.ok, () => false)

/** Loads until it is there: a server that is gone comes back. Only where it answers, and has the thing no more, is that an error. */
async function patiently<T>(load: () => Promise<T>): Promise<T> {
  for (let refused = 0; ; ) {
    try {
      return await load()
    } catch (e) {
      if (await answers()) refused += 1
      if (refused > 2) throw e
      await new Promise((r) => setTimeout(r, retryMs))
    }
  }
}

/**
 * A component that is not in the first load, but fetched as soon as the page rests: it must be there when the server
 * is not.
 */
export function later<P>(load: () => Promise<ComponentType<P>>) {
  let fetched: Promise<ComponentType<P>> | undefined
  const fetch = () => (fetched ??= patiently(load))
  requestIdleCallback(() => void fetch().catch(() => undefined), { timeout: 5000 })
  return lazy(async () => ({ default: await fetch() }))
}
