'use client'
import { useRef, useState } from 'react'
import { toast } from 'sonner'
import type { DecisionKind } from '@/core/triage'
import { plural, type RunCauseViewModel } from '@/core/view-models'
import { api } from '../api'
import { useAsking } from '../asking'
import { DECISION_WORDS } from './decision-words'

export const isDecided = ({ decision }: Pick<RunCauseViewModel, 'decision'>): boolean =>
  decision?.stands === true

/** Who decides goes on to the next that waits, or back to the first of those.
 * @param decided what has just been decided */
export function nextWaiting<C extends RunCauseViewModel>(
  causes: readonly C[],
  from: number,
  decided: readonly C[],
): C | undefined {
  const waiting = causes.filter((one) => !isDecided(one) && !decided.includes(one))
  return waiting.find((one) => causes.indexOf(one) > from) ?? waiting[0]
}

/** Decisions as they are sent: with a word, taken back, and told when somebody else was first.
 * @param refetch reads the causes anew */
export function useDeciding(refetch: () => Promise<unknown>) {
  const [note, setNote] = useState('')
  const { problem, busy, ask } = useAsking()
  // a key that comes while a decision is on its way is none: it would be of the same cause once more
  const isSending = useRef(false)
  const once = async (work: () => Promise<void>) => {
    if (isSending.current) return
    isSending.current = true
    await ask(work)
    isSending.current = false
  }
  const takeBack = (ids: readonly number[]) =>
    once(async () => {
      for (const id of ids) await api(`/api/triage/decisions/${id}`, { method: 'DELETE' })
      await refetch()
    })
  const decide = (
    runId: number,
    as: DecisionKind,
    causes: readonly RunCauseViewModel[],
    onDone: () => void,
  ) =>
    once(async () => {
      const sent = causes.map(({ signature, decision }) => ({ signature, seen: decision?.id ?? null }))
      try {
        const { ids } = await api<{ ids: number[] }>(`/api/runs/${runId}/causes/decisions`, {
          method: 'POST',
          body: { as, note, causes: sent },
        })
        setNote('')
        onDone()
        toast(`${plural(ids.length, 'cause')}: ${DECISION_WORDS[as]}`, {
          duration: 12_000,
          action: { label: 'Undo', onClick: () => void takeBack(ids) },
        })
      } finally {
        await refetch() // a refusal tells that somebody else decided: it is shown
      }
    })
  return { note, setNote, problem, busy, decide, takeBack }
}
