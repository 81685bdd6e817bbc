'use client'
import { parseAsString, useQueryState } from 'nuqs'
import { useCallback } from 'react'

/** The name of what is to be set up or changed here, as links to a part of the settings give it; empty: none.
 * */
export function useWanted(): [string, (name: string) => void] {
  const [name, setName] = useQueryState('name', parseAsString.withDefault(''))
  const set = useCallback((next: string) => void setName(next === '' ? null : next), [setName])
  return [name, set]
}
