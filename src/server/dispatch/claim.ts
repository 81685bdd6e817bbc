import { seedOf, type Work } from '@/core/execution'
import { referencesIn } from '@/core/model'
import type { AgentRow } from '@/db/agents'
import type { Tx } from '@/db/client'
import { addAttempt, attemptsOf, beginRun, endUnrun, endRunIfDone, releaseHolds, seatsInUse, skipBehind, takeHandoffs, takeNextCaseRun, type AttemptRow, type CaseRunRow } from '@/db/dispatch'
import { notify } from '@/db/notify'
import { snapshotForCase } from '@/db/runs'
import { listDatabases } from '@/db/workspace'
import type { Context } from '../context'
import { allSteps } from '../definitions'
import { recoveryOf } from '../recovery'
import { openSecrets } from '../secrets'

/** Two claims that want the same exclusive name at the same moment: one is undone and looks again. */
const CLASH_TRIES = 4
const UNIQUE_VIOLATION = '23505'

/** Gives one free seat of the agent its next attempt, or `undefined` when nothing waits that it can serve. */
export async function claimWork(ctx: Context, agent: AgentRow): Promise<Work | undefined> {
  for (let i = 0; i < CLASH_TRIES; i++) {
    try {
      const claimed = await claimOnce(ctx, agent)
      return claimed && (await workOf(ctx, claimed.caseRun, claimed.attempt))
    } catch (error) {
      if (!isClash(error)) throw error
    }
  }
  return undefined
}

async function claimOnce(ctx: Context, agent: AgentRow): Promise<{ caseRun: CaseRunRow; attempt: AttemptRow } | undefined> {
  return ctx.db.transaction(async (tx) => {
    const now = await seatsInUse(tx, agent.id)
    if (!now) return undefined
    const { used, pool } = now
    const seat = Array.from({ length: agent.seats }, (_, i) => i + 1).find((n) => !used.includes(n))
    if (seat === undefined) return undefined
    const caseRun = await takeReady(tx, ctx, { ...agent, pool })
    if (!caseRun) return undefined
    // The seed depends on what is run and on which try it is, not on when or where: a repeat meets the same chances.
    const seed = seedOf(`${caseRun.runId}/${caseRun.position}/${caseRun.environment}/${caseRun.attempts}`) | 0
    const attempt = await addAttempt(tx, { caseRun, agentId: agent.id, agentName: agent.name, seat, seed }, ctx.now, ctx.leaseMs)
    await beginRun(tx, caseRun.runId, ctx.now)
    await notify(tx, 'run', caseRun.runId)
    await notify(tx, 'fleet')
    return { caseRun, attempt }
  })
}

/** The next case run that has all it takes. One whose handoff was never given is not run, and says which one is missing. */
async function takeReady(tx: Tx, ctx: Context, agent: AgentRow): Promise<CaseRunRow | undefined> {
  for (;;) {
    const caseRun = await takeNextCaseRun(tx, agent)
    if (!caseRun || caseRun.needs.length === 0) return caseRun
    const given = await takeHandoffs(tx, caseRun)
    const missing = caseRun.needs.filter((name) => !(name in given))
    if (missing.length === 0) return caseRun
    await releaseHolds(tx, caseRun.id)
    await endUnrun(tx, caseRun.id, `it takes the handoff “${missing.join('”, “')}”, which was not given`, ctx.now)
    await skipBehind(tx, caseRun, ctx.now)
    await endRunIfDone(tx, caseRun.runId, ctx.now)
    await notify(tx, 'run', caseRun.runId)
  }
}

async function workOf(ctx: Context, caseRun: CaseRunRow, attempt: AttemptRow): Promise<Work> {
  const frozen = (await snapshotForCase(ctx.db, caseRun.runId, caseRun.caseKey, caseRun.environment))!
  const routines = Object.values(frozen.routines)
  const references = referencesIn([frozen.testCase, routines, caseRun.parameters, frozen.policies ?? {}])
  const wanted = references.filter((reference) => reference.startsWith('secret.')).map((reference) => reference.slice('secret.'.length))
  const before = caseRun.policies.length > 0 && attempt.number > 1 ? (await attemptsOf(ctx.db, caseRun.id)).filter(({ number }) => number < attempt.number) : []
  const [secrets, handoffs, databases, recovery] = await Promise.all([openSecrets(ctx, wanted), takeHandoffs(ctx.db, caseRun), listDatabases(ctx.db), recoveryOf(ctx, caseRun, frozen.policies ?? {}, before)])
  const queried = new Set([...allSteps([...frozen.testCase.steps, ...frozen.testCase.undo]), ...routines.flatMap(({ steps, undo }) => allSteps([...steps, ...undo]))].flatMap((step) => (step.verb === 'query' ? [step.database] : [])))
  return {
    attemptId: attempt.id,
    lease: attempt.lease,
    number: attempt.number,
    runId: caseRun.runId,
    build: frozen.build,
    case: frozen.testCase,
    routines,
    environment: frozen.environment,
    ...(caseRun.row && { row: caseRun.row }),
    parameters: caseRun.parameters,
    applications: frozen.applications,
    databases: Object.fromEntries(databases.filter(({ key }) => queried.has(key)).map(({ key, url }) => [key, url])),
    secrets,
    handoffs,
    startedAt: attempt.claimedAt.toISOString(),
    limitMs: caseRun.limitMs,
    ...(frozen.how && { how: frozen.how }),
    ...recovery,
    seed: attempt.seed >>> 0,
  }
}

const isClash = (error: unknown) => ((error as { cause?: { code?: string } }).cause?.code ?? (error as { code?: string }).code) === UNIQUE_VIOLATION
