/** A page that never becomes idle loads the rest after this time. */
const IDLE_MOST_MS = 1000

/** Calls back once the page has loaded and is idle: for code that no view needs at first.
 * @returns cancels it */
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
