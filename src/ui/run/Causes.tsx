'use client'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import Link from 'next/link'
import { parseAsString, useQueryState } from 'nuqs'
import { useEffect, useRef } from 'react'
import type { CauseName } from '@/core/triage'
import { plural, type RunCausesViewModel, type RunCauseViewModel } from '@/core/view-models'
import { api, type ApiProblem } from '../api'
import { buttonLook } from '../base/Button'
import { Problem } from '../base/Parts'
import { useKeys } from '../frame/keys'
import { useFrame } from '../frame/tools'

const CAUSE_WORDS: Record<CauseName, string> = {
  'product-defect': 'a defect of the product',
  'test-fault': 'a fault of the test',
  'environment-fault': 'the environment',
  'test-data': 'test data',
  'intended-change': 'an intended change',
  unclear: 'unclear',
}
const MEMBERS_MOST = 12

/** `failures`: how many there are by now; they are told apart anew when there are others. */
type Props = { runId: number; failures: number; isOpen: boolean; go(address: string): void }

/** The failures of a run by what they say: as many decisions as there are causes, not as there are marks. */
export function Causes({ runId, failures, isOpen, go }: Props) {
  const { data, error } = useCauses(runId, failures)
  const [at, setAt] = useQueryState('cause', parseAsString.withOptions({ history: 'replace' }))
  const { may } = useFrame()
  const causes = data?.causes ?? []
  const index = Math.max(
    0,
    causes.findIndex(({ signature }) => signature === at),
  )
  const chosen = causes[index]
  const move = (by: 1 | -1) => {
    const next = causes[index + by]
    if (next) void setAt(next.signature)
  }
  const first = chosen?.members[0]
  useKeys([
    { key: 'j', what: 'the next cause', off: causes.length < 2, run: () => move(1) },
    { key: 'k', what: 'the cause before', off: causes.length < 2, run: () => move(-1) },
    {
      key: 'o',
      what: 'read its first failure',
      off: !first,
      run: () => go(`/attempts/${first!.attemptId}`),
    },
  ])
  if (error) return <Problem>{error.message}</Problem>
  if (!data) return <div className="m-[18px] h-40 animate-pulse rounded-oak bg-line/40" />
  if (causes.length === 0)
    return (
      <p className="px-[18px] py-4 text-soft">
        {isOpen ? 'Nothing has failed so far.' : 'Nothing failed: there is nothing to decide.'}
      </p>
    )
  return (
    <div className="min-h-0 overflow-auto px-[18px] py-3">
      <p className="mb-2 text-sm text-soft">
        {plural(data.of, 'failure')}, {plural(causes.length, 'cause')} by what they say.
        {data.looked < data.of && ` Only the first ${data.looked} were looked at.`} What each probably is, is
        proposed by rules; nobody has decided it.
      </p>
      <ol className="flex flex-col">
        {causes.map((one) => (
          <Cause
            key={one.signature}
            cause={one}
            of={data.of}
            isChosen={one === chosen}
            mayDraft={may('tester')}
            onChoose={() => void setAt(one.signature)}
          />
        ))}
      </ol>
    </div>
  )
}

function useCauses(runId: number, failures: number) {
  const url = `/api/runs/${runId}/causes`
  return useQuery<RunCausesViewModel, ApiProblem>({
    queryKey: [url, failures],
    queryFn: () => api(url),
    placeholderData: keepPreviousData,
  })
}

type CauseProps = {
  cause: RunCauseViewModel
  of: number
  isChosen: boolean
  mayDraft: boolean
  onChoose(): void
}

function Cause({ cause, of, isChosen, mayDraft, onChoose }: CauseProps) {
  const { title, members, cases, environments, likely, because, places } = cause
  const item = useRef<HTMLLIElement>(null)
  useEffect(() => {
    if (isChosen) item.current?.scrollIntoView({ block: 'nearest' })
  }, [isChosen])
  const [best, second] = likely
  return (
    <li
      ref={item}
      aria-current={isChosen ? 'true' : undefined}
      className={`grid grid-cols-[56px_minmax(0,1fr)_minmax(200px,280px)] gap-x-4 border-t border-line py-3 ${isChosen ? 'bg-act-wash/50 shadow-[inset_3px_0_0_var(--act)]' : ''}`}
    >
      <p className="pl-3 text-right font-display text-xl tabular-nums">
        {members.length}
        <span className="sr-only"> of {of} failures</span>
      </p>
      <div className="min-w-0">
        <h2 className="text-base leading-snug first-letter:uppercase">
          <button
            type="button"
            className="text-left break-words first-letter:uppercase hover:underline"
            onClick={onChoose}
          >
            {title}
          </button>
        </h2>
        <p className="mt-0.5 text-sm text-soft">
          {plural(cases, 'case')} on {environments.failed} of {plural(environments.of, 'environment')}
        </p>
        {places.map((words) => (
          <p key={words} className="mt-0.5 text-sm">
            {words}
          </p>
        ))}
        <ul className="mt-1.5 flex flex-wrap gap-x-4 gap-y-0.5 text-sm">
          {(isChosen ? members.slice(0, MEMBERS_MOST) : members.slice(0, 2)).map((member) => (
            <li key={member.id} className="min-w-0">
              <Link className="underline decoration-faint" href={`/attempts/${member.attemptId}`}>
                {member.title}
              </Link>{' '}
              <span className="text-soft">
                {member.environment}
                {member.row && `, row ${member.row}`}
              </span>
            </li>
          ))}
          {members.length > (isChosen ? MEMBERS_MOST : 2) && (
            <li className="text-soft">and {members.length - (isChosen ? MEMBERS_MOST : 2)} more</li>
          )}
        </ul>
      </div>
      <div className="pr-3 text-sm">
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
        {isChosen && (
          <div className="mt-2 flex flex-wrap gap-2">
            <Link className={buttonLook('main')} href={`/attempts/${members[0]!.attemptId}`}>
              Read the first
            </Link>
            {mayDraft && (
              <Link className={buttonLook('plain')} href={`/attempts/${members[0]!.attemptId}?draft=1`}>
                Draft a defect
              </Link>
            )}
          </div>
        )}
      </div>
    </li>
  )
}

const percent = (share: number) => `${Math.round(share * 100)} %`
