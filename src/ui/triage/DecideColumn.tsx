'use client'
import Link from '../base/Link'
import type { DecisionKind } from '@/core/triage'
import { addressOfDraft, addressOfFailure, type TriageGroup } from '@/core/view-models'
import { Button, buttonLook, Key } from '../base/Button'
import { TextField } from '../base/fields'
import { Decided } from './Decided'
import { DECISION_KEYS, DECISION_WORDS } from './decision-words'
import { FindOut } from './FindOut'
import { FollowUp } from './FollowUp'
import { GiveTo } from './GiveTo'
import type { useDeciding } from './useDeciding'

type Props = {
  group: TriageGroup
  /** The failure that is looked at. */
  member: TriageGroup['members'][number]
  /** Who may be given it. */
  people: readonly string[]
  /** Others who look at it just now. */
  lookers: readonly string[]
  /** Runs have told something of it. */
  onTold(): void
  mayDecide: boolean
  deciding: ReturnType<typeof useDeciding>
  onDecide(as: DecisionKind): void
  /** What is asked of it, in place of the decisions. */
  asks: Asked | undefined
  /** What answers that. */
  question: React.ReactNode
  onAsk(what: Asked): void
}
/** Which known defect it is, which cause it is the same as, which part is to be set apart. */
export type Asked = 'known' | 'same' | 'part'
const HEADS: Record<Asked, string> = {
  known: 'Which known defect is it?',
  same: 'Which cause is it the same as?',
  part: 'Which part is another cause?',
}

/** What it probably is, by each key the decision, and what there is to do then. */
export function DecideColumn({
  group,
  member,
  people,
  lookers,
  onTold,
  mayDecide,
  deciding,
  onDecide,
  asks,
  question,
  onAsk,
}: Props) {
  const { likely, because, decision } = group
  const runId = group.runs[0]!.id
  const shareOf = new Map<DecisionKind, number>(likely.map(({ cause, likelihood }) => [cause, likelihood]))
  return (
    <aside aria-label="Decision" className="min-h-0 overflow-auto border-l border-line bg-surface px-4 py-3">
      <h2 className="label mb-1.5">{asks ? HEADS[asks] : 'What is it?'}</h2>
      <p aria-live="polite" className="mb-1.5 text-sm text-recovered-text empty:hidden">
        {lookers.length > 0 && `${lookers.join(', ')} ${lookers.length === 1 ? 'looks' : 'look'} at it too.`}
      </p>
      {decision && (
        <Decided
          decision={decision}
          onTakeBack={mayDecide ? () => void deciding.takeBack([decision.id]) : undefined}
        />
      )}
      {decision?.stands && mayDecide && (
        <div className="mt-1 mb-2 empty:hidden">
          <FollowUp key={decision.id} as={decision.as} group={group} member={member} />
        </div>
      )}
      {question}
      <ul className={asks ? 'hidden' : 'flex flex-col gap-1'}>
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
        The share is proposed by rules and what people decided; it decides nothing.{' '}
        <Link className="underline" href="/triage/proposals">
          How right it was
        </Link>
      </p>
      <Merged group={group} mayDecide={mayDecide} deciding={deciding} />
      <Parted group={group} mayDecide={mayDecide} deciding={deciding} />
      {mayDecide && (
        <GiveTo
          key={`${group.signature} ${group.with?.at ?? ''}`}
          group={group}
          people={people}
          disabled={deciding.busy || asks !== undefined}
          onGive={(person, note) => void deciding.give(group.signature, person, note)}
        />
      )}
      {member.attemptId !== null && (
        <FindOut
          key={group.signature}
          attemptId={member.attemptId}
          signature={group.signature}
          mayStart={mayDecide}
          onTold={onTold}
        />
      )}
      <div className="mt-3 flex flex-wrap gap-2 border-t border-line pt-3">
        {mayDecide && (
          <Link className={buttonLook('main')} href={addressOfDraft(member, runId)}>
            Draft a defect <Key>d</Key>
          </Link>
        )}
        <Link className={buttonLook('plain')} href={addressOfFailure(member, runId)}>
          Read it <Key>o</Key>
        </Link>
        {mayDecide && (
          <>
            <Button keyHint="s" disabled={deciding.busy} onClick={() => onAsk('same')}>
              The same as…
            </Button>
            <Button keyHint="a" disabled={deciding.busy} onClick={() => onAsk('part')}>
              Set a part apart…
            </Button>
          </>
        )}
      </div>
    </aside>
  )
}

/** Causes that people take for this one. */
function Merged({ group, mayDecide, deciding }: Pick<Props, 'group' | 'mayDecide' | 'deciding'>) {
  if (group.merges.length === 0) return null
  return (
    <section aria-label="Taken for this one" className="mt-3 border-t border-line pt-2 text-sm">
      <h3 className="label mb-1">Taken for this one</h3>
      <ul className="flex flex-col gap-1">
        {group.merges.map(({ id, title, by }) => (
          <li key={id}>
            {title} <span className="text-soft">by {by}</span>{' '}
            {mayDecide && (
              <button
                type="button"
                className="underline disabled:opacity-50"
                disabled={deciding.busy}
                onClick={() => void deciding.takeApart(id)}
              >
                take apart
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}

/** Parts that people set apart of it, or what it is a part of. */
function Parted({ group, mayDecide, deciding }: Pick<Props, 'group' | 'mayDecide' | 'deciding'>) {
  if (group.splits.length === 0) return null
  return (
    <section aria-label="Set apart" className="mt-3 border-t border-line pt-2 text-sm">
      <h3 className="label mb-1">Set apart</h3>
      <ul className="flex flex-col gap-1">
        {group.splits.map(({ id, words, title, by, isThis }) => (
          <li key={id}>
            {isThis ? `A part of “${title}”` : `What fails ${words}`}{' '}
            <span className="text-soft">by {by}</span>{' '}
            {mayDecide && (
              <button
                type="button"
                className="underline disabled:opacity-50"
                disabled={deciding.busy}
                onClick={() => void deciding.putBack(id)}
              >
                put back
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
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
