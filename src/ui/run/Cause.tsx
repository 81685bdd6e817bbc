'use client'
import Link from '../base/Link'
import { useEffect, useRef } from 'react'
import { addressOfDraft, addressOfFailure, plural, type RunCauseViewModel } from '@/core/view-models'
import { buttonLook } from '../base/Button'
import { CAUSE_WORDS } from '../triage/decision-words'
import { Decided } from '../triage/Decided'

const [MEMBERS_MOST, MEMBERS_FEW] = [12, 2]

type Props = {
  runId: number
  cause: RunCauseViewModel
  of: number
  isChosen: boolean
  isMarked: boolean
  mayDecide: boolean
  onChoose(): void
  onMark(): void
  onTakeBack(id: number): void
  /** What can be decided of it. */
  children: React.ReactNode
}

/** A cause: what its failures say, where they happen, what it probably is, and what was decided. */
export function Cause(props: Props) {
  const { runId, cause, of, isChosen, isMarked, mayDecide, onChoose, onMark, onTakeBack, children } = props
  const { title, members, cases, environments, places, decision } = cause
  const item = useRef<HTMLLIElement>(null)
  useEffect(() => {
    if (isChosen) item.current?.scrollIntoView({ block: 'nearest' })
  }, [isChosen])
  const most = isChosen ? MEMBERS_MOST : MEMBERS_FEW
  return (
    <li
      ref={item}
      aria-current={isChosen ? 'true' : undefined}
      className={
        'grid grid-cols-[72px_minmax(0,1fr)_minmax(200px,280px)] gap-x-4 border-t border-line py-3 ' +
        `${isChosen ? 'bg-act-wash/50 shadow-[inset_3px_0_0_var(--act)]' : ''}`
      }
    >
      <div className="flex items-start justify-between gap-2 pl-3">
        {mayDecide && (
          <input
            type="checkbox"
            aria-label={`Mark: ${title}`}
            checked={isMarked}
            onChange={onMark}
            className="mt-1.5 accent-[var(--act)]"
          />
        )}
        <p className="ml-auto text-right font-display text-xl tabular-nums">
          {members.length}
          <span className="sr-only"> of {of} failures</span>
        </p>
      </div>
      <div className="min-w-0">
        <h3 className="text-base leading-snug first-letter:uppercase">
          <button
            type="button"
            className="text-left break-words first-letter:uppercase hover:underline"
            onClick={onChoose}
          >
            {title}
          </button>
        </h3>
        <p className="mt-0.5 text-sm text-soft">
          {plural(cases, 'case')} on {environments.failed} of {plural(environments.of, 'environment')}
          {cause.isNew && ', new in this build'}
        </p>
        {places.map((words) => (
          <p key={words} className="mt-0.5 text-sm">
            {words}
          </p>
        ))}
        <ul className="mt-1.5 flex flex-wrap gap-x-4 gap-y-0.5 text-sm">
          {members.slice(0, most).map((member) => (
            <li key={member.id} className="min-w-0">
              <Link className="underline decoration-faint" href={addressOfFailure(member, runId)}>
                {member.title}
              </Link>{' '}
              <span className="text-soft">
                {member.environment}
                {member.row && `, row ${member.row}`}
              </span>
            </li>
          ))}
          {members.length > most && <li className="text-soft">and {members.length - most} more</li>}
        </ul>
      </div>
      <div className="pr-3 text-sm">
        {decision && (
          <Decided decision={decision} onTakeBack={mayDecide ? () => onTakeBack(decision.id) : undefined} />
        )}
        {!decision?.stands && <Likely cause={cause} />}
        {isChosen && (
          <div className="mt-2 flex flex-wrap gap-2">
            <Link className={buttonLook('main')} href={addressOfFailure(members[0]!, runId)}>
              Read the first
            </Link>
            {mayDecide && (
              <Link className={buttonLook('plain')} href={addressOfDraft(members[0]!, runId)}>
                Draft a defect
              </Link>
            )}
          </div>
        )}
      </div>
      <div className="col-start-2 col-end-4 pr-3">{children}</div>
    </li>
  )
}

function Likely({ cause: { likely, because } }: { cause: RunCauseViewModel }) {
  const [best, second] = likely
  return (
    <>
      <p>
        {percent(best!.likelihood)} likely <b className="font-semibold">{CAUSE_WORDS[best!.cause]}</b>
      </p>
      {second && (
        <p className="text-soft">
          then {CAUSE_WORDS[second.cause]}, {percent(second.likelihood)}
        </p>
      )}
      <ul className="mt-1 list-disc pl-4 text-soft">
        {because.map((text) => (
          <li key={text}>{text}</li>
        ))}
      </ul>
    </>
  )
}

const percent = (share: number) => `${Math.round(share * 100)} %`
