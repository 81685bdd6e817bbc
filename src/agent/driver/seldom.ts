/** Passes calls on, and leaves out what comes sooner than so long after the one before: a page may open
 * dialogs without end. */
export function seldom<A extends unknown[]>(eachMs: number, call: (...given: A) => void): typeof call {
  let last = -Infinity
  return (...given) => {
    const now = performance.now()
    if (now - last < eachMs) return
    last = now
    call(...given)
  }
}
