'use client'
/** Whether what the page shows is kept current, and since when it is not. */
import { useSyncExternalStore } from 'react'

/** `since`: epoch milliseconds of the last thing that was heard; `undefined`: it is live. */
let since: number | undefined
const listeners = new Set<() => void>()

/** @param heardAt when something was heard last; `undefined`: it is live (again) */
export function setNotLiveSince(heardAt: number | undefined): void {
  if (heardAt === since || (heardAt !== undefined && since !== undefined)) return
  since = heardAt
  for (const listener of listeners) listener()
}

function subscribe(listener: () => void): () => void {
  listeners.add(listener)
  return () => void listeners.delete(listener)
}

/** @returns since when the page is not live; `undefined` while it is */
export const notLiveSince = (): number | undefined => since

export const useNotLiveSince = (): number | undefined =>
  useSyncExternalStore(subscribe, notLiveSince, () => undefined)
