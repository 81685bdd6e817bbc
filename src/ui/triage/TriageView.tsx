'use client'
import Link from '../base/Link'
import { useRouter } from '../base/opening'
import { useCallback, useState } from 'react'
import { parseAsBoolean, parseAsInteger, parseAsString, useQueryStates } from 'nuqs'
import { describeDuration } from '@/core/model'
import type { DecisionKind } from '@/core/triage'
import {
  addressOfDraft,
  addressOfFailure,
  plural,
  TRIAGE_DAYS,
  type TriageViewModel,
} from '@/core/view-models'
import { useViewModel } from '../api'
import { Button } from '../base/Button'
import { Empty, Problem, TitleLine } from '../base/Parts'
import { Select } from '../base/fields'
import { useShown } from '../base/useShown'
import { useKeys } from '../frame/keys'
import { useFrame } from '../frame/tools'
import { DecideColumn, type Asked } from './DecideColumn'
import { DECISION_KEYS, DECISION_WORDS } from './decision-words'
import { FailureBeside } from './FailureBeside'
import { Groups } from './Groups'
import { Question } from './Question'
import { useCursor } from './useCursor'
import { isDecided, nextWaiting, useDeciding } from './useDeciding'
import { useLookers } from './useLookers'

const DAY_WORDS: Record<(typeof TRIAGE_DAYS)[number], string> = {
  1: 'one day',
  2: 'two days',
  7: 'a week',
  14: 'two weeks',
}
const DAYS = TRIAGE_DAYS.toSorted((a, b) => a - b).map((days) => ({
  value: String(days),
  label: DAY_WORDS[days],
}))

/** The causes of failures of some days: what there is to decide, one after the other. */
export function TriageView({ initial }: { initial: TriageViewModel }) {
  const [at, setAt] = useQueryStates(
    {
      days: parseAsInteger.withDefault(TRIAGE_DAYS[0]),
      cause: parseAsString,
      member: parseAsInteger.withDefault(0),
      mine: parseAsBoolean.withDefault(false),
    },
    { history: 'replace' },
  )
  const isFirst = at.days === initial.days
  const { data, refetch } = useViewModel<TriageViewModel>(
    `/api/triage?days=${at.days}`,
    ['triage'],
    isFirst ? initial : undefined,
  )
  const readAgain = useCallback(() => void refetch(), [refetch])
  const { may, person } = useFrame()
  const router = useRouter()
  const all = data?.groups ?? []
  const mine = all.filter((one) => one.with?.person === person.name)
  const groups = at.mine ? mine : all
  const group = useShown(`${at.days} ${at.mine}`, groups, ({ signature }) => signature, at.cause)
  const deciding = useDeciding(refetch, group?.signature)
  const cursor = useCursor(
    groups,
    ({ signature }) => signature,
    group,
    ({ signature }) => void setAt({ cause: signature, member: 0 }),
  )
  const members = group?.members ?? []
  const member = members[at.member] ?? members[0]
  const walker = useCursor(
    members,
    ({ id }) => id,
    member,
    (one) => void setAt({ cause: group!.signature, member: members.indexOf(one) }),
  )
  const lookers = useLookers(group?.signature, person.name)
  const mayDecide = may('tester') && !deciding.busy && group !== undefined

  /** The failure that is looked at; of a cause that was chosen just now its first. */
  const attempt = () => {
    const now = cursor.current()
    return now === group ? walker.current() : now?.members[0]
  }
  const runOf = () => cursor.current()!.runs[0]!.id
  const [asked, setAsked] = useState<{ what: Asked; of: string }>()
  const asks = asked !== undefined && asked.of === group?.signature ? asked.what : undefined
  const ask = (what: Asked) => {
    const now = cursor.current()
    if (now) setAsked({ what, of: now.signature })
  }
  const back = () => setAsked(undefined)
  const decide = (as: DecisionKind, defectId?: number) => {
    const now = cursor.current()
    if (!now) return
    const next = nextWaiting(groups, cursor.at(), [now])
    void deciding.decide(now.runs[0]!.id, as, [now], () => cursor.choose(next), defectId)
    back()
  }
  const choose = (as: DecisionKind) => (as === 'known-defect' ? ask('known') : decide(as))
  const takeBack = () => {
    const decision = cursor.current()?.decision
    if (decision) void deciding.takeBack([decision.id])
  }
  useKeys([
    { key: 'j', what: 'the next cause', off: groups.length < 2, run: () => cursor.move(1) },
    { key: 'k', what: 'the cause before', off: groups.length < 2, run: () => cursor.move(-1) },
    { key: '.', what: 'its next failure', off: !group, run: () => walker.move(1) },
    { key: ',', what: 'its failure before', off: !group, run: () => walker.move(-1) },
    {
      key: 'o',
      what: 'read the failure',
      off: !member,
      run: () => router.push(addressOfFailure(attempt()!, runOf())),
    },
    {
      key: 'd',
      what: 'draft a defect of it',
      off: !member || !may('tester'),
      run: () => router.push(addressOfDraft(attempt()!, runOf())),
    },
    ...DECISION_KEYS.map(({ as, key }) => ({
      key,
      what: `decide: ${DECISION_WORDS[as]}`,
      off: !mayDecide || asks !== undefined,
      run: () => choose(as),
    })),
    {
      key: 's',
      what: 'it is the same as another cause',
      off: !mayDecide || groups.length < 2,
      run: () => ask('same'),
    },
    { key: 'a', what: 'set a part of it apart', off: !mayDecide, run: () => ask('part') },
    {
      key: 'z',
      what: 'take its decision back',
      off: !mayDecide,
      run: takeBack,
    },
  ])
  const question = group && asks && (
    <Question
      asks={asks}
      group={group}
      groups={groups}
      disabled={!mayDecide}
      onKnown={(defectId) => decide('known-defect', defectId)}
      onSame={(other) => {
        back()
        void deciding.merge(group, other)
      }}
      onPart={(part) => {
        back()
        void deciding.setApart(group, part, (signature) => void setAt({ cause: signature, member: 0 }))
      }}
      onClose={back}
    />
  )
  return (
    <>
      <TitleLine title="Triage" facts={data && factsOf(data)}>
        {data && (
          <Link href="/triage/measures" className="text-sm whitespace-nowrap text-soft underline">
            {latelyWords(data.lately)}
          </Link>
        )}
        {(mine.length > 0 || at.mine) && (
          <Button
            look="quiet"
            aria-pressed={at.mine}
            className="aria-pressed:bg-act-wash"
            onClick={() => void setAt({ mine: at.mine ? null : true, cause: null, member: 0 })}
          >
            Mine: {mine.length}
          </Button>
        )}
        <label className="flex items-center gap-2 text-sm whitespace-nowrap text-soft">
          Runs of
          <Select
            value={String(at.days)}
            choices={DAYS}
            onChange={({ target }) => void setAt({ days: Number(target.value), cause: null, member: 0 })}
          />
        </label>
      </TitleLine>
      {data && !group && at.mine && (
        <Empty title="Nothing is with you">What others give you to decide stands here.</Empty>
      )}
      {data && !group && !at.mine && (
        <Empty title="Nothing failed">
          In the runs of these days nothing failed{data.pending > 0 && ' that has been looked at so far'}.
          When something does, its failures stand here by their cause, and each cause is decided once.
        </Empty>
      )}
      {group && member && (
        <div className="grid min-h-0 flex-1 grid-cols-[286px_minmax(0,1fr)_304px]">
          <Groups groups={groups} chosen={group} lookers={lookers} onChoose={cursor.choose} />
          <main className="min-h-0 overflow-auto px-[18px] py-3">
            {deciding.problem && <Problem>{deciding.problem}</Problem>}
            <FailureBeside
              group={group}
              member={member}
              onMember={(next) => void setAt({ cause: group.signature, member: next })}
            />
          </main>
          <DecideColumn
            group={group}
            member={member}
            people={data!.people}
            lookers={lookers.get(group.signature) ?? []}
            onTold={readAgain}
            mayDecide={may('tester')}
            deciding={deciding}
            onDecide={choose}
            asks={asks}
            question={question}
            onAsk={ask}
          />
        </div>
      )}
    </>
  )
}

const latelyWords = ({ decided, afterMs }: TriageViewModel['lately']): string =>
  decided === 0
    ? 'How the work goes'
    : `${decided} decided this ` +
      `week${afterMs === null ? '' : `, half of them within ${describeDuration(afterMs)} of the run`}`

function factsOf({ groups, pending }: TriageViewModel): string {
  const failures = groups.reduce((sum, one) => sum + one.failures, 0)
  const waiting = groups.filter((one) => !isDecided(one)).length
  return [
    `${plural(groups.length, 'cause')} of ${plural(failures, 'failure')}`,
    waiting === 0 && groups.length > 0 ? 'all are decided' : `${waiting} to decide`,
    pending > 0 && `${plural(pending, 'run')} not looked at yet`,
  ]
    .filter(Boolean)
    .join('; ')
}
