'use client'
import { useEffect } from 'react'
import { LOOKING_MS, type LookersViewModel } from '@/core/view-models'
import { api, useViewModel } from '../api'
import { useNow } from '../base/Time'

const PATH = '/api/triage/looking'
/** Who goes on by keys does not look at each cause on the way. */
const SETTLED_MS = 600
const AGAIN_MS = LOOKING_MS / 3

/** Says which cause this person looks at, for as long as the page is seen, and tells who looks at which.
 * @returns by signature, without this person */
export function useLookers(signature: string | undefined, own: string): ReadonlyMap<string, string[]> {
  useEffect(() => {
    if (signature === undefined) return
    const say = () => {
      // that nobody is told is no trouble for who decides
      if (!document.hidden) void api(PATH, { method: 'POST', body: { signature } }).catch(() => {})
    }
    const first = setTimeout(say, SETTLED_MS)
    const again = setInterval(say, AGAIN_MS)
    document.addEventListener('visibilitychange', say)
    return () => {
      clearTimeout(first)
      clearInterval(again)
      document.removeEventListener('visibilitychange', say)
    }
  }, [signature])
  useEffect(() => {
    const leave = () => navigator.sendBeacon?.(PATH, new Blob(['{}'], { type: 'application/json' }))
    window.addEventListener('pagehide', leave)
    return () => {
      window.removeEventListener('pagehide', leave)
      leave()
    }
  }, [])
  const { data, dataUpdatedAt } = useViewModel<LookersViewModel>(PATH, ['looking'])
  const now = useNow()?.getTime() ?? dataUpdatedAt
  const found = new Map<string, string[]>()
  for (const one of data?.lookers ?? [])
    if (one.person !== own && Math.max(0, now - dataUpdatedAt) + one.ageMs < LOOKING_MS)
      found.set(one.signature, [...(found.get(one.signature) ?? []), one.person])
  return found
}
