import { del, get, set } from 'idb-keyval'
import type { Light } from '../api/client'

/** Edits the server has not acknowledged, with the revision they were made on. They outlive a reload. */
export interface Draft {
  base: number
  light: Light
  label: string
}

const key = (id: string) => `draft/${id}`

export const readDraft = (id: string) => get<Draft>(key(id)).catch(() => undefined)
export const keepDraft = (id: string, draft: Draft) => set(key(id), draft).catch(() => undefined)
export const dropDraft = (id: string) => del(key(id)).catch(() => undefined)
