import { seedOf, type Work } from '@/core/execution'
import type { AgentRow } from '@/db/agents'
import { addAttempt, beginRun, seatsInUse, takeNextCaseRun, type AttemptRow, type CaseRunRow } from '@/db/dispatch'
import { notify } from '@/db/notify'
import { snapshotForCase } from '@/db/runs'
import type { Context } from '../context'

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
    const used = await seatsInUse(tx, agent.id)
    if (!used) return undefined
    const seat = Array.from({ length: agent.seats }, (_, i) => i + 1).find((n) => !used.includes(n))
    if (seat === undefined) return undefined
    const caseRun = await takeNextCaseRun(tx, agent.environments)
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

async function workOf(ctx: Context, caseRun: CaseRunRow, attempt: AttemptRow): Promise<Work> {
  const frozen = (await snapshotForCase(ctx.db, caseRun.runId, caseRun.caseKey, caseRun.environment))!
  return {
    attemptId: attempt.id,
    lease: attempt.lease,
    number: attempt.number,
    runId: caseRun.runId,
    build: frozen.build,
    case: frozen.testCase,
    routines: Object.values(frozen.routines),
    environment: frozen.environment,
    ...(caseRun.row && { row: caseRun.row }),
    parameters: caseRun.parameters,
    applications: frozen.applications,
    limitMs: caseRun.limitMs,
    seed: attempt.seed >>> 0,
  }
}

const isClash = (error: unknown) => ((error as { cause?: { code?: string } }).cause?.code ?? (error as { code?: string }).code) === UNIQUE_VIOLATION
