'use client'
import { useCallback, useMemo, useSyncExternalStore } from 'react'
import { describeAgo } from '@/core/model'

const REFRESH_MS = 15_000

/** Now, refreshed now and then; `undefined` on the server and in the first drawing, so that both draw the
 * same. */
export function useNow(everyMs = REFRESH_MS): Date | undefined {
  const ms = useSyncExternalStore(
    useCallback(
      (tick) => {
        const timer = setInterval(tick, everyMs)
        return () => clearInterval(timer)
      },
      [everyMs],
    ),
    () => Math.floor(Date.now() / everyMs) * everyMs,
    () => 0,
  )
  return useMemo(() => (ms === 0 ? undefined : new Date()), [ms])
}

export const clock = (moment: string | Date) =>
  new Date(moment).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })
export const exact = (moment: string | Date) =>
  new Date(moment).toLocaleString('en-GB', {
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
    second: '2-digit',
  })

/** A moment relative to now, the exact one on hover. */
export function Ago({ at }: { at: string }) {
  const now = useNow()
  return (
    <time dateTime={at} title={now ? exact(at) : undefined}>
      {now ? describeAgo(now.getTime() - Date.parse(at)) : ' '}
    </time>
  )
}
