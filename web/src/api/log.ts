import type { Schemas } from './client'

/** A log is no larger than this, as the server has it: some two million readings. */
const mostBytes = 96 << 20
const tooLarge = 'This file is too large: a log of some two million readings is as much as is taken. Thin it out, or cut it.'

/** Sends a log as it was written; the server reads it, and says which rows it kept aside. */
export async function sendLog(light: string, name: string, body: Blob | string, columns?: Schemas['Column'][]): Promise<Schemas['BenchLog']> {
  if (body instanceof Blob && body.size > mostBytes) throw new Error(tooLarge)
  const response = await fetch(`/api/lights/${light}/logs?${new URLSearchParams({ name, ...(columns ? { columns: JSON.stringify(columns) } : {}) })}`, { method: 'POST', headers: { 'Content-Type': 'text/csv' }, body })
  const found = (await response.json()) as Schemas['BenchLog'] & { detail?: string }
  if (!response.ok) throw new Error(response.status === 413 ? tooLarge : (found.detail ?? 'The log cannot be read.'))
  return found
}

/** How much of a log is looked at, bytes, chosen: headings and some rows. */
const headBytes = 32 << 10

/** What the columns of a log seem to be. */
export async function lookAtLog(body: Blob | string): Promise<Schemas['LogLook']> {
  const head = body instanceof Blob ? body.slice(0, headBytes) : body.slice(0, headBytes)
  const response = await fetch('/api/logs/look', { method: 'POST', headers: { 'Content-Type': 'text/csv' }, body: head })
  const found = (await response.json()) as Schemas['LogLook'] & { detail?: string }
  if (!response.ok) throw new Error(found.detail ?? 'The log cannot be read.')
  return found
}
