'use client'
import { useEffect, useRef, useState } from 'react'
import { api } from '../api'
import { Screen } from '../base/Screen'
import { onChange } from './changes'

/** Agents show their screens for some seconds after each time this is said. */
const SAY_MS = 4000
const looked = new Map<string, number>()
let timer: ReturnType<typeof setInterval> | undefined

const say = () => {
  if (looked.size > 0 && document.visibilityState === 'visible')
    void api('/api/live/watch', {
      method: 'POST',
      body: { attempts: [...looked.keys()].slice(0, 200) },
    }).catch(() => {})
}
/** All tiles that are in view say so together. @returns what ends it */
function look(attemptId: string): () => void {
  looked.set(attemptId, (looked.get(attemptId) ?? 0) + 1)
  timer ??= setInterval(say, SAY_MS)
  if (looked.size === 1) say()
  return () => {
    const left = looked.get(attemptId)! - 1
    if (left > 0) looked.set(attemptId, left)
    else looked.delete(attemptId)
    if (looked.size === 0) {
      clearInterval(timer)
      timer = undefined
    }
  }
}

/** What is on an attempt's screen, about each second while this is in view; until the first of these, and
 * where there are none, the newest screen of its log. */
export function LiveScreen({
  attemptId,
  hash,
  alt,
  className,
}: {
  attemptId: string
  hash: string | null
  alt: string
  className: string
}) {
  const box = useRef<HTMLDivElement>(null)
  const [seen, setSeen] = useState(false)
  const [shown, setShown] = useState(0)
  useEffect(() => {
    const observer = new IntersectionObserver(([entry]) => setSeen(entry!.isIntersecting))
    observer.observe(box.current!)
    return () => observer.disconnect()
  }, [])
  useEffect(() => (seen ? look(attemptId) : undefined), [seen, attemptId])
  useEffect(
    () => (seen ? onChange(`screen:${attemptId}`, () => setShown((n) => n + 1)) : undefined),
    [seen, attemptId],
  )
  return (
    <div ref={box} className="relative">
      <Screen hash={hash} alt={alt} none="no screen yet" className={className} />
      {shown > 0 && (
        <img
          src={`/api/attempts/${attemptId}/screen?n=${shown}`}
          alt=""
          aria-hidden
          className={`absolute inset-0 block bg-ground object-cover object-top ${className}`}
          onError={() => setShown(0)}
        />
      )}
    </div>
  )
}
