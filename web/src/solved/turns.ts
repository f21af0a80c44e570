/** A chart is redrawn when no change has come for so long, or is so old, chosen: what is typed and its figures go before. */
const restMs = 90
const latestMs = 500
/** Charts take turns, so far apart, chosen: two at once would be felt while a key is held. */
const apartMs = 130

/** How long charts wait for figures that are asked for, chosen. */
const awaitMs = 70

let free = 0
let figuresUntil = 0

/** Figures are on their way: they go before any chart that can wait. */
export function giveWay() {
  figuresUntil = performance.now() + awaitMs
}

/** Draws in its turn; since is when the first of the changes came that are not drawn yet. Gives the way to withdraw. */
export function inTurn(since: number, draw: () => void): () => void {
  let timer: ReturnType<typeof setTimeout>
  const wait = (ms: number) => {
    timer = setTimeout(() => {
      const now = performance.now()
      const until = Math.max(free, Math.min(figuresUntil, since + latestMs))
      if (now < until) return wait(until - now)
      free = now + apartMs
      draw()
    }, ms)
  }
  wait(Math.max(0, Math.min(restMs, since + latestMs - performance.now())))
  return () => clearTimeout(timer)
}
