/** Single changes, for what is not a query: who wants to know of "topic:id" is called at once. */
const listeners = new Map<string, Set<() => void>>()

/** @returns what ends it */
export function onChange(name: string, listener: () => void): () => void {
  const known = listeners.get(name) ?? new Set()
  listeners.set(name, known.add(listener))
  return () => {
    known.delete(listener)
    if (known.size === 0) listeners.delete(name)
  }
}

export const tellOf = (changes: readonly string[]): void =>
  changes.forEach((name) => listeners.get(name)?.forEach((listener) => listener()))
