/** From what was chosen to the case runs of a run, and to the snapshot that holds all they need. */
import { randomBytes } from 'node:crypto'
import {
  pausedMs,
  PRIORITIES,
  stepsOfCase,
  walkSteps,
  type FlatItem,
  type PolicyUse,
  type RecoveryPolicy,
  type Routine,
  type Step,
  type TestCase,
} from '@/core/model'
import type { Outlook, OutlookBasis } from '@/core/rota'
import type { NewCaseRun } from '@/db/runs'
import type { RunSnapshot } from '@/db/schema'
import type { Loaded } from '../definitions'
import type { StartRequest } from './request'

/** What stands before all comes first, what stands after all last, whatever the plan says of the rest. */
const PHASES = { before: -1, main: 0, after: 1 }

/** The cases the items need, those of before and after all, and the routines they need, and so on. */
export function freeze(
  items: readonly FlatItem[],
  once: readonly TestCase[],
  library: Pick<Loaded, 'case' | 'routines' | 'policies'>,
  outer: readonly PolicyUse[],
): Pick<RunSnapshot, 'cases' | 'routines' | 'policies'> {
  const cases: Record<string, TestCase> = {}
  const routines: Record<string, Routine> = {}
  const policies: Record<string, RecoveryPolicy> = {}
  const addRoutine = (key: string | undefined) => {
    const routine = key === undefined || routines[key] ? undefined : library.routines.get(key)
    if (!routine) return // a missing one is named when the step runs
    routines[routine.key] = routine
    visit(stepsOfCase(routine))
  }
  const visit = (steps: Iterable<Step>) => {
    for (const step of steps) if (step.verb === 'use') addRoutine(step.routine)
  }
  const add = (testCase: TestCase | undefined) => {
    if (!testCase || cases[testCase.key]) return
    cases[testCase.key] = testCase
    addRoutine(testCase.entry)
    visit(stepsOfCase(testCase))
  }
  for (const { caseKey } of items) add(library.case(caseKey))
  once.forEach(add)
  for (const { policy: key } of [...items.flatMap((item) => item.policies), ...outer]) {
    const policy = policies[key] ? undefined : library.policies.get(key)
    if (!policy) continue
    policies[key] = policy
    visit(walkSteps(policy.rules.flatMap((rule) => rule.do)))
  }
  return { cases, routines, policies }
}

/** One case run a piece of the plan, in the order of the suite.
 * @param outer policies of the rotation and the workspace, after those of cases and suites
 * What can be placed nowhere is laid out as skipped, with the reason. */
export function layOut(
  items: readonly FlatItem[],
  snapshot: RunSnapshot,
  request: StartRequest,
  basis: OutlookBasis,
  found: Outlook,
  { outer, quarantined }: { outer: readonly PolicyUse[]; quarantined: ReadonlySet<string> },
): NewCaseRun[] {
  const { places, reasons } = placesOf(found)
  // In sequence, one seat does one thing after the other: whatever is run holds the same name alone.
  const seat =
    request.where?.spread === 'sequence' ? [`the seat of ${randomBytes(9).toString('base64url')}`] : []
  const isFixed = request.where !== undefined && request.where.spread !== 'split'
  const everywhere = request.where?.spread === 'everywhere'
  const offset = basis.items[0]?.phase === 'before' ? 1 : 0
  return basis.items.flatMap(({ case: caseKey, title, phase, roles = [] }, place): NewCaseRun[] => {
    const testCase = snapshot.cases[caseKey]!
    const item = phase ? undefined : items[place - offset]!
    const environments = phase ? snapshot.environments.slice(0, 1) : snapshot.environments
    return environments.flatMap((environment): NewCaseRun[] => {
      const id = `${place} ${environment.key}`
      const shared = {
        position: place,
        caseKey,
        title: item?.repetition ? `${title} (${item.repetition.index} of ${item.repetition.of})` : title,
        groups: item?.groups ?? [],
        environment: environment.key,
        phase: PHASES[phase ?? 'main'],
        rowIndex: item?.row?.index ?? null,
        rowCount: item?.row?.of ?? null,
        row: item?.row?.values ?? null,
        parameters: { ...testCase.parameters, ...item?.with },
        exclusive: [...testCase.uses, ...seat],
        priority: PRIORITIES[testCase.priority],
        limitMs: Math.min(item?.limitMs ?? request.limitMs, request.limitMs),
        estimateMs:
          (basis.estimates[caseKey]?.[environment.key]?.p50Ms ?? 0) +
          pausedMs(basis.pauses?.[caseKey], request.how),
        stops: item?.stops ?? false,
        needs: testCase.needs,
        roles: roles.map(({ role }) => role),
        roleEnvironments: roles.map(({ on }) => on[environment.key]!),
        policies: [...(item?.policies ?? []), ...outer].filter(({ policy }) => snapshot.policies?.[policy]),
        quarantined: quarantined.has(caseKey),
      }
      const planned = places.get(id) ?? []
      const reason =
        reasons.get(id) ?? (isFixed && !phase && planned.length === 0 ? 'no seat can run it' : undefined)
      if (reason !== undefined)
        return [
          {
            ...shared,
            ...orderOf(item),
            state: 'ended' as const,
            outcome: 'skipped' as const,
            failureMessage: `It can be placed nowhere: ${reason}`,
          },
        ]
      // what is done once is done once, wherever
      const lanes = isFixed && !phase ? planned : planned.slice(0, 1)
      return (lanes.length > 0 ? lanes : [{ agent: '', startMs: 0 }]).map(({ agent, startMs }) => ({
        ...shared,
        ...orderOf(item, everywhere ? `@${agent}` : ''),
        agent: isFixed && !phase ? agent : '',
        laneAgent: agent,
        laneMs: startMs,
      }))
    })
  })
}

/** What it follows and what follows it. In `everywhere` each agent has an order of its own: `of` tells them
 * apart. */
function orderOf(
  item: FlatItem | undefined,
  of = '',
): Pick<NewCaseRun, 'scopes' | 'after' | 'skips' | 'ready'> {
  const named = (scopes: readonly string[] = []) => scopes.map((scope) => `${scope}${of}`)
  return {
    scopes: named(item?.scopes),
    after: named(item?.after),
    skips: named(item?.skips),
    ready: (item?.after ?? []).length === 0,
  }
}

/** Where and when the plan has each case run, the earliest first, and why others are nowhere. All roles of a
 * joint case start together: the first piece stands for it. */
function placesOf({ lanes, unplaceable }: Outlook): {
  places: Map<string, { agent: string; startMs: number }[]>
  reasons: Map<string, string>
} {
  const places = new Map<string, { agent: string; startMs: number }[]>()
  const caseRunOf = (work: string) => work.split(' ').slice(0, 2).join(' ')
  for (const { agent, items } of lanes) {
    for (const { work, startMs } of items) {
      const id = caseRunOf(work.endsWith(`@${agent}`) ? work.slice(0, -agent.length - 1) : work)
      const known = places.get(id) ?? []
      if (!known.some((one) => one.agent === agent))
        places.set(
          id,
          [...known, { agent, startMs }].sort((a, b) => a.startMs - b.startMs),
        )
    }
  }
  return {
    places,
    reasons: new Map(
      unplaceable.flatMap(({ work, reason }) => work.map((id) => [caseRunOf(id), reason] as const)),
    ),
  }
}
