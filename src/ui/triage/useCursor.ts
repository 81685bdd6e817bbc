'use client'
import { useEffect, useRef } from 'react'

/** What is chosen of a list, for keys: they may come faster than the page is drawn, and then mean what was
 * chosen by the key before, not what is still drawn.
 * @param drawn key of what the page shows as chosen
 * @param onChoose has it drawn */
export function useCursor<T>(
  items: readonly T[],
  keyOf: (item: T) => string,
  drawn: T | undefined,
  onChoose: (item: T) => void,
) {
  const latest = useRef<string>(undefined)
  const drawnKey = drawn && keyOf(drawn)
  useEffect(() => {
    latest.current = drawnKey
  }, [drawnKey])
  const at = () => {
    const place = items.findIndex((item) => keyOf(item) === latest.current)
    return place < 0 ? items.findIndex((item) => keyOf(item) === drawnKey) : place
  }
  const choose = (item: T | undefined) => {
    if (item === undefined) return
    latest.current = keyOf(item)
    onChoose(item)
  }
  return {
    /** Place of what is chosen now; -1: nothing is there. */
    at,
    current: (): T | undefined => items[at()],
    choose,
    move: (by: 1 | -1) => choose(items[at() + by]),
  }
}
