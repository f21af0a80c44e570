import { Offline, Problem, tab, type Light } from './client'

/** Asks something of a light, or of one that is written out already, that is told line by line, each as soon as it is there. */
export async function* lines<Step>(path: string, light: Light | string, signal: AbortSignal): AsyncGenerator<Step> {
  let response
  try {
    response = await fetch(path, { method: 'POST', headers: { 'Content-Type': 'application/json', 'X-Photherm-Tab': tab }, body: typeof light === 'string' ? light : JSON.stringify(light), signal })
  } catch (e) {
    if (e instanceof DOMException && e.name === 'AbortError') throw e
    throw new Offline()
  }
  if (response.status === 503 || !response.body) throw new Offline()
  if (!response.ok) throw new Problem(response.status, await response.json().catch(() => undefined))
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader()
  let rest = ''
  try {
    for (;;) {
      const { done, value } = await reader.read()
      if (done) return
      const whole = (rest + value).split('\n')
      rest = whole.pop() ?? ''
      for (const line of whole) yield JSON.parse(line) as Step
    }
  } catch (e) {
    throw e instanceof TypeError ? new Offline() : e // the line was cut
  } finally {
    void reader.cancel().catch(() => undefined)
  }
}
