import { PRIORITIES, type Environment, type FlatItem, type Routine, type Step, type TestCase } from '@/core/model'
import { listRepositories } from '@/db/definitions'
import { listApplications, listEnvironments } from '@/db/workspace'
import { seatsByEnvironment } from '@/db/agents'
import { note } from '@/db/defects'
import type { Tx } from '@/db/client'
import { later } from '@/db/moment'
import { notify } from '@/db/notify'
import { addRun, caseRunsWithOutcome, runSight, runSnapshot, type NewCaseRun } from '@/db/runs'
import type { RunSnapshot } from '@/db/schema'
import type { Context } from '../context'
import { loadLibrary, type Loaded } from '../definitions'
import { validator } from '../http/route'
import { Problem } from '../http/problems'
import { chosenItems, chosenSuite, type Choice } from './choose'
import { estimatesOf } from './estimates'

export type StartRequest = Choice & { environments: string[]; build: string; retries: number; limitMs: number; title?: string; priority?: number; rehearsal?: boolean }

/** A case may take this long unless it or its entry says otherwise. */
const LIMIT_LEAST_MS = 5_000
const LIMIT_MOST_MS = 3_600_000
/** A rehearsal that nobody kept is deleted after this. */
export const REHEARSAL_KEPT_MS = 24 * 3_600_000

export const startBody = validator<StartRequest>({
  type: 'object',
  additionalProperties: false,
  required: ['environments', 'build', 'retries', 'limitMs'],
  properties: {
    suite: { type: 'string', maxLength: 80 },
    rule: { type: 'string', maxLength: 300 },
    cases: { type: 'array', items: { type: 'string', maxLength: 80 }, minItems: 1, maxItems: 5000, uniqueItems: true },
    row: { type: 'integer', minimum: 1 },
    with: { type: 'object', additionalProperties: { type: 'string', maxLength: 2000 }, maxProperties: 100 },
    environments: { type: 'array', items: { type: 'string' }, minItems: 1, maxItems: 100, uniqueItems: true },
    build: { type: 'string', pattern: '^[A-Za-z0-9][A-Za-z0-9._-]{0,59}$' },
    retries: { type: 'integer', minimum: 0, maximum: 2 },
    limitMs: { type: 'integer', minimum: LIMIT_LEAST_MS, maximum: LIMIT_MOST_MS },
    title: { type: 'string', minLength: 1, maxLength: 120 },
    priority: { type: 'integer', minimum: -5, maximum: 5 },
    rehearsal: { type: 'boolean' },
  },
})

/** Starts what was chosen: freezes what it uses, lays out its case runs, and wakes the agents. A rehearsal is the same, kept out of history.
 * @throws {Problem} NOT_FOUND, BODY_INVALID, NOTHING_TO_RUN, ENVIRONMENT_UNSERVED; then nothing was written */
export async function startRun(ctx: Context, request: StartRequest, who: string): Promise<number> {
  const write = await prepareRun(ctx, request, who)
  return ctx.db.transaction(write)
}

/** All of a start but the writing, for who has more to write in the same transaction.
 * @param rotationKey the rotation that starts it
 * @throws {Problem} as `startRun` */
export async function prepareRun(ctx: Context, request: StartRequest, who: string, rotationKey?: string): Promise<(tx: Tx) => Promise<number>> {
  const library = await loadLibrary(ctx)
  const suite = chosenSuite(request, library)
  const environments = await environmentsOf(ctx, request.environments)
  await requireServed(ctx, environments)
  const { items, leftOut } = chosenItems(request, suite, library)
  const [applications, repositories] = await Promise.all([listApplications(ctx.db), listRepositories(ctx.db)])
  const snapshot: RunSnapshot = {
    suite: { key: suite.key, title: suite.title },
    ...freeze(items, library),
    environments,
    applications: Object.fromEntries(applications.map(({ key, address }) => [key, address.replace('{build}', request.build)])),
    commit: repositories[0]?.commit ?? null,
    leftOut,
  }
  const caseRuns = layOut(items, snapshot, request, await estimatesOf(ctx, Object.values(snapshot.cases), environments))
  return async (tx) => {
    const { title = suite.title, build, retries, limitMs, rehearsal = false } = request
    const id = await addRun(tx, { title, suiteKey: suite.key, build, retries, limitMs, startedBy: who, snapshot, ...(rotationKey !== undefined && { rotationKey }), ...(rehearsal && { kind: 'rehearsal' as const, goneAt: later(ctx.now, REHEARSAL_KEPT_MS) }) }, caseRuns, ctx.now)
    await note(tx, who, rehearsal ? 'rehearsal.start' : 'run.start', String(id), { suite: suite.key, build, environments: request.environments, caseRuns: caseRuns.length })
    await notify(tx, 'work')
    await notify(tx, 'run', id)
    return id
  }
}

/** Runs the failures of an ended run once more, from its own snapshot. */
export async function startAgain(ctx: Context, runId: number, who: string): Promise<number> {
  const [run, snapshot] = await Promise.all([runSight(ctx.db, runId), runSnapshot(ctx.db, runId)])
  if (!run || !snapshot) throw new Problem('NOT_FOUND')
  const failures = await caseRunsWithOutcome(ctx.db, runId, ['failed', 'errored'])
  if (failures.length === 0) throw new Problem('NOTHING_TO_RUN', 'Nothing failed in this run, so there is nothing to run again.')
  await requireServed(ctx, snapshot.environments.filter(({ key }) => failures.some((failure) => failure.environment === key)))
  const items = failures.map(({ position, caseKey, title, groups, environment, rowIndex, rowCount, row, parameters, exclusive, priority, limitMs, estimateMs, scopes, after, skips, stops, needs }) =>
    ({ position, caseKey, title, groups, environment, rowIndex, rowCount, row, parameters, exclusive, priority, limitMs, estimateMs, scopes, after, skips, stops, needs }))
  return ctx.db.transaction(async (tx) => {
    const { suiteKey, build, retries, limitMs } = run
    const id = await addRun(tx, { title: run.title, suiteKey, build, retries, limitMs, startedBy: who, snapshot, againOf: runId }, items, ctx.now)
    await note(tx, who, 'run.again', String(id), { of: runId, caseRuns: items.length })
    await notify(tx, 'work')
    await notify(tx, 'run', id)
    return id
  })
}

export async function environmentsOf(ctx: Context, keys: readonly string[]): Promise<Environment[]> {
  const known = await listEnvironments(ctx.db)
  return keys.map((key) => {
    const row = known.find((environment) => environment.key === key)
    if (!row) throw new Problem('NOT_FOUND', `There is no environment “${key}”.`)
    return row.facts
  })
}

async function requireServed(ctx: Context, environments: { key: string; title: string }[]): Promise<void> {
  const seats = await seatsByEnvironment(ctx.db, ctx.leaseMs)
  const unserved = environments.filter(({ key }) => !seats.get(key))
  if (unserved.length > 0) {
    throw new Problem('ENVIRONMENT_UNSERVED', `No live agent serves ${unserved.map(({ title }) => title).join(', ')}. Start an agent that does, or leave it out.`, { environments: unserved.map(({ key }) => key) })
  }
}

/** The cases the items need, and the routines those need, and so on. */
function freeze(items: FlatItem[], library: Loaded): Pick<RunSnapshot, 'cases' | 'routines'> {
  const cases: Record<string, TestCase> = {}
  const routines: Record<string, Routine> = {}
  const addRoutine = (key: string | undefined) => {
    const routine = key === undefined || routines[key] ? undefined : library.routines.get(key)
    if (!routine) return // a missing one is named when the step runs
    routines[routine.key] = routine
    visit([...routine.steps, ...routine.undo])
  }
  const visit = (steps: Step[]) => {
    for (const step of steps) {
      if (step.verb === 'use') addRoutine(step.routine)
      if ('steps' in step) visit(step.steps)
      if (step.verb === 'if') visit(step.otherwise)
    }
  }
  for (const { caseKey } of items) {
    const testCase = cases[caseKey] ? undefined : library.case(caseKey)
    if (!testCase) continue
    cases[caseKey] = testCase
    addRoutine(testCase.entry)
    visit([...testCase.steps, ...testCase.undo])
  }
  return { cases, routines }
}

function layOut(items: FlatItem[], snapshot: RunSnapshot, request: StartRequest, estimateOf: Awaited<ReturnType<typeof estimatesOf>>): NewCaseRun[] {
  return items.flatMap((item, position) => {
    const testCase = snapshot.cases[item.caseKey]!
    return snapshot.environments.map((environment) => ({
      position,
      caseKey: item.caseKey,
      title: item.repetition ? `${item.title} (${item.repetition.index} of ${item.repetition.of})` : item.title,
      groups: item.groups,
      environment: environment.key,
      rowIndex: item.row?.index ?? null,
      rowCount: item.row?.of ?? null,
      row: item.row?.values ?? null,
      parameters: { ...testCase.parameters, ...item.with },
      exclusive: testCase.uses,
      priority: (request.priority ?? 0) * 10 + PRIORITIES[testCase.priority],
      limitMs: Math.min(item.limitMs ?? request.limitMs, request.limitMs),
      estimateMs: estimateOf(item.caseKey, environment.key).p50Ms,
      scopes: item.scopes,
      after: item.after,
      skips: item.skips,
      stops: item.stops,
      needs: testCase.needs,
    }))
  })
}
