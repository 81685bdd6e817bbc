/** Starts one request in each turn of the event loop. A page or an answer of the API takes some milliseconds
 * of the thread: thirty that arrive together, all started on arrival, would delay quick answers (health,
 * heartbeats) by the sum of them.
 * @returns a function that takes work and starts it in its turn */
export function inTurns(): (work: () => void) => void {
  const waiting: (() => void)[] = []
  let scheduled = false
  const begin = () => {
    const work = waiting.shift()
    scheduled = waiting.length > 0
    if (scheduled) setImmediate(begin)
    work?.()
  }
  return (work) => {
    waiting.push(work)
    if (!scheduled) setImmediate(begin)
    scheduled = true
  }
}
