/** What waits for people, as Now tells it. */
import {
  plural,
  TRACKER_SAID_FIXED,
  type RotaViewModel,
  type TriageViewModel,
  type WaitingItem,
} from '@/core/view-models'
import type { AgentViewModel } from '@/db/agents'
import type { newlyFailing } from '@/db/case-history'
import { openDefectsOfCases, type listDefects } from '@/db/defects'
import type { listRepositories } from '@/db/definitions'
import { openGuidedPeople } from '@/db/guided'
import type { RunViewModel } from '@/db/runs'
import type { Context } from '../context'
import { quotaWarning } from '../evidence'
import { readDays, triageViewModel } from '../triage'

const and = new Intl.ListFormat('en-GB')

/** Cases that wait for people, whoever has them. */
function guidedItem(people: Awaited<ReturnType<typeof openGuidedPeople>>): WaitingItem | undefined {
  const count = people.reduce((sum, one) => sum + one.count, 0)
  if (count === 0) return undefined
  return {
    id: 'guided',
    mark: 'waiting',
    title: `${plural(count, 'case')} to be done by hand`,
    why: people.map((one) => `${one.person || 'nobody yet'} ${one.count}`).join(', '),
    action: 'See whose',
    href: '/guided',
    area: 'By hand',
  }
}

/** Failures that nobody has decided: by their causes. */
function triageItem({ days, groups }: TriageViewModel): WaitingItem | undefined {
  const waiting = groups.filter(({ decision }) => !decision?.stands)
  if (waiting.length === 0) return undefined
  const failures = waiting.reduce((sum, one) => sum + one.failures, 0)
  return {
    id: 'triage',
    mark: 'failed',
    title: `${plural(waiting.length, 'cause')} to be decided`,
    why: `${plural(failures, 'failure')} of the last ${days} days`,
    action: 'Decide',
    href: '/triage',
    area: 'Triage',
  }
}

/** Defects that somebody says are mended: nobody has confirmed it. */
function saidFixedItem(defects: WaitingFacts['defects']): WaitingItem | undefined {
  const said = defects.filter(({ trackerState }) => trackerState === TRACKER_SAID_FIXED)
  if (said.length === 0) return undefined
  return {
    id: 'said-fixed',
    mark: 'waiting',
    title: `${plural(said.length, 'defect')} said to be fixed`,
    why: said
      .slice(0, 3)
      .map(({ trackerNumber, title }) => `${trackerNumber} ${title}`)
      .join('; '),
    action: 'Confirm',
    href: `/defects?words=${encodeURIComponent(TRACKER_SAID_FIXED)}`,
    area: 'Defects',
  }
}

type WaitingFacts = {
  last: RunViewModel | undefined
  fresh: Awaited<ReturnType<typeof newlyFailing>>['cases']
  agents: AgentViewModel[]
  repositories: Awaited<ReturnType<typeof listRepositories>>
  defects: Awaited<ReturnType<typeof listDefects>>
  rota: RotaViewModel
}

/** What a person should look at, most urgent first: new failures nobody has logged, what keeps work from
 * going on, what is stuck. */
export async function waitingItems(
  ctx: Context,
  { last, fresh, agents, repositories, defects, rota }: WaitingFacts,
): Promise<WaitingItem[]> {
  const logged = new Set(
    (
      await openDefectsOfCases(
        ctx.db,
        fresh.map(({ caseKey }) => caseKey),
      )
    ).map(({ caseKey }) => caseKey),
  )
  const items: WaitingItem[] = fresh
    .filter(({ caseKey }) => !logged.has(caseKey))
    .map(({ title, caseKey, attemptId, environments, ofEnvironments }) => ({
      id: `failure-${caseKey}`,
      mark: 'failed',
      title,
      // what was made elsewhere, or was never begun, has no attempt to read
      ...(attemptId === null
        ? { action: 'See the run', href: `/runs/${last!.id}?only=failed` }
        : { action: 'Read the failure', href: `/attempts/${attemptId}` }),
      area: last?.title ?? '',
      why: `${environments} of ${plural(ofEnvironments, 'environment')}, new with ${last?.build}`,
    }))
  for (const repository of repositories.filter(({ problems }) => problems.length > 0)) {
    items.push({
      id: `repository-${repository.id}`,
      mark: 'errored',
      title: `${plural(repository.problems.length, 'problem')} in ${repository.name}`,
      why: `${repository.problems[0]!.file}: ${repository.problems[0]!.message}`,
      action: 'See the files',
      href: '/suites?show=problems',
      area: 'Suites',
    })
  }
  const lost = agents.filter(({ alive }) => !alive)
  if (lost.length > 0) {
    items.push({
      id: 'agents',
      mark: 'errored',
      title: `${plural(lost.length, 'agent')} not heard from`,
      why: lost
        .slice(0, 4)
        .map(({ name }) => name)
        .join(', '),
      action: 'Look',
      href: '/fleet',
      area: 'Fleet',
    })
  }
  const byHand = guidedItem(await openGuidedPeople(ctx.db))
  if (byHand) items.push(byHand)
  const used = await quotaWarning(ctx)
  if (used !== undefined) {
    items.push({
      id: 'evidence',
      mark: used >= 1 ? 'errored' : 'paused',
      title: used >= 1 ? 'There is no room left for evidence' : 'Evidence will soon fill its room',
      why: `${Math.round(used * 100)} % of what may be kept`,
      action: 'See what goes when',
      href: '/settings?part=retention',
      area: 'Settings',
    })
  }
  const soon = Date.parse(rota.to)
  for (const { key, title, next, problem } of rota.rotations) {
    if (problem === undefined || next === null || Date.parse(next) > soon) continue
    items.push({
      id: `rotation-${key}`,
      mark: 'errored',
      title: `${title} will not start as it should`,
      why: problem,
      action: 'Mend it',
      href: `/rotations/${key}`,
      area: 'Rota',
    })
  }
  for (const { ids, pool, need, have } of rota.clashes) {
    const starts = rota.occurrences.filter(({ id }) => ids.includes(id))
    const last = ids.at(-1)!
    items.push({
      id: `clash-${ids.join()}`,
      mark: 'paused',
      title: `${and.format(starts.map(({ title }) => title))} clash`,
      why: `${need} seats of ${pool} wanted, ${have} there`,
      action: 'Mend it',
      href: `/rota?view=day&start=${encodeURIComponent(last)}&day=${last.split('@')[1]!.slice(0, 10)}`,
      area: 'Rota',
    })
  }
  const saidFixed = saidFixedItem(defects)
  if (saidFixed) items.push(saidFixed)
  for (const defect of defects.filter(({ state, sendProblem }) => state === 'to-send' && sendProblem)) {
    items.push({
      id: `defect-${defect.id}`,
      mark: 'waiting',
      title: defect.title,
      why: `kept here: ${defect.sendProblem}`,
      action: 'See the defect',
      href: `/defects?id=${defect.id}`,
      area: 'Defects',
    })
  }
  for (const defect of defects.filter(({ state }) => state === 'draft')) {
    items.push({
      id: `draft-${defect.id}`,
      mark: 'paused',
      title: defect.title,
      why: `a draft by ${defect.createdBy}, not sent`,
      action: 'Finish it',
      href: `/defects?id=${defect.id}`,
      area: 'Defects',
    })
  }
  const toDecide = triageItem(await triageViewModel(ctx, readDays(null)))
  return toDecide ? [toDecide, ...items] : items
}
