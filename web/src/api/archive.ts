import type { Schemas } from './client'

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
