'use client'
import { useState } from 'react'

/** Which item of a list is shown: the one that is asked for, else the one that was shown before, else the
 * first. An item that comes to the top does not replace it, so that the next key decides what a person reads.
 * @param list name of the list; another list begins with its first
 * @param asked key of what is asked for */
export function useShown<T>(
  list: string,
  items: readonly T[],
  keyOf: (item: T) => string,
  asked: string | null,
): T | undefined {
  const [before, setBefore] = useState<{ list: string; key: string }>()
  const find = (key: string | null | undefined) => items.find((item) => keyOf(item) === key)
  const shown = find(asked) ?? (before?.list === list ? find(before.key) : undefined) ?? items[0]
  const key = shown && keyOf(shown)
  if (key !== undefined && (before?.list !== list || before.key !== key)) setBefore({ list, key })
  return shown
}
