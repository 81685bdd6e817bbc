'use client'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { parseAsString, useQueryState } from 'nuqs'
import { useRef, useState } from 'react'
import type { DecisionKind } from '@/core/triage'
import { addressOfFailure, plural, type RunCausesViewModel, type RunCauseViewModel } from '@/core/view-models'
import { api, type ApiProblem } from '../api'
import { Problem } from '../base/Parts'
import { useShown } from '../base/useShown'
import { useKeys } from '../frame/keys'
import { useFrame } from '../frame/tools'
import { Decide } from '../triage/Decide'
import { DECISION_KEYS, DECISION_WORDS } from '../triage/decision-words'
import { useCursor } from '../triage/useCursor'
import { isDecided, nextWaiting, useDeciding } from '../triage/useDeciding'
import { Cause } from './Cause'

/** `failures`: how many there are by now; they are told apart anew when there are others. */
type Props = { runId: number; failures: number; isOpen: boolean; go(address: string): void }

/** The failures of a run by what they say: as many decisions as there are causes, not as there are marks. */
export function Causes({ runId, failures, isOpen, go }: Props) {
  const { data, error, refetch } = useCauses(runId, failures)
  const [at, setAt] = useQueryState('cause', parseAsString.withOptions({ history: 'replace' }))
  const { may } = useFrame()
  const [marked, setMarked] = useState<ReadonlySet<string>>(new Set())
  // keys may come faster than marks are drawn
  const marks = useRef(marked)
  const putMarks = (next: ReadonlySet<string>) => {
    marks.current = next
    setMarked(next)
  }
  const deciding = useDeciding(refetch)
  const { problem, busy, takeBack } = deciding
  const causes = data?.causes ?? []
  const chosen = useShown(String(runId), causes, ({ signature }) => signature, at)
  const cursor = useCursor(
    causes,
    ({ signature }) => signature,
    chosen,
    ({ signature }) => void setAt(signature),
  )
  const mayDecide = may('tester') && !busy
  const isMarked = ({ signature }: RunCauseViewModel) => marks.current.has(signature)

  const decide = (as: DecisionKind) => {
    const at = cursor.at()
    const meant = causes.some(isMarked) ? causes.filter(isMarked) : causes.slice(at, at + 1)
    const next = nextWaiting(causes, at, meant)
    return deciding.decide(runId, as, meant, () => {
      putMarks(new Set())
      cursor.choose(next)
    })
  }
  const mark = (cause: RunCauseViewModel | undefined) => {
    if (!cause) return
    const { signature } = cause
    const others = [...marks.current].filter((one) => one !== signature)
    putMarks(new Set(isMarked(cause) ? others : [...others, signature]))
  }
  const takeBackOf = (cause: RunCauseViewModel | undefined) =>
    cause?.decision && void takeBack([cause.decision.id])
  useKeys([
    { key: 'j', what: 'the next cause', off: causes.length < 2, run: () => cursor.move(1) },
    { key: 'k', what: 'the cause before', off: causes.length < 2, run: () => cursor.move(-1) },
    {
      key: 'o',
      what: 'read its first failure',
      off: !chosen,
      run: () => go(addressOfFailure(cursor.current()!.members[0]!, runId)),
    },
    {
      key: 'v',
      what: 'mark it, to decide several at once',
      off: !mayDecide || !chosen,
      run: () => mark(cursor.current()),
    },
    ...DECISION_KEYS.map(({ as, key }) => ({
      key,
      what: `decide: ${DECISION_WORDS[as]}`,
      off: !mayDecide || !chosen,
      run: () => void decide(as),
    })),
    {
      key: 'z',
      what: 'take its decision back',
      off: !mayDecide || !chosen,
      run: () => takeBackOf(cursor.current()),
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
  const [waiting, decided] = [causes.filter((one) => !isDecided(one)), causes.filter(isDecided)]
  const item = (one: RunCauseViewModel) => (
    <Cause
      key={one.signature}
      runId={runId}
      cause={one}
      of={data.of}
      isChosen={one === chosen}
      isMarked={marked.has(one.signature)}
      mayDecide={may('tester')}
      onChoose={() => cursor.choose(one)}
      onMark={() => mark(one)}
      onTakeBack={(id) => void takeBack([id])}
    >
      {one === chosen && may('tester') && (
        <Decide
          of={Math.max(1, marked.size)}
          note={deciding.note}
          busy={busy}
          onNote={deciding.setNote}
          onDecide={(as) => void decide(as)}
        />
      )}
    </Cause>
  )
  return (
    <div className="min-h-0 overflow-auto px-[18px] py-3">
      <p className="mb-2 text-sm text-soft">
        {plural(data.of, 'failure')}, {plural(causes.length, 'cause')} by what they say.
        {data.looked < data.of && ` Only the first ${data.looked} were looked at.`} What each probably is, is
        proposed by rules{data.learntFrom > 0 && ` and ${plural(data.learntFrom, 'decision')} of people`}.
      </p>
      {problem && <Problem>{problem}</Problem>}
      <h2 className="label mt-3 mb-1">
        {waiting.length > 0 ? `To decide: ${waiting.length}` : 'All are decided'}
      </h2>
      <ol className="flex flex-col" aria-label="Causes to decide">
        {waiting.map(item)}
      </ol>
      {decided.length > 0 && (
        <>
          <h2 className="label mt-5 mb-1">Decided: {decided.length}</h2>
          <ol className="flex flex-col" aria-label="Decided causes">
            {decided.map(item)}
          </ol>
        </>
      )}
    </div>
  )
}

function useCauses(runId: number, failures: number) {
  const url = `/api/runs/${runId}/causes`
  return useQuery<RunCausesViewModel, ApiProblem>({
    queryKey: [url, failures],
    queryFn: () => api(url),
    placeholderData: keepPreviousData,
    meta: { topics: ['triage'] },
  })
}
