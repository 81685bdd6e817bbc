'use client'
/** The case beside the browser: its steps, which of them are carried out, and what is put between them. */
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { toast } from 'sonner'
import { targetsOf, type Step } from '@/core/model'
import { stepForm } from '@/core/model/editing'
import type { PlacedStop, Stop } from '@/core/live'
import type { LiveSessionViewModel } from '@/core/view-models'
import { playedLists, stepOfPath, type StepRow } from '../bench/step-rows'
import { useDraft } from '../edit/useDraft'
import { useFrame } from '../frame/tools'
import { api, type ApiProblem } from '../api'
import { idOf } from '../tree/rows'
import type { Made } from './Recorded'
import { oneUnit, stopsOf, unitsBefore, unitsFrom, unitsUpTo, unitsWithin, type Stops } from './playing'
import { isDriving, type SessionState } from './session-state'
import type { Order } from './useLiveLine'

/** Between two steps, for who wants to see each. */
const SLOW_MS = 1000

/** @returns the table that has them now; absent: there is none to add */
async function addColumns(
  caseKey: string,
  columns: Readonly<Record<string, string>>,
): Promise<string | undefined> {
  let table: string | undefined
  for (const [name, value] of Object.entries(columns)) {
    const body = { name, value }
    const added = await api<{ table: string }>(`/api/cases/${caseKey}/columns`, { method: 'POST', body })
    table = added.table
    toast(`The table ${table} has a column ${name}`)
  }
  return table
}

export type LiveCase = ReturnType<typeof useLiveCase>

/** @param before path in logs of a step that is gone to once the browser is there: all before it is carried
 * out */
export function useLiveCase(
  { caseKey, bench, row }: Pick<LiveSessionViewModel, 'caseKey' | 'bench' | 'row'>,
  state: SessionState,
  say: (order: Order) => void,
  before: string | null,
) {
  const draft = useDraft('case', caseKey, bench)
  const { may } = useFrame()
  const [own, setOwn] = useState<{ id: string | undefined; no: number }>()
  const [stops, setStops] = useState<Stops>({})
  const [isSlow, setSlow] = useState(false)
  const [rowNow, setRowNow] = useState(row ?? 1)
  const goToRow = (index: number) => {
    setRowNow(index)
    say({ do: 'row', index })
  }
  const { definition } = draft
  const list = useMemo(
    () => (definition?.kind === 'case' ? playedLists(definition)[0] : undefined),
    [definition],
  )
  const rows = useMemo(() => list?.rows ?? [], [list])
  const target = before === null ? undefined : stepOfPath(rows, before)
  // where playing stopped is selected, until a person selects something else
  const stoppedNo = state.stopped?.no ?? 0
  const selected = stoppedNo > (own?.no ?? 0) ? state.stopped?.id : (own?.id ?? target?.id)
  const setSelected = (id: string | undefined) => setOwn({ id, no: stoppedNo })
  const chosen = rows.find(({ id }) => id === selected)
  const editable = may('tester') && draft.problems.length === 0
  const driving = isDriving(state) && state.agentHere
  const working = state.browser?.working ?? false
  const canPlay = driving && !working && rows.length > 0 && editable

  const play = useCallback(
    (some: readonly StepRow[], stopsAt?: (unit: StepRow) => PlacedStop[]) => {
      const steps = some.flatMap((unit) => {
        const placed = stopsAt?.(unit) ?? []
        const { id, step } = unit
        return step ? [{ id, form: stepForm(step), ...(placed.length > 0 && { stops: placed }) }] : []
      })
      if (steps.length > 0) say({ do: 'play', steps, ...(isSlow && { pauseMs: SLOW_MS }) })
    },
    [say, isSlow],
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

  const within = (unit: StepRow) => stopsOf(rows, unit, stops)

  /** Behind the selected step, or at the end.
   * @param made parameters that are new, with their values
   * @param table the case takes its rows from it from now on
   * @returns whether it went in */
  const insert = (
    steps: readonly Step[],
    made: Readonly<Record<string, string>> = {},
    table?: string,
  ): boolean => {
    if (!list) return false
    const path = chosen?.path
    const at = path ? (path.at(-1) as number) + 1 : list.length
    const into = path ? path.slice(0, -1) : list.path
    const parameters = Object.entries(made).map(([name, value]) => ({
      do: 'set' as const,
      path: ['parameters', name],
      value,
    }))
    const ofTable = table === undefined ? [] : [{ do: 'set' as const, path: ['data'], value: table }]
    if (!draft.edit({ do: 'insert', list: into, at, values: steps.map(stepForm) }, ...parameters, ...ofTable))
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
    /** Columns are kept at once, in the table: it is another file. */
    takeRecorded: async (steps: readonly Step[], { parameters, columns }: Made) => {
      const before = definition?.kind === 'case' ? definition.data : undefined
      const table = await addColumns(caseKey, columns).catch((problem: ApiProblem) => {
        toast.error(problem.message)
        throw problem // what was named stays as it is
      })
      if (!insert(steps, parameters, before === undefined ? table : undefined)) return
      say({ do: 'forget' })
      if (table !== undefined && before !== undefined) goToRow(rowNow)
    },
    oneStep: () => {
      const one = oneUnit(rows, selected)
      if (!one) return
      play([one.unit], within)
      setSelected(one.next)
    },
    fromHere: () => play(unitsFrom(rows, selected), within),
    upToHere: () => play(unitsUpTo(rows, selected)),
    isBlock: chosen?.step?.verb === 'block' && !chosen.step.off,
    wholeBlock: () => play(unitsWithin(rows, selected), within),
    toggleStop: (id: string) =>
      setStops(({ [id]: known, ...others }) => (known ? others : { ...others, [id]: {} })),
    setStop: (id: string, stop: Stop) => setStops((now) => ({ ...now, [id]: stop })),
    isSlow,
    setSlow,
    rowNow,
    goToRow,
  }
}
