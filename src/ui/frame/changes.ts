/** Single changes ("topic:id") as the server tells them: callbacks for code that is not a query, and which
 * there were lately. */
const listeners = new Map<string, Set<() => void>>()

/** A page that the server drew this long ago at the most may lack what changed since. */
const LATELY_MS = 10_000
/** When each was told last, the longest ago first. */
const lately = new Map<string, number>()

/** @returns what ends it */
export function onChange(name: string, listener: () => void): () => void {
  const known = listeners.get(name) ?? new Set()
  listeners.set(name, known.add(listener))
  return () => {
    known.delete(listener)
    if (known.size === 0) listeners.delete(name)
  }
}

export function tellOf(changes: readonly string[], now = Date.now()): void {
  for (const name of changes) {
    lately.delete(name)
    lately.set(name, now)
    listeners.get(name)?.forEach((listener) => listener())
  }
  for (const [name, at] of lately) {
    if (at > now - LATELY_MS) break
    lately.delete(name)
  }
}

/** Whether something of these topics ("run", "run:12") changed in the last seconds. */
export const changedLately = (topics: readonly string[], now = Date.now()): boolean =>
  [...lately].some(
    ([name, at]) =>
      at > now - LATELY_MS &&
      (name === '*:' || topics.some((topic) => name === topic || name.startsWith(`${topic}:`))),
  )
