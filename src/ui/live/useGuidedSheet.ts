'use client'
/** The sheet of a guided case that a live session is for: what is carried out and judged here is said
 * there. */
import { useCallback, useEffect, useRef, type RefObject } from 'react'
import { toast } from 'sonner'
import { saidOfMachine, withVerdicts, type CarriedOut, type GuidedPicture } from '@/core/guided'
import type { GuidedSheetViewModel } from '@/core/view-models'
import { api, type ApiProblem } from '../api'
import type { StepRow } from '../bench/step-rows'
import { keepPicture } from '../guided/pictures'
import type { SessionState, StepMark } from './session-state'
import type { Order } from './useLiveLine'

/** @param guided id of the sheet; `null`: there is none
 * @param driving what who steers sees is written down, once */
export function useGuidedSheet(
  guided: string | null,
  { state, rows, driving }: { state: SessionState; rows: readonly StepRow[]; driving: boolean },
  canvas: RefObject<HTMLCanvasElement | null>,
) {
  const begunAt = useRef(0)
  const known = useRef(new Map<string, StepMark>())
  const pending = useRef<(() => Promise<CarriedOut>)[]>([])
  const keeping = useRef<Promise<void>>(undefined)
  /** What was said with the verdict that was given last. */
  const note = useRef('')

  const keep = useCallback(async (id: string) => {
    while (pending.current.length > 0) {
      const ended = await Promise.all(pending.current.splice(0).map((one) => one()))
      const sheet = await api<GuidedSheetViewModel>(`/api/guided/${id}`)
      const workedMs = Math.round(sheet.workedMs + performance.now() - begunAt.current)
      begunAt.current = performance.now()
      const more = ended.flatMap((one) => saidOfMachine(sheet.steps, one, workedMs))
      if (more.length === 0) continue
      const verdicts = withVerdicts(sheet.verdicts, more)
      const { version, facts, video } = sheet
      const body = { version, verdicts, workedMs, facts, video }
      await api(`/api/guided/${id}`, { method: 'PUT', body })
    }
  }, [])
  const add = useCallback(
    (ended: () => Promise<CarriedOut>) => {
      if (guided === null) return
      pending.current.push(ended)
      keeping.current ??= keep(guided)
        .catch((problem: ApiProblem) => void toast.error(`Not said on the sheet: ${problem.message}`))
        .finally(() => (keeping.current = undefined))
    },
    [guided, keep],
  )

  const isThere = state.browser !== undefined
  useEffect(() => {
    if (!isThere || !driving || begunAt.current > 0) return
    begunAt.current = performance.now()
    add(async () => ({ path: 'entry.0', outcome: 'passed', note: '', pictures: [] }))
  }, [isThere, driving, add])
  useEffect(() => {
    if (guided === null || !driving) return
    for (const [id, one] of Object.entries(state.marks)) {
      const row = rows.find((each) => each.id === id)
      if (one.mark === 'running' || known.current.get(id) === one || !row?.step) continue
      known.current.set(id, one)
      const isJudged = row.step.verb === 'do'
      const words = isJudged ? note.current : (one.failure?.message ?? '')
      const picture = isJudged || one.failure ? pictureOf(guided, canvas.current) : NO_PICTURE
      add(async () => ({
        path: row.logPath,
        outcome: one.mark as CarriedOut['outcome'],
        note: words,
        pictures: await picture,
      }))
    }
  }, [guided, driving, state.marks, rows, add, canvas])

  return {
    /** Hears what is said of a step for a person. */
    hear: useCallback((order: Order) => {
      if (order.do === 'verdict') note.current = order.note
    }, []),
    /** @param undo the machine undoes what was made */
    end: async (undo: boolean) => {
      if (undo)
        add(async () => ({
          path: 'undo',
          outcome: 'skipped',
          note: 'left to the machine when its browser was closed',
          pictures: [],
        }))
      await keeping.current
    },
  }
}

const NO_PICTURE: Promise<GuidedPicture[]> = Promise.resolve([])

/** What the browser shows now. A sheet without it is one all the same. */
async function pictureOf(guided: string, canvas: HTMLCanvasElement | null): Promise<GuidedPicture[]> {
  const blob = await new Promise<Blob | null>((resolve) =>
    canvas ? canvas.toBlob(resolve, 'image/png') : resolve(null),
  )
  if (!blob) return []
  return keepPicture(guided, blob).then(
    (picture) => [picture],
    () => [],
  )
}
