import type { Schemas } from './client'

/** Fetches everything as one archive and hears how many lights and parts of how many have come. */
export async function takeOut(heard: (done: number, of: number) => void): Promise<{ name: string; content: Blob }> {
  const response = await fetch('/api/archive')
  if (!response.ok || !response.body) {
    const problem = (await response.json().catch(() => ({}))) as { detail?: string }
    throw new Error(problem.detail ?? 'The archive cannot be fetched just now.')
  }
  const of = Number(response.headers.get('X-Photherm-Items') ?? 0)
  const name = /filename="([^"]+)"/.exec(response.headers.get('Content-Disposition') ?? '')?.[1] ?? 'photherm.zip'
  const reader = response.body.getReader()
  const pieces: Uint8Array<ArrayBuffer>[] = []
  // Each light and part begins with a file of its own; names stand in a zip as they are.
  const first = /\/(?:light|kept)\.json/g
  const latin = new TextDecoder('latin1')
  let rest = ''
  let done = 0
  heard(0, of)
  for (;;) {
    const next = await reader.read()
    if (next.done) break
    pieces.push(next.value)
    const text = rest + latin.decode(next.value)
    done = Math.min(done + (text.match(first)?.length ?? 0), of)
    rest = text.slice(-10)
    if (/\/(?:light|kept)\.json$/.test(rest)) rest = ''
    heard(done, of)
  }
  return { name, content: new Blob(pieces, { type: 'application/zip' }) }
}

/** Sends an archive and hears line by line how far it is; gives what came of it. */
export async function bringIn(file: File, beside: boolean, heard: (step: Schemas['ArchiveStep']) => void): Promise<Schemas['Report']> {
  const response = await fetch(`/api/archive?beside=${beside}`, { method: 'POST', headers: { 'Content-Type': 'application/zip' }, body: file })
  if (!response.ok || !response.body) {
    const problem = (await response.json().catch(() => ({}))) as { detail?: string }
    throw new Error(problem.detail ?? 'The archive cannot be read.')
  }
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader()
  let rest = ''
  let last: Schemas['ArchiveStep'] | undefined
  for (;;) {
    const { done, value } = await reader.read()
    if (done) break
    const lines = (rest + value).split('\n')
    rest = lines.pop() ?? ''
    for (const line of lines) {
      last = JSON.parse(line) as Schemas['ArchiveStep']
      heard(last)
    }
  }
  if (last?.problem) throw new Error(`${last.problem} ${last.done} of ${last.of} are in; bring the file in again for the rest.`)
  if (!last?.report) throw new Error('The server did not come to the end. Bring the file in again: what is in already stays as it is.')
  return last.report
}
