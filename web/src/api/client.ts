import createClient from 'openapi-fetch'
import type { components, paths } from './schema.gen'

export type Schemas = components['schemas']
export type Light = Schemas['Light']
export type Variant = Schemas['Variant']
export type LightNode = Schemas['Node']
export type Part = Schemas['Part']
export type Finding = Schemas['Finding']
export type Solution = Schemas['Solution']
export type Trace = Schemas['Trace']
export type StoredLight = Schemas['StoredLight']

/** Names this tab to the server, through reloads, so that it undoes only its own changes. */
export const tab = (() => {
  const key = 'photherm-tab'
  const id = sessionStorage.getItem(key) ?? crypto.randomUUID()
  sessionStorage.setItem(key, id)
  return id
})()

export const api = createClient<paths>({ baseUrl: '/', headers: { 'X-Photherm-Tab': tab } })

/** What the server said is wrong: a problem document (RFC 9457). */
export class Problem extends Error {
  readonly status: number
  readonly fields: { location: string; message: string }[]
  readonly theirs?: StoredLight

  constructor(status: number, body: unknown) {
    const b = (body ?? {}) as { detail?: string; errors?: { location?: string; message?: string }[]; theirs?: StoredLight }
    super(b.detail ?? 'The server answered in a way that is not understood.')
    this.status = status
    this.fields = (b.errors ?? []).map((e) => ({ location: e.location ?? '', message: e.message ?? '' }))
    this.theirs = b.theirs
  }
}

/** The server could not be reached at all. */
export class Offline extends Error {
  constructor() {
    super('The server does not answer. Your changes are kept in this browser.')
  }
}

/** Unwraps an answer of the client; throws Problem or Offline. */
export async function answer<T>(request: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let result
  try {
    result = await request
  } catch (e) {
    if (e instanceof DOMException && e.name === 'AbortError') throw e
    throw new Offline()
  }
  if (result.error !== undefined || !result.response.ok) {
    if (result.response.status === 503) throw new Offline()
    throw new Problem(result.response.status, result.error)
  }
  return result.data as T
}
