import type { Schemas } from './client'

/** Sends a log as it was written; the server reads it, and says which rows it kept aside. */
export async function sendLog(light: string, name: string, body: Blob | string): Promise<Schemas['BenchLog']> {
  const response = await fetch(`/api/lights/${light}/logs?name=${encodeURIComponent(name)}`, { method: 'POST', headers: { 'Content-Type': 'text/csv' }, body })
  const found = (await response.json()) as Schemas['BenchLog'] & { detail?: string }
  if (!response.ok) throw new Error(response.status === 413 ? 'This file is too large: a log of some two million readings is as much as is taken. Thin it out, or cut it.' : (found.detail ?? 'The log cannot be read.'))
  return found
}
