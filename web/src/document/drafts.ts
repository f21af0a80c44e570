import { del, entries, get, set } from 'idb-keyval'
import { tab, type Light } from '../api/client'

/** Edits of one tab that the server has not acknowledged, with the revision they were made on. They outlive a reload. */
export interface Draft {
  base: number
  light: Light
  label: string
  /** When it was last changed, ms since 1970. */
  at: number
}

/** A draft that a tab left behind which is no longer open. */
export interface LeftDraft extends Draft {
  tab: string
}

const prefix = (id: string) => `draft/${id}`
const key = (id: string) => `${prefix(id)}/${tab}`
const lock = (name: string) => `photherm-tab/${name}`

// As long as a tab is open it holds its name, so that others leave its drafts to it.
void navigator.locks?.request(lock(tab), () => new Promise(() => {})).catch(() => undefined)

const openTabs = async () => new Set((await navigator.locks?.query())?.held?.map((l) => l.name) ?? [])

export const readDraft = (id: string) => get<Draft>(key(id)).catch(() => undefined)
export const keepDraft = (id: string, draft: Omit<Draft, 'at'>) => set(key(id), { ...draft, at: Date.now() }).catch(() => undefined)
export const dropDraft = (id: string, of: string = tab) => del(of === '' ? prefix(id) : `${prefix(id)}/${of}`).catch(() => undefined)

/** What other tabs have not got saved of a light, newest first: left behind by those that are closed, or still in work. */
export async function othersDrafts(id: string): Promise<{ left: LeftDraft[]; inWork: LeftDraft[] }> {
  try {
    const open = await openTabs()
    const others = (await entries<string, Draft>())
      .filter(([k]) => k === prefix(id) || k.startsWith(`${prefix(id)}/`))
      .map(([k, draft]) => ({ ...draft, at: draft.at ?? 0, tab: k.slice(prefix(id).length + 1) }))
      .filter((d) => d.tab !== tab)
      .sort((a, b) => b.at - a.at)
    return { left: others.filter((d) => !open.has(lock(d.tab))), inWork: others.filter((d) => open.has(lock(d.tab))) }
  } catch {
    return { left: [], inWork: [] }
  }
}

/** How long a tab that is gone may take to come back: it is being loaded again. */
const reloadMs = 1500

/** Waits until another tab is closed for good; false where that cannot be told. */
export async function closed(other: string, signal: AbortSignal): Promise<boolean> {
  try {
    return await navigator.locks.request(lock(other), { signal }, async () => {
      await new Promise((r) => setTimeout(r, reloadMs))
      const { pending } = await navigator.locks.query()
      return !pending?.some((l) => l.name === lock(other) && l.clientId !== undefined) && !signal.aborted
    })
  } catch {
    return false
  }
}
