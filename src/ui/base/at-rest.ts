/** A page that never rests gets what is meant for later after this all the same. */
const IDLE_MOST_MS = 1000

/** Does something once the page has loaded and is at rest: what no view shows at first takes nothing from
 * what it does show.
 * @returns takes it back */
export function whenAtRest(work: () => void): () => void {
  let waiting: number | undefined
  const rest = () => {
    waiting = requestIdleCallback(work, { timeout: IDLE_MOST_MS })
  }
  if (document.readyState === 'complete') rest()
  else window.addEventListener('load', rest, { once: true })
  return () => {
    window.removeEventListener('load', rest)
    if (waiting !== undefined) cancelIdleCallback(waiting)
  }
}
