'use client'
import { useCallback, useEffect, useReducer, useRef, useState } from 'react'
import type { GuidedSheetViewModel } from '@/core/view-models'
import { api, type ApiProblem } from '../api'
import { onSheet, sheetState, verdictsOf } from './sheet-state'
import { useWorkedTime } from './useWorkedTime'

/** What is said in quick succession is kept once. */
const GATHER_MS = 400

/** The sheet of a case in this page: what is said is kept on the server as it is said, one save after the
 * other. `problem`: nothing is kept until it is read again. */
export function useSheet(given: GuidedSheetViewModel, mayWrite: boolean) {
  const { id } = given
  const [state, act] = useReducer(onSheet, given, ({ steps, verdicts, video }) =>
    sheetState(steps, verdicts, video),
  )
  const [facts, setFacts] = useState<Record<string, string>>(() => ({ ...usualFacts(given), ...given.facts }))
  const [problem, setProblem] = useState<string>()
  const [kept, setKept] = useState(0)
  const time = useWorkedTime(given.workedMs, given.ended !== null)
  const version = useRef(given.version)
  const line = useRef<Promise<unknown>>(Promise.resolve())
  /** It saves all that was said: a save that came after it would be of a case that is over. */
  const concluding = useRef(false)
  const latest = useRef({ state, facts })
  useEffect(() => {
    latest.current = { state, facts }
  })
  const { now } = time

  /** @throws {ApiProblem} */
  const save = useCallback(() => {
    const next = line.current
      .catch(() => {})
      .then(async () => {
        const { state: at, facts: of } = latest.current
        const said = { verdicts: verdictsOf(at), video: at.video, facts: of }
        const body = { version: version.current, workedMs: now(), ...said }
        const saved = await api<{ version: number }>(`/api/guided/${id}`, { method: 'PUT', body })
        version.current = saved.version
        setKept(at.edits)
        return saved.version
      })
    line.current = next
    return next
  }, [id, now])

  const { edits } = state
  useEffect(() => {
    if (edits === 0 || !mayWrite || problem !== undefined) return
    const timer = setTimeout(() => {
      if (!concluding.current)
        void save().catch((error: unknown) => setProblem((error as ApiProblem).message))
    }, GATHER_MS)
    return () => clearTimeout(timer)
  }, [edits, mayWrite, problem, save])

  /** @returns the attempt it became */
  const conclude = async (): Promise<string> => {
    concluding.current = true
    try {
      const body = { version: await save() }
      return (await api<{ attemptId: string }>(`/api/guided/${id}/conclude`, { method: 'POST', body }))
        .attemptId
    } catch (error) {
      concluding.current = false
      throw error
    }
  }
  return { state, act, facts, setFacts, time, problem, setProblem, isKept: kept === edits, conclude }
}
export type Sheet = ReturnType<typeof useSheet>

/** What the environment says it is done on, to be put right by whoever knows better. */
const usualFacts = ({ environment: { os, browser } }: GuidedSheetViewModel) => ({
  device: '',
  system: os,
  browser,
})
