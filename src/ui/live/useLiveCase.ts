'use client'
/** The case beside the browser: its steps, which of them are carried out, and what is put between them. */
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { targetsOf, type Step } from '@/core/model'
import { stepForm } from '@/core/model/editing'
import type { LiveSessionViewModel } from '@/core/view-models'
import { playedLists, type StepRow } from '../bench/step-rows'
import { useDraft } from '../edit/useDraft'
import { useFrame } from '../frame/tools'
import { idOf } from '../tree/rows'
import { oneUnit, stepOfPath, unitsBefore, unitsFrom, unitsUpTo } from './playing'
import { isDriving, type SessionState } from './session-state'
import type { Order } from './useLiveLine'

export type LiveCase = ReturnType<typeof useLiveCase>

/** @param before path in logs of a step that is gone to once the browser is there: all before it is carried
 * out */
export function useLiveCase(
  { caseKey, bench }: Pick<LiveSessionViewModel, 'caseKey' | 'bench'>,
  state: SessionState,
  say: (order: Order) => void,
  before: string | null,
) {
  const draft = useDraft('case', caseKey, bench)
  const { may } = useFrame()
  const [own, setSelected] = useState<string>()
  const [stops, setStops] = useState<ReadonlySet<string>>(new Set())
  const { definition } = draft
  const list = useMemo(
    () => (definition?.kind === 'case' ? playedLists(definition)[0] : undefined),
    [definition],
  )
  const rows = useMemo(() => list?.rows ?? [], [list])
  const target = before === null ? undefined : stepOfPath(rows, before)
  const selected = own ?? target?.id
  const chosen = rows.find(({ id }) => id === selected)
  const editable = may('tester') && draft.problems.length === 0
  const driving = isDriving(state) && state.agentHere
  const working = state.browser?.working ?? false
  const canPlay = driving && !working && rows.length > 0 && editable

  const play = useCallback(
    (some: readonly StepRow[]) => {
      const steps = some.flatMap(({ id, step }) => (step ? [{ id, form: stepForm(step) }] : []))
      if (steps.length > 0) say({ do: 'play', steps })
    },
    [say],
  )

  const isThere = useRef(before === null)
  const isReady = canPlay && state.browser !== undefined
  useEffect(() => {
    if (isThere.current || !isReady || !target) return
    isThere.current = true
    play(unitsBefore(rows, target.id))
  }, [isReady, target, rows, play])

  const [first] = chosen?.step ? targetsOf(chosen.step) : []
  const written = first && JSON.stringify(first)
  useEffect(() => {
    if (written !== undefined && driving && !working)
      say({ do: 'locate', target: JSON.parse(written) as NonNullable<typeof first> })
  }, [written, driving, working, say])

  /** Behind the selected step, or at the end.
   * @param made parameters that are new, with their values
   * @returns whether it went in */
  const insert = (steps: readonly Step[], made: Readonly<Record<string, string>> = {}): boolean => {
    if (!list) return false
    const path = chosen?.path
    const at = path ? (path.at(-1) as number) + 1 : list.length
    const into = path ? path.slice(0, -1) : list.path
    const parameters = Object.entries(made).map(([name, value]) => ({
      do: 'set' as const,
      path: ['parameters', name],
      value,
    }))
    if (!draft.edit({ do: 'insert', list: into, at, values: steps.map(stepForm) }, ...parameters))
      return false
    setSelected(idOf([...into, at + steps.length - 1]))
    return true
  }
  return {
    draft,
    rows,
    selected,
    chosen,
    stops,
    editable,
    driving,
    working,
    canPlay,
    select: setSelected,
    insert,
    parameters: definition?.kind === 'case' ? Object.keys(definition.parameters) : [],
    takeRecorded: (steps: readonly Step[], made: Readonly<Record<string, string>>) => {
      if (insert(steps, made)) say({ do: 'forget' })
    },
    oneStep: () => {
      const one = oneUnit(rows, selected)
      if (!one) return
      play([one.unit])
      setSelected(one.next)
    },
    fromHere: () => play(unitsFrom(rows, selected, stops)),
    upToHere: () => play(unitsUpTo(rows, selected)),
    toggleStop: (id: string) =>
      setStops((now) => new Set(now.has(id) ? [...now].filter((one) => one !== id) : [...now, id])),
  }
}
