import type { Light, Schemas } from './client'
import { lines } from './lines'

type Step = Schemas['CalibrationStep']

/** Fits the figures of a light to its readings, and hears how many lights with other figures were tried. */
export async function calibrate(light: Light, query: { variant: number; tools: string[]; ways: string[] }, signal: AbortSignal, heard: (tried: number) => void): Promise<Schemas['Calibration']> {
  const asked = new URLSearchParams([['variant', String(query.variant)], ...query.tools.map((t) => ['tools', t]), ...query.ways.map((w) => ['ways', w])])
  let last: Step | undefined
  for await (const step of lines<Step>(`/api/bench/calibration?${asked}`, light, signal)) {
    last = step
    heard(step.tried)
  }
  if (!last?.calibration) throw new Error(last?.problem ?? 'The server did not come to the end of it.')
  return last.calibration
}
