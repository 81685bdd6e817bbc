'use client'
import type { DecisionKind } from '@/core/triage'
import { Button } from '../base/Button'
import { TextField } from '../base/fields'
import { DECISION_KEYS, DECISION_WORDS } from './decision-words'

/** `of`: how many causes are decided at once. */
type Props = {
  of: number
  note: string
  busy: boolean
  onNote(note: string): void
  onDecide(as: DecisionKind): void
}

/** One decision for all failures of a cause, by a click or a key. */
export function Decide({ of, note, busy, onNote, onDecide }: Props) {
  return (
    <div role="group" aria-label="Decide" className="mt-2.5 flex flex-wrap items-center gap-1.5">
      <span className="mr-1 text-sm font-semibold">{of > 1 ? `These ${of} are` : 'It is'}</span>
      {DECISION_KEYS.map(({ as, key }) => (
        <Button key={as} keyHint={key} disabled={busy} className="!h-7 !px-2" onClick={() => onDecide(as)}>
          {DECISION_WORDS[as]}
        </Button>
      ))}
      <TextField
        aria-label="A word on it"
        placeholder="A word on it, before you decide"
        width="w-64"
        maxLength={1000}
        value={note}
        onChange={({ target }) => onNote(target.value)}
      />
    </div>
  )
}
