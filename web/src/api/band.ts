import { Offline, Problem, tab, type Light, type Schemas } from './client'

type Step = Schemas['BandStep']

/** Asks how far the answers of a light may be off, and hears line by line how far that is drawn. */
export async function drawBand(light: Light, variant: number, signal: AbortSignal, heard: (step: Step) => void): Promise<Schemas['Band']> {
  let response
  try {
    response = await fetch(`/api/band?variant=${variant}`, { method: 'POST', headers: { 'Content-Type': 'application/json', 'X-Photherm-Tab': tab }, body: JSON.stringify(light), signal })
  } catch (e) {
    if (e instanceof DOMException && e.name === 'AbortError') throw e
    throw new Offline()
  }
  if (response.status === 503 || !response.body) throw new Offline()
  if (!response.ok) throw new Problem(response.status, await response.json().catch(() => undefined))
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader()
  let rest = ''
  let last: Step | undefined
  for (;;) {
    const { done, value } = await reader.read()
    if (done) break
    const lines = (rest + value).split('\n')
    rest = lines.pop() ?? ''
    for (const line of lines) {
      last = JSON.parse(line) as Step
      heard(last)
    }
  }
  if (!last?.band) throw new Error(last?.problem ?? 'The server did not come to the end of it.')
  return last.band
}
