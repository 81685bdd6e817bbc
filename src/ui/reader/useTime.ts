'use client'
import { useCallback, useRef, useState } from 'react'
import { api } from '../api'

/** The moment that log, screens and video show. A step that is selected otherwise is at its own moment.
 * @param select shows the step that was at work then
 * @returns `seek` goes to a moment; of many that come quickly the last is looked for; `leave` forgets it */
export function useTime(attemptId: string, select: (path: string) => void) {
  const [time, setTime] = useState<number>()
  const wanted = useRef<number>(undefined)
  const isAsking = useRef(false)
  const ask = async () => {
    if (isAsking.current) return
    isAsking.current = true
    while (wanted.current !== undefined) {
      const ms = wanted.current
      wanted.current = undefined
      const { path } = await api<{ path: string | null }>(
        `/api/attempts/${attemptId}/path-at?ms=${ms}`,
      ).catch(
        () => ({ path: null }), // the next movement asks again
      )
      if (path !== null && wanted.current === undefined) select(path)
    }
    isAsking.current = false
  }
  const seek = (ms: number) => {
    const whole = Math.max(0, Math.round(ms))
    setTime(whole)
    wanted.current = whole
    void ask()
  }
  const leave = useCallback(() => {
    wanted.current = undefined
    setTime(undefined)
  }, [])
  return { time, seek, show: setTime, leave }
}
