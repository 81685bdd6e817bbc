'use client'
import dynamic from 'next/dynamic'
import Link from '../base/Link'
import { useState } from 'react'
import { toast } from 'sonner'
import type { Mend } from '@/core/execution'
import type { DecisionKind } from '@/core/triage'
import { addressOfDraft, type FleetViewModel, type TriageGroup } from '@/core/view-models'
import { api, useViewModel } from '../api'
import { useAsking } from '../asking'
import { Button, buttonLook } from '../base/Button'
import { Problem } from '../base/Parts'
import { useFrame } from '../frame/tools'

const AdoptDialog = dynamic(() => import('../reader/AdoptDialog').then((all) => all.AdoptDialog), {
  ssr: false,
})

type Member = TriageGroup['members'][number]
type MemberHere = Member & { attemptId: string }

/** What there is to do once it is decided what a cause is. */
export function FollowUp({ as, group, member }: { as: DecisionKind; group: TriageGroup; member: Member }) {
  switch (as) {
    case 'product-defect':
      return (
        <Link className={buttonLook('plain')} href={addressOfDraft(member, group.runs[0]!.id)}>
          Draft the defect
        </Link>
      )
    case 'test-fault':
    case 'test-data':
      return isHere(member) ? (
        <>
          <OpenCase member={member} />
          <Adopt member={member} />
          <Mends member={member} />
        </>
      ) : null
    case 'intended-change':
      return isHere(member) ? <Adopt member={member} /> : null
    case 'environment-fault':
      return <Drain group={group} />
    default:
      return null
  }
}

/** What was taken in from a result file was carried out elsewhere: there is no case of it here. */
const isHere = (member: Member): member is MemberHere => member.attemptId !== null

const OpenCase = ({ member: { caseKey, path } }: { member: MemberHere }) => (
  <Link
    className={buttonLook('plain')}
    href={`/cases/${caseKey}${path ? `?step=${encodeURIComponent(path)}` : ''}`}
  >
    {path ? 'Open the case at the step' : 'Open the case'}
  </Link>
)

/** Targets that were found by another way than their first: what the log would mend, at the step. */
function Mends({ member: { attemptId, caseKey } }: { member: MemberHere }) {
  const { data = [] } = useViewModel<Mend[]>(`/api/attempts/${attemptId}/mends`, [])
  if (data.length === 0) return null
  return (
    <section aria-label="To mend, by its log" className="mt-2 text-sm">
      <h3 className="label mb-1">To mend, by its log</h3>
      <ul className="flex flex-col gap-1">
        {data.map(({ path, words, note }) => (
          <li key={path}>
            <Link
              className="font-mono text-xs underline"
              href={`/cases/${caseKey}?step=${encodeURIComponent(path)}`}
            >
              {words}
            </Link>{' '}
            <span className="text-soft">{note}</span>
          </li>
        ))}
      </ul>
    </section>
  )
}

/** What the failed checks of the cause found becomes what they expect. */
function Adopt({ member: { attemptId, kind, path } }: { member: MemberHere }) {
  // what is asked stays as it is: other failures of the cause may come meanwhile
  const [asked, setAsked] = useState<{ attemptId: string; path: string }>()
  if ((!path || kind !== 'check') && !asked) return null
  return (
    <>
      <Button disabled={!path} onClick={() => path && setAsked({ attemptId, path })}>
        Adopt what was found…
      </Button>
      {asked && <AdoptDialog {...asked} usual="cause" onClose={() => setAsked(undefined)} />}
    </>
  )
}

/** An agent that all failures have in common gets no new work. */
function Drain({ group: { members, runs } }: { group: TriageGroup }) {
  const { may } = useFrame()
  const { problem, busy, ask } = useAsking()
  const [agent, ...others] = [...new Set(members.map((one) => one.agent))]
  const areAll = members.length >= (runs[0]?.failures ?? 0)
  if (agent === undefined || agent === '' || others.length > 0 || !areAll || !may('coordinator')) return null
  const drain = async () => {
    const { agents } = await api<FleetViewModel>('/api/fleet')
    const found = agents.find(({ name }) => name === agent)
    if (!found) throw new Error(`${agent} is not in the fleet any more.`)
    await api(`/api/fleet/${found.id}/drain`, { method: 'POST', body: { draining: true } })
    toast(`${agent} finishes what it has, and gets nothing new until that is taken back in Fleet`)
  }
  return (
    <>
      <Button disabled={busy} onClick={() => void ask(drain)}>
        Drain {agent}
      </Button>
      {problem && <Problem>{problem}</Problem>}
    </>
  )
}
