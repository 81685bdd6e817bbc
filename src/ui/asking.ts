'use client'
import { useState } from 'react'
import type { ApiProblem } from './api'

/** State of a form that sends a request: busy, done, or refused with a sentence; the fields keep what was
 * written. */
export function useAsking(onDone: () => void = () => {}) {
  const [problem, setProblem] = useState<string>()
  const [busy, setBusy] = useState(false)
  const ask = async (work: () => Promise<unknown>) => {
    setProblem(undefined)
    setBusy(true)
    try {
      await work()
      onDone()
    } catch (error) {
      setProblem((error as ApiProblem).message)
    } finally {
      setBusy(false)
    }
  }
  return { problem, setProblem, busy, ask }
}
