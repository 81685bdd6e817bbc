'use client'
import { useState } from 'react'
import type { ApiProblem } from './api'

/** What a form does when it asks the server: busy meanwhile, then done, or the sentence of the refusal; what
 * was written stays. */
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
