import { decide, type AttemptResult, type Failure, type Outcome } from '@/core/execution'
import { describeDuration } from '@/core/model'
import { addHandoffs, anyWaitsBehind, attemptsOf, cancelRun, countFailures, endAttempt, endCaseRun, endRunIfDone, expiredHolds, lockRun, moveToNextPhase, noteLate, overdueRuns, releaseHolds, skipBehind, skipPhase, waitAgain, type AttemptRow, type CaseRunRow, type Hold } from '@/db/dispatch'
import { notify } from '@/db/notify'
import { attemptRow, caseRunRow } from '@/db/runs'
import type { Tx } from '@/db/client'
import type { Context } from '../context'
import { Problem } from '../http/problems'

/** Ends an attempt and settles what follows. Finishing the same attempt again with its own lease is accepted and changes nothing.
 * @throws {Problem} LEASE_LOST when another holds it, NOT_FOUND */
export async function finishAttempt(ctx: Context, hold: Hold, result: AttemptResult): Promise<void> {
  const taken = await ctx.db.transaction(async (tx) => {
    const ended = await endAttempt(tx, hold, result, ctx.now)
    if (ended) {
      await settle(tx, ctx, ended, result)
      return true
    }
    const known = await attemptRow(tx, hold.attemptId)
    if (!known) throw new Problem('NOT_FOUND')
    return known.state === 'ended' && known.lease === hold.lease && known.outcome === result.outcome && known.failureKind !== 'agent'
  })
  if (taken) return
  await noteLate(ctx.db, hold, result.outcome)
  throw new Problem('LEASE_LOST')
}

/** Gives up an attempt whose agent cannot go on with it. */
export async function endLost(tx: Tx, ctx: Context, hold: Hold, why: string): Promise<void> {
  const failure: Failure = { kind: 'agent', message: `The agent was lost: ${why}` }
  const ended = await endAttempt(tx, hold, { outcome: 'errored', failure }, ctx.now)
  if (ended) await settle(tx, ctx, ended, { failure })
}

const PASSED = new Set<Outcome>(['passed', 'recovered'])

/** What an attempt's end means for its case run and its run. */
async function settle(tx: Tx, ctx: Context, attempt: AttemptRow, { failure, handoffs = {}, stopRun }: Pick<AttemptResult, 'failure' | 'handoffs' | 'stopRun'>): Promise<void> {
  const run = await lockRun(tx, attempt.runId)
  const before = (await attemptsOf(tx, attempt.caseRunId)).filter((other) => other.number < attempt.number)
  const asEnded = (row: AttemptRow) => ({ outcome: row.outcome ?? 'errored', ...(row.failureKind && { kind: row.failureKind }), recovered: row.recoveries.length > 0 })
  const decision = run.state === 'cancelling' && attempt.outcome !== 'passed'
    ? ({ next: 'ended', outcome: 'cancelled' } as const)
    : decide(asEnded(attempt), before.map(asEnded), { case: run.retries, ...(run.retryOn.length > 0 && { on: run.retryOn }) })
  await releaseHolds(tx, attempt.caseRunId)
  const caseRun = (await caseRunRow(tx, attempt.caseRunId))!
  await addHandoffs(tx, caseRun, handoffs)
  if (decision.next === 'again') {
    const { agentName } = attempt
    await waitAgain(tx, attempt.caseRunId, !decision.usesRetry || run.retryAgent === 'any' ? {} : run.retryAgent === 'same' ? { wishAgent: agentName } : { avoidAgent: agentName })
    await notify(tx, 'work')
  } else {
    await endCaseRun(tx, attempt.caseRunId, { outcome: decision.outcome, failure }, ctx.now)
    if (stopRun !== undefined) await skipPhase(tx, run.id, 0, `Stopped by a recovery rule: ${stopRun}`, ctx.now)
    if (!PASSED.has(decision.outcome)) await stopWhatDepends(tx, ctx, run, caseRun, failure)
    const goesOn = !(await endRunIfDone(tx, run.id, ctx.now))
    if (goesOn && ((await moveToNextPhase(tx, run.id)) || (await anyWaitsBehind(tx, run.id)))) await notify(tx, 'work')
  }
  await notify(tx, 'attempt', attempt.id)
  await notify(tx, 'run', run.id)
  await notify(tx, 'fleet')
}

/** A case run did not pass: what waits behind it is skipped; all of it, when it was to come before all or too much has failed. */
async function stopWhatDepends(tx: Tx, ctx: Context, run: Awaited<ReturnType<typeof lockRun>>, caseRun: CaseRunRow, failure: Failure | undefined): Promise<void> {
  await skipBehind(tx, caseRun, ctx.now)
  if (caseRun.phase < 0) await skipPhase(tx, run.id, 0, `What comes before all did not pass${failure ? `: ${failure.message}` : ''}`, ctx.now)
  else if (run.stopAfter !== null && (await countFailures(tx, run.id)) >= run.stopAfter) await skipPhase(tx, run.id, 0, `The run stops after ${run.stopAfter} ${run.stopAfter === 1 ? 'failure' : 'failures'}`, ctx.now)
}

/** Cancels runs that go on for longer than they may. Safe with any number of workers. @returns their numbers */
export async function endOverdue(ctx: Context): Promise<number[]> {
  return ctx.db.transaction(async (tx) => {
    const found = await overdueRuns(tx, ctx.now)
    for (const { id, runLimitMs } of found) {
      await cancelRun(tx, id, ctx.now, `It went on for longer than ${describeDuration(runLimitMs!)}`)
      await notify(tx, 'run', id)
    }
    return found.map(({ id }) => id)
  })
}

const EXPIRED_AT_ONCE = 50

/** Gives the work of silent agents back to the others. Safe with any number of workers. @returns how many leases had run out */
export async function expireLeases(ctx: Context): Promise<number> {
  return ctx.db.transaction(async (tx) => {
    const holds = await expiredHolds(tx, ctx.now, EXPIRED_AT_ONCE)
    for (const hold of holds) await endLost(tx, ctx, hold, 'its heartbeat stopped')
    return holds.length
  })
}
