/** A chart is redrawn when no change has come for so long, or is so old, chosen: what is typed and its figures go before. */
const restMs = 90
const latestMs = 500
/** Charts take turns, so far apart, chosen: two at once would be felt while a key is held. */
const apartMs = 130

let free = 0

/** Draws in its turn; since is when the first of the changes came that are not drawn yet. Gives the way to withdraw. */
export function inTurn(since: number, draw: () => void): () => void {
  let timer: ReturnType<typeof setTimeout>
  const wait = (ms: number) => {
    timer = setTimeout(() => {
      const now = performance.now()
      if (now < free) return wait(free - now)
      free = now + apartMs
      draw()
    }, ms)
  }
  wait(Math.max(0, Math.min(restMs, since + latestMs - performance.now())))
  return () => clearTimeout(timer)
}
