/** A page or an answer of the API takes some milliseconds of the thread: thirty that come at once, begun
 * where they come, keep everybody waiting for all of them. One in each turn of the event loop lets in between
 * what is answered at once.
 * @returns takes work, and begins it in its turn */
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
