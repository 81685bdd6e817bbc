'use client'
import { clock } from '../base/Time'
import { useNotLiveSince } from '../base/live-state'

/** Says that what is seen is from before. It goes by itself when the server is back. */
export function NotLive() {
  const since = useNotLiveSince()
  if (since === undefined) return null
  return (
    <p
      role="status"
      className="border-b border-failed/40 bg-failed-wash px-[18px] py-1 text-sm"
      data-state="not-live"
    >
      <b className="font-semibold">Not live since {clock(new Date(since))}.</b> The server does not answer;
      what you see is from then. It is tried again, and goes on by itself.
    </p>
  )
}
