'use client'
import Link from '../base/Link'
import dynamic from 'next/dynamic'
import { useEffect, useRef, useState } from 'react'
import type { Arm } from '@/core/triage'
import type { ExperimentsViewModel, ExperimentViewModel } from '@/core/view-models'
import { useViewModel } from '../api'
import { Button } from '../base/Button'
import { Ago } from '../base/Time'
import { useKeys } from '../frame/keys'
import { CAUSE_WORDS } from './decision-words'

const PlanRuns = dynamic(() => import('./PlanRuns').then((all) => all.PlanRuns), { ssr: false })

type Plan = NonNullable<ExperimentsViewModel['plan']>

const ARM_WORDS: Record<Arm, string> = {
  again: 'the same again',
  before: 'with the build that was good',
  elsewhere: 'where it was good',
}

/** Runs that tell what a cause is: those that were made, and new ones. */
export function FindOut({
  attemptId,
  signature,
  mayStart,
  onTold,
}: {
  attemptId: string
  signature: string
  mayStart: boolean
  /** Runs have told something that was not told before. */
  onTold(): void
}) {
  // what is asked stays as it is: other failures of the cause may come meanwhile
  const [asked, setAsked] = useState<{ path: string; plan: Plan }>()
  const path = `/api/attempts/${attemptId}/experiments`
  const { data } = useViewModel<ExperimentsViewModel>(`${path}?cause=${encodeURIComponent(signature)}`, [
    'triage',
    'run',
  ])
  const told = data?.past.filter((one) => one.told !== null).length
  const known = useRef(told)
  useEffect(() => {
    if (known.current !== undefined && told !== undefined && told > known.current) onTold()
    known.current = told ?? known.current
  }, [told, onTold])
  const plan = data?.plan
  const canStart = mayStart && Boolean(plan)
  const ask = () => plan && setAsked({ path, plan })
  useKeys([{ key: 'r', what: 'run again to find out', off: !canStart, run: ask }])
  if (!asked && (!data || (!canStart && data.past.length === 0))) return null
  return (
    <section aria-label="Run again to find out" className="mt-3 border-t border-line pt-2 text-sm">
      <h3 className="label mb-1">Run again to find out</h3>
      <ul className="flex flex-col gap-2">
        {data?.past.map((one) => (
          <li key={one.id}>
            <Made experiment={one} />
          </li>
        ))}
      </ul>
      {canStart && (
        <Button className="mt-1" keyHint="r" onClick={ask}>
          {data?.past.length === 0 ? 'Which runs would tell…' : 'Once more…'}
        </Button>
      )}
      {asked && <PlanRuns {...asked} signature={signature} onClose={() => setAsked(undefined)} />}
    </section>
  )
}

function Made({ experiment: { arms, by, at, told, build } }: { experiment: ExperimentViewModel }) {
  const open = arms.reduce((sum, one) => sum + one.open, 0)
  const all = arms.reduce((sum, { times }) => sum + times, 0)
  const [first] = told ?? []
  return (
    <>
      <p>
        {first ? (
          <>
            <b className="inline-block font-semibold first-letter:uppercase">{CAUSE_WORDS[first.cause]}</b>:{' '}
            {percent(first.before)} before, {percent(first.after)} now
          </>
        ) : (
          `${open} of ${all} runs to come`
        )}
      </p>
      <ul className="text-soft">
        {arms.map((arm) => (
          <li key={arm.arm}>
            <Link className="underline decoration-faint" href={`/runs/${arm.runId}`}>
              {ARM_WORDS[arm.arm]}
            </Link>
            , {arm.environment}
            {arm.build !== build && `, build ${arm.build}`}: {countWords(arm)}
          </li>
        ))}
        <li>
          {by}, <Ago at={at} />
        </li>
      </ul>
    </>
  )
}

const percent = (share: number): string => `${Math.round(share * 100)} %`

function countWords({ passed, failed, other, open }: ExperimentViewModel['arms'][number]): string {
  const words = [
    `${failed} of ${passed + failed} failed`,
    other > 0 && `${other} neither`,
    open > 0 && `${open} to come`,
  ]
  return words.filter(Boolean).join(', ')
}
