import {
  judge,
  type AttemptResult,
  type Failure,
  type NumberedEvent,
  type Outcome,
  type TryPart,
} from '@/core/execution'
import { describeDuration } from '@/core/model'
import type { AttemptRow, CaseRunRow, EndedCaseRun } from '@/db/claim'
import type { Hold } from '@/db/dispatch'
import { addHandoffs } from '@/db/handoffs'
import {
  attemptsOf,
  endAttempt,
  endCaseRun,
  expiredHolds,
  letBegin,
  letBeginAll,
  lockCaseRun,
  noteLate,
  releaseHolds,
  skipBehind,
  tellToEnd,
  unreportedHolds,
  waitAgain,
} from '@/db/endings'
import {
  cancelRun,
  countFailures,
  endRunIfDone,
  isPhaseOpen,
  lockRun,
  moveToNextPhase,
  overdueRuns,
  skipPhase,
  stalledRuns,
  type RunFacts,
} from '@/db/run-states'
import { attemptRow } from '@/db/runs'
import type { Tx } from '@/db/client'
import { finishPassedFast } from '@/db/fast-path'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { sealColumn } from '../sealing'
import { progressOf, storeEvents } from './ingest'

/** Ends an attempt and settles what follows. Finishing the same attempt again with its own lease is accepted
 * and changes nothing.
 * @param rest its last events, stored with the end or not at all
 * @throws {Problem} LEASE_LOST when another holds it, NOT_FOUND */
export async function finishAttempt(
  ctx: Context,
  hold: Hold,
  result: AttemptResult,
  rest: NumberedEvent[] = [],
): Promise<void> {
  if (
    result.outcome === 'passed' &&
    !result.handoffs &&
    !result.stopRun &&
    !rest.some(({ type }) => type === 'recovery-ended')
  ) {
    const last = { events: rest, ...progressOf(rest) }
    const ended = await finishPassedFast(ctx.connection.fastPath, hold, PASSED_AT_ONCE, last, ctx.now)
    if (ended) {
      notifyOfEnd(ctx, { id: hold.attemptId, runId: ended.caseRun.runId })
      return advanceRun(ctx, ended.caseRun, ended.caseRun.scopes, ended)
    }
  }
  const conclusion = await ctx.db.transaction(async (tx) => {
    if (rest.length > 0 && !(await storeEvents(tx, ctx, hold, rest))) return undefined
    const ended = await endAttempt(tx, hold, result, ctx.now)
    return ended && concludeAttempt(tx, ctx, ended, result)
  })
  if (conclusion) return afterConclusion(ctx, conclusion)
  const known = await attemptRow(ctx.db, hold.attemptId)
  if (!known) throw new Problem('NOT_FOUND')
  if (
    known.state === 'ended' &&
    known.agentId === hold.agentId &&
    known.lease === hold.lease &&
    known.outcome === result.outcome &&
    known.failureKind !== 'agent'
  )
    return
  await noteLate(ctx.db, hold, result.outcome)
  throw new Problem('LEASE_LOST')
}

/** Gives up attempts whose agents cannot go on with them. */
export async function endLost(ctx: Context, holds: readonly Hold[], why: string): Promise<number> {
  const failure: Failure = { kind: 'agent', message: `The agent was lost: ${why}` }
  let lost = 0
  for (const hold of holds) {
    const conclusion = await ctx.db.transaction(async (tx) => {
      const ended = await endAttempt(tx, hold, { outcome: 'errored', failure }, ctx.now)
      return ended && concludeAttempt(tx, ctx, ended, { failure })
    })
    if (!conclusion) continue
    lost++
    await afterConclusion(ctx, conclusion)
  }
  return lost
}

/** Ends an attempt that was told to end before its agent heard of it. */
export async function endAborted(
  ctx: Context,
  { id: attemptId, agentId, lease, told }: Pick<AttemptRow, 'id' | 'agentId' | 'lease' | 'told'>,
): Promise<void> {
  await finishAttempt(
    ctx,
    { agentId, attemptId, lease },
    { outcome: 'cancelled', failure: { kind: 'agent', message: `Not begun: ${told}` }, ms: 0 },
  )
}

/** Outcome of a case run whose first attempt passed. */
const PASSED_AT_ONCE: Outcome = 'passed'
const PASSED = new Set<Outcome>(['passed', 'recovered'])
/** Work that follows once an end is committed. `over`: scopes that ended with it; absent: the case run is not
 * over. */
type Conclusion = { caseRun: CaseRunRow; run: RunFacts; over?: string[] }

/** At rest nobody reads who is signed in. */
const sealedHandoffs = (values: Record<string, string>) =>
  Object.fromEntries(Object.entries(values).map(([name, value]) => [name, sealColumn(value)]))

/** What an attempt's end means for its case run and its run. */
async function concludeAttempt(
  tx: Tx,
  ctx: Context,
  attempt: AttemptRow,
  { failure, handoffs, stopRun }: Pick<AttemptResult, 'failure' | 'handoffs' | 'stopRun'>,
): Promise<Conclusion> {
  const { caseRun, run } = await lockCaseRun(tx, attempt.caseRunId)
  const tries =
    attempt.number === 1 && caseRun.roles.length === 0 ? [attempt] : await attemptsOf(tx, caseRun.id)
  if (handoffs) await addHandoffs(tx, caseRun, sealedHandoffs(handoffs))
  notifyOfEnd(ctx, attempt)
  const verdict = judge(tries.map(partOf), {
    case: run.retries,
    ...(run.retryOn.length > 0 && { on: run.retryOn }),
  })
  if (verdict.next === 'wait') return { caseRun, run }
  if (verdict.next === 'end-others') {
    await tellToEnd(tx, attempt, `${attempt.role}: ${failure?.message ?? 'it was stopped'}`)
    ctx.notifier.send('joint', caseRun.id)
    return { caseRun, run }
  }
  if (caseRun.exclusive.length > 0) await releaseHolds(tx, caseRun.id)
  const cancelled = run.state === 'cancelling' && verdict.decisive !== undefined
  if (
    verdict.next === 'again' &&
    !cancelled &&
    (await waitAgain(tx, caseRun, wishOf(run, attempt, verdict.usesRetry)))
  ) {
    ctx.notifier.send('work')
    return { caseRun, run }
  }
  const outcome = verdict.next === 'again' || cancelled ? 'cancelled' : verdict.outcome
  const decisive = tries.find(
    ({ number, role }) => number === verdict.decisive?.number && role === verdict.decisive.role,
  )
  await endCaseRun(
    tx,
    caseRun.id,
    {
      outcome,
      attempt: decisive?.id,
      ...(decisive && {
        failure: failureOf(decisive, verdict.next === 'ended' ? verdict.because : undefined),
      }),
    },
    ctx.now,
  )
  if (stopRun !== undefined) await skipPhase(tx, run.id, 0, `Stopped by a recovery rule: ${stopRun}`, ctx.now)
  const skipped = PASSED.has(outcome) ? [] : await stopWhatDepends(tx, ctx, run, caseRun, failure)
  return { caseRun, run, over: [...caseRun.scopes, ...skipped] }
}

function notifyOfEnd(ctx: Context, { id, runId }: Pick<AttemptRow, 'id' | 'runId'>): void {
  ctx.notifier.send('attempt', id)
  ctx.notifier.send('run', runId)
  ctx.notifier.send('fleet')
}

const partOf = ({ number, role, outcome, failureKind, recoveries, endedAt, told }: AttemptRow): TryPart => ({
  number,
  role,
  outcome,
  ...(failureKind && { kind: failureKind }),
  recovered: recoveries.length > 0,
  ...(endedAt && { endedAt: endedAt.getTime() }),
  told: told !== null,
})

function failureOf(
  { role, failureKind, failureMessage, failurePath }: AttemptRow,
  because?: string,
): Partial<Failure> {
  const message =
    because === undefined
      ? (failureMessage ?? undefined)
      : [because, failureMessage].filter(Boolean).join('. ')
  return {
    ...(failureKind && { kind: failureKind }),
    ...(message !== undefined && { message: role === '' ? message : `${role}: ${message}` }),
    ...(failurePath !== null && { path: failurePath }),
  }
}

function wishOf({ retryAgent }: RunFacts, { agentName, role }: AttemptRow, usesRetry: boolean) {
  if (!usesRetry || retryAgent === 'any' || role !== '') return {}
  return retryAgent === 'same' ? { wishAgent: agentName } : { avoidAgent: agentName }
}

/** A case run did not pass: what waits behind it is skipped; all of it, when it was to come before all or too
 * much has failed. @returns scopes of what was skipped behind it */
async function stopWhatDepends(
  tx: Tx,
  ctx: Context,
  run: RunFacts,
  caseRun: CaseRunRow,
  failure: Failure | undefined,
): Promise<string[]> {
  if (caseRun.phase >= 0 && run.stopAfter === null) return skipBehind(tx, caseRun, ctx.now)
  await lockRun(tx, run.id) // so that of two failures at once the second counts both
  const skipped = await skipBehind(tx, caseRun, ctx.now)
  if (caseRun.phase < 0)
    await skipPhase(
      tx,
      run.id,
      0,
      `What comes before all did not pass${failure ? `: ${failure.message}` : ''}`,
      ctx.now,
    )
  else if ((await countFailures(tx, run.id)) >= run.stopAfter!)
    await skipPhase(
      tx,
      run.id,
      0,
      `The run stops after ${run.stopAfter} ${run.stopAfter === 1 ? 'failure' : 'failures'}`,
      ctx.now,
    )
  return skipped
}

const afterConclusion = (ctx: Context, { caseRun, run, over }: Conclusion): Promise<void> =>
  over ? advanceRun(ctx, caseRun, over, run) : Promise.resolve()

/** What may begin now that a case run has ended, and whether its run has ended with it. Looks at what is
 * committed: of two ends at once, the later sees both. */
export async function advanceRun(
  ctx: Context,
  caseRun: Pick<EndedCaseRun, 'runId' | 'phase' | 'environment'>,
  over: readonly string[],
  { ordered, last = true }: Pick<RunFacts, 'ordered'> & { last?: boolean } = { ordered: true },
): Promise<void> {
  const { runId, phase } = caseRun
  if (ordered && (await letBegin(ctx.db, caseRun, over)) > 0) ctx.notifier.send('work')
  if (last && !(await isPhaseOpen(ctx.db, runId, phase))) await advancePhase(ctx, runId)
}

/** Ends a run, or goes on to its next phase. */
async function advancePhase(ctx: Context, runId: number): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    const { state } = await lockRun(tx, runId)
    if (state === 'ended' || (await endRunIfDone(tx, runId, ctx.now))) return
    if (await moveToNextPhase(tx, runId)) ctx.notifier.send('work')
  })
  ctx.notifier.send('run', runId)
  ctx.notifier.send('fleet')
}

/** Sees to runs whose next step was lost with the process that was to take it. Safe with any number of
 * workers. @returns their numbers */
export async function wakeStalled(ctx: Context): Promise<number[]> {
  const found = await stalledRuns(ctx.db)
  for (const id of found) {
    if ((await letBeginAll(ctx.db, id)) > 0) ctx.notifier.send('work')
    await advancePhase(ctx, id)
  }
  return found
}

/** Cancels runs that go on for longer than they may. Safe with any number of workers. @returns their
 * numbers */
export async function endOverdue(ctx: Context): Promise<number[]> {
  const found = await ctx.db.transaction(async (tx) => {
    const overdue = await overdueRuns(tx, ctx.now)
    for (const { id, runLimitMs } of overdue)
      await cancelRun(tx, id, ctx.now, { why: `It went on for longer than ${describeDuration(runLimitMs!)}` })
    return overdue.map(({ id }) => id)
  })
  for (const id of found) ctx.notifier.send('run', id)
  return found
}

const EXPIRED_AT_ONCE = 50
/** An attempt says something at least with each step, and no step takes longer than its case may; and some
 * more for undo steps and evidence. */
const REPORT_GRACE_MS = 120_000
/** Within this a cancelled attempt has ended its step, undone what it did, and said so. */
const CANCEL_MS = 120_000

/** Ends attempts of agents that give signs of life and yet do not report: what they have goes to others, and
 * a run can always be stopped.
 * Safe with any number of workers. @returns how many */
export async function endUnreported(
  ctx: Context,
  { graceMs = REPORT_GRACE_MS, cancelMs = CANCEL_MS } = {},
): Promise<number> {
  const holds = await ctx.db.transaction((tx) =>
    unreportedHolds(tx, ctx.now, { graceMs, cancelMs, most: EXPIRED_AT_ONCE }),
  )
  return endLost(
    ctx,
    holds,
    'it gave signs of life and said nothing of this attempt for longer than it may take',
  )
}

/** Gives the work of silent agents back to the others. Safe with any number of workers. @returns how many
 * leases had run out */
export async function expireLeases(ctx: Context): Promise<number> {
  return endLost(
    ctx,
    await ctx.db.transaction((tx) => expiredHolds(tx, ctx.now, EXPIRED_AT_ONCE)),
    'its heartbeat stopped',
  )
}
