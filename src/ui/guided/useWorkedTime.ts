'use client'
import { useCallback, useEffect, useRef, useState } from 'react'

const TICK_MS = 1000

/** Time that is worked on something: it stands still while it is told to, and while the page is out of sight
 * and nothing is recorded.
 * @param before what was worked on it earlier
 * @param isOver it does not run any more
 * @returns `ms` for the screen, by the second; `now()` at this moment */
export function useWorkedTime(before: number, isOver: boolean) {
  const [paused, setPaused] = useState(false)
  const [recording, setRecording] = useState(false)
  const [ms, setMs] = useState(before)
  const clock = useRef({ worked: before, since: null as number | null })
  const now = useCallback(() => {
    const { worked, since } = clock.current
    return Math.round(since === null ? worked : worked + performance.now() - since)
  }, [])
  useEffect(() => {
    if (paused || isOver) return
    const turn = () => {
      const worked = now()
      clock.current = { worked, since: document.hidden && !recording ? null : performance.now() }
      setMs(worked)
    }
    turn()
    document.addEventListener('visibilitychange', turn)
    const timer = setInterval(() => setMs(now()), TICK_MS)
    return () => {
      document.removeEventListener('visibilitychange', turn)
      clearInterval(timer)
      clock.current = { worked: now(), since: null }
    }
  }, [paused, recording, isOver, now])
  return { ms, now, paused, setPaused, recording, setRecording }
}
