'use client'
import { useRef, useState } from 'react'
import { toast } from 'sonner'
import type { DecisionKind } from '@/core/triage'
import { plural, type RunCauseViewModel } from '@/core/view-models'
import { api } from '../api'
import { useAsking } from '../asking'
import { DECISION_WORDS } from './decision-words'
import type { ChosenPart } from './SetApart'

type Named = Pick<RunCauseViewModel, 'signature' | 'title'>
const TITLE_MOST = 400

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
 * @param refetch reads the causes anew
 * @param about what a word that is typed is about: each has its own */
export function useDeciding(refetch: () => Promise<unknown>, about = '') {
  const [notes, setNotes] = useState<Readonly<Record<string, string>>>({})
  const note = notes[about] ?? ''
  const setNote = (text: string) => setNotes((now) => ({ ...now, [about]: text }))
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
    defectId?: number,
  ) =>
    once(async () => {
      const sent = causes.map(({ signature, decision }) => ({ signature, seen: decision?.id ?? null }))
      try {
        const { ids } = await api<{ ids: number[] }>(`/api/runs/${runId}/causes/decisions`, {
          method: 'POST',
          body: { as, note, causes: sent, ...(defectId !== undefined && { defectId }) },
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
  const takeApart = (id: number) =>
    once(async () => {
      await api(`/api/triage/merges/${id}`, { method: 'DELETE' })
      await refetch()
    })
  const merge = (one: Named, into: Named) =>
    once(async () => {
      const { id } = await api<{ id: number }>('/api/triage/merges', {
        method: 'POST',
        body: {
          signature: one.signature,
          title: one.title.slice(0, TITLE_MOST),
          into: into.signature,
          intoTitle: into.title.slice(0, TITLE_MOST),
        },
      })
      toast('One cause from now on', {
        duration: 12_000,
        action: { label: 'Undo', onClick: () => void takeApart(id) },
      })
      await refetch()
    })
  const putBack = (id: number) =>
    once(async () => {
      await api(`/api/triage/splits/${id}`, { method: 'DELETE' })
      await refetch()
    })
  /** @param onDone is told the signature of the part, where failures are known of it */
  const setApart = (one: Named, part: ChosenPart, onDone: (signature: string) => void) =>
    once(async () => {
      const { id, signature, failures } = await api<{ id: number; signature: string; failures: number }>(
        '/api/triage/splits',
        {
          method: 'POST',
          body: { signature: one.signature, title: one.title.slice(0, TITLE_MOST), ...part },
        },
      )
      toast(
        failures > 0
          ? `Apart from now on: ${plural(failures, 'failure')}`
          : 'Apart from now on; no failure of these runs is of that part',
        { duration: 12_000, action: { label: 'Undo', onClick: () => void putBack(id) } },
      )
      await refetch()
      if (failures > 0) onDone(signature)
    })
  const give = (signature: string, person: string, word: string) =>
    once(async () => {
      const body = { signature, person, note: word }
      await api('/api/triage/handovers', { method: 'POST', body })
      toast(person === '' ? 'It is with nobody' : `It is with ${person}`)
      await refetch()
    })
  return { note, setNote, problem, busy, decide, takeBack, merge, takeApart, setApart, putBack, give }
}
