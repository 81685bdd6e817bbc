'use client'
import Link from 'next/link'
import type { DecisionKind } from '@/core/triage'
import type { TriageGroup } from '@/core/view-models'
import { Button, buttonLook, Key } from '../base/Button'
import { TextField } from '../base/fields'
import { Decided } from './Decided'
import { DECISION_KEYS, DECISION_WORDS } from './decision-words'
import type { useDeciding } from './useDeciding'

type Props = {
  group: TriageGroup
  attemptId: string
  mayDecide: boolean
  deciding: ReturnType<typeof useDeciding>
  onDecide(as: DecisionKind): void
}

/** What it probably is, by each key the decision, and what there is to do then. */
export function DecideColumn({ group, attemptId, mayDecide, deciding, onDecide }: Props) {
  const { likely, because, decision } = group
  const shareOf = new Map<DecisionKind, number>(likely.map(({ cause, likelihood }) => [cause, likelihood]))
  return (
    <aside aria-label="Decision" className="min-h-0 overflow-auto border-l border-line bg-surface px-4 py-3">
      <h2 className="label mb-1.5">What is it?</h2>
      {decision && (
        <Decided
          decision={decision}
          onTakeBack={mayDecide ? () => void deciding.takeBack([decision.id]) : undefined}
        />
      )}
      <ul className="flex flex-col gap-1">
        {DECISION_KEYS.map(({ as, key }) => (
          <li key={as}>
            <Choice
              as={as}
              keyHint={key}
              share={shareOf.get(as)}
              reasons={likely[0]?.cause === as ? because : []}
              disabled={!mayDecide || deciding.busy}
              onChoose={() => onDecide(as)}
            />
          </li>
        ))}
      </ul>
      {mayDecide && (
        <TextField
          aria-label="A word on it"
          placeholder="A word on it, before you decide"
          width="mt-2 w-full"
          maxLength={1000}
          value={deciding.note}
          onChange={({ target }) => deciding.setNote(target.value)}
        />
      )}
      <p className="mt-1.5 text-xs text-soft">
        The share is proposed by rules and what people decided; it decides nothing.
      </p>
      <div className="mt-3 flex flex-wrap gap-2 border-t border-line pt-3">
        {mayDecide && (
          <Link className={buttonLook('main')} href={`/attempts/${attemptId}?draft=1`}>
            Draft a defect <Key>d</Key>
          </Link>
        )}
        <Link className={buttonLook('plain')} href={`/attempts/${attemptId}`}>
          Read it <Key>o</Key>
        </Link>
      </div>
    </aside>
  )
}

type ChoiceProps = {
  as: DecisionKind
  keyHint: string
  /** How likely it is, from 0 to 1; absent: nothing is said of it. */
  share: number | undefined
  reasons: readonly string[]
  disabled: boolean
  onChoose(): void
}

function Choice({ as, keyHint, share, reasons, disabled, onChoose }: ChoiceProps) {
  return (
    <Button
      disabled={disabled}
      onClick={onChoose}
      className="relative !h-auto w-full flex-wrap !gap-x-2 overflow-hidden !px-2 !py-1 text-left !whitespace-normal"
    >
      {share !== undefined && (
        <span
          aria-hidden
          className="absolute inset-y-0 left-0 bg-act-wash"
          style={{ width: `${Math.round(share * 100)}%` }}
        />
      )}
      <span className="relative flex w-full items-center gap-2">
        <Key>{keyHint}</Key>
        <span className="min-w-0 flex-1 first-letter:uppercase">{DECISION_WORDS[as]}</span>
        {share !== undefined && (
          <span className="text-xs text-soft tabular-nums">{Math.round(share * 100)} %</span>
        )}
      </span>
      {reasons.length > 0 && (
        <span className="relative w-full pl-6 text-xs font-normal text-soft">{reasons.join(', ')}</span>
      )}
    </Button>
  )
}
