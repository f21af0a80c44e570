import type { Light, Schemas } from './client'
import { lines } from './lines'

type Step = Schemas['BandStep']

/** Asks how far the answers of a light may be off, and hears line by line how far that is drawn. */
export async function drawBand(light: Light, variant: number, signal: AbortSignal, heard: (step: Step) => void): Promise<Schemas['Band']> {
  let last: Step | undefined
  for await (const step of lines<Step>(`/api/band?variant=${variant}`, light, signal)) heard((last = step))
  if (!last?.band) throw new Error(last?.problem ?? 'The server did not come to the end of it.')
  return last.band
}
