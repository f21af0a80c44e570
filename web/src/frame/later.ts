import { lazy, type ComponentType } from 'react'

/**
 * A component that is not in the first load, but fetched as soon as the page rests: it must be there when the server
 * is not. Loaded once more if that failed.
 */
export function later<P>(load: () => Promise<ComponentType<P>>) {
  const fetched = new Promise<ComponentType<P>>((resolve, reject) => requestIdleCallback(() => void load().then(resolve, reject), { timeout: 5000 }))
  fetched.catch(() => undefined)
  return lazy(async () => ({ default: await Promise.race([load(), fetched]).catch(load) }))
}
