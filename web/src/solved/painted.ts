/** How long a frame may take to be drawn once the page has made it, chosen. */
const drawnMs = 10

/** Waits until what was put stands on the screen; a page that is not seen does not wait long. */
export const painted = () => new Promise<void>((done) => {
  const timer = setTimeout(done, 60)
  requestAnimationFrame(() => setTimeout(() => {
    clearTimeout(timer)
    done()
  }, drawnMs))
})
