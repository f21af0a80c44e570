import type { QueryKey } from '@tanstack/react-query'

// A light is the same object until it is changed, and long: it is written once, not with every drawing of whatever asks about it.
const written = new WeakMap<object, string>()

function textOf(of: object): string {
  let text = written.get(of)
  if (text === undefined) written.set(of, (text = JSON.stringify(of)))
  return text
}

/** The text that stands for what is asked. What it is made of is never changed in place. */
export const keyHash = (key: QueryKey): string => key.map((k) => (typeof k === 'object' && k !== null ? textOf(k) : (JSON.stringify(k) ?? ''))).join('\n')
