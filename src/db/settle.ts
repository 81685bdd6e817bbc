/** How attempts, case runs and runs end, and what follows from it. */
import { and, asc, eq, inArray, lt, ne, or, sql } from 'drizzle-orm'
import { statesBefore, type AttemptOutcome, type Failure, type Outcome } from '@/core/execution'
import type { AttemptRow, CaseRunRow } from './claim'
import type { Conn, Tx } from './client'
import { held, type Hold } from './dispatch'
import { tellOfRun } from './hooks'
import { attempts, caseRuns, exclusiveHolds, handoffs, runs } from './schema'
import type { Now } from './moment'

/** Ends an attempt if the hold is good. @returns `undefined` if it is not; then nothing was written */
export async function endAttempt(tx: Tx, hold: Hold, end: { outcome: AttemptOutcome; failure?: Failure }, now: Now): Promise<AttemptRow | undefined> {
  const [row] = await tx.update(attempts).set({ state: 'ended', outcome: end.outcome, endedAt: sql`${now}`, ...failureColumns(end.failure), failureTag: end.failure?.tag ?? null, failureApplication: end.failure?.application ?? null }).where(held(hold)).returning()
  return row
}

/** Notes that an answer came too late; the first one is kept. */
export async function noteLate(db: Conn, { attemptId, lease }: Hold, outcome: AttemptOutcome): Promise<void> {
  await db.update(attempts).set({ lateResult: outcome }).where(and(eq(attempts.id, attemptId), eq(attempts.lease, lease), eq(attempts.failureKind, 'agent'), sql`${attempts.lateResult} is null`))
}

/** Open attempts whose lease ran out. Locked and skipped when another process looks at them too. */
export const expiredHolds = async (tx: Tx, now: Now, most: number): Promise<Hold[]> =>
  await tx.select({ attemptId: attempts.id, lease: attempts.lease }).from(attempts)
    .where(and(ne(attempts.state, 'ended'), lt(attempts.leasedUntil, sql`${now}`))).limit(most).for('update', { skipLocked: true })

export const attemptsOf = async (tx: Conn, caseRunId: string): Promise<AttemptRow[]> =>
  await tx.select().from(attempts).where(eq(attempts.caseRunId, caseRunId)).orderBy(asc(attempts.number), asc(attempts.role))

export type RunFacts = Pick<typeof runs.$inferSelect, 'id' | 'state' | 'retries' | 'retryOn' | 'retryAgent' | 'phase' | 'stopAfter' | 'ordered'>
const runFacts = { id: runs.id, state: runs.state, retries: runs.retries, retryOn: runs.retryOn, retryAgent: runs.retryAgent, phase: runs.phase, stopAfter: runs.stopAfter, ordered: runs.ordered }

/** A case run, locked, with what its run says: the ends of a joint case's roles are settled one after the other. */
export async function lockCaseRun(tx: Tx, id: string): Promise<{ caseRun: CaseRunRow; run: RunFacts }> {
  const [row] = await tx.select({ caseRun: caseRuns, run: runFacts }).from(caseRuns).innerJoin(runs, eq(runs.id, caseRuns.runId)).where(eq(caseRuns.id, id)).for('update', { of: caseRuns })
  return row!
}

/** The run, locked: what concerns all of it is done by one after the other. */
export async function lockRun(tx: Tx, runId: number): Promise<RunFacts> {
  const [row] = await tx.select(runFacts).from(runs).where(eq(runs.id, runId)).for('update')
  return row!
}

/** Other roles of this try are to end, too. @returns how many were told */
export async function tellToEnd(tx: Tx, { caseRunId, number }: Pick<AttemptRow, 'caseRunId' | 'number'>, why: string): Promise<number> {
  return (await tx.update(attempts).set({ told: why }).where(and(eq(attempts.caseRunId, caseRunId), eq(attempts.number, number), ne(attempts.state, 'ended'), sql`${attempts.told} is null`))).rowCount ?? 0
}

export async function releaseHolds(tx: Tx, caseRunId: string): Promise<void> {
  await tx.delete(exclusiveHolds).where(eq(exclusiveHolds.caseRunId, caseRunId))
}

/** @param wish which agent the next try is to have, if that matters
 * @returns false when its run is being cancelled: then it does not wait. Shares a lock on the run, so that a cancel sees it wait or is seen */
export async function waitAgain(tx: Tx, caseRun: Pick<CaseRunRow, 'id' | 'runId'>, wish: { wishAgent?: string; avoidAgent?: string } = {}): Promise<boolean> {
  const [run] = await tx.select({ state: runs.state }).from(runs).where(eq(runs.id, caseRun.runId)).for('share')
  if (run!.state === 'cancelling') return false
  await tx.update(caseRuns).set({ state: 'waiting', gatheringAt: null, ...wish }).where(and(eq(caseRuns.id, caseRun.id), inArray(caseRuns.state, statesBefore('caseRun', 'again'))))
  return true
}

/** @param end.attempt the one that decided, where there were several */
export async function endCaseRun(tx: Tx, caseRunId: string, end: { outcome: Outcome; failure?: Partial<Failure>; attempt?: string | undefined }, now: Now): Promise<void> {
  await tx.update(caseRuns).set({
    state: 'ended', outcome: end.outcome, endedAt: sql`${now}`, ...failureColumns(end.failure), ...(end.attempt !== undefined && { shownAttempt: end.attempt }),
    durationMs: sql`(select greatest(0, round(extract(epoch from max(t.ended_at) - min(coalesce(t.started_at, t.claimed_at))) * 1000))::int from attempts t where t.case_run_id = ${caseRunId} and t.number = ${caseRuns.attempts})`,
  }).where(and(eq(caseRuns.id, caseRunId), inArray(caseRuns.state, statesBefore('caseRun', 'end'))))
}

/** Ends a case run that was taken and then could not be run: no attempt was made. */
export async function endUnrun(tx: Tx, caseRunId: string, why: string, now: Now): Promise<void> {
  await tx.update(caseRuns).set({ state: 'ended', outcome: 'skipped', endedAt: sql`${now}`, attempts: sql`${caseRuns.attempts} - 1`, failureMessage: why }).where(and(eq(caseRuns.id, caseRunId), eq(caseRuns.state, 'claimed')))
}

/** Ends what waits behind a case run that did not pass, and what waits behind that: the rest of the scopes it takes with it, or all of the run when it stops it.
 * @returns the scopes of what was skipped */
export async function skipBehind(tx: Tx, caseRun: Pick<CaseRunRow, 'runId' | 'environment' | 'title' | 'skips' | 'stops'>, now: Now): Promise<string[]> {
  const { runId, environment, title } = caseRun
  const over: string[] = []
  let next: Pick<CaseRunRow, 'skips' | 'stops'>[] = [caseRun]
  while (next.length > 0) {
    const scopes = [...new Set(next.flatMap(({ skips }) => skips))]
    const stops = next.some((one) => one.stops)
    if (scopes.length === 0 && !stops) break
    const behind = and(eq(caseRuns.environment, environment), sql`${caseRuns.scopes} && ${sql.param(scopes)}::text[]`)
    const rows = await tx.update(caseRuns)
      .set({ state: 'ended', outcome: 'skipped', endedAt: sql`${now}`, failureMessage: stops ? `“${title}” did not pass, which stops the run` : `“${title}” did not pass` })
      .where(and(eq(caseRuns.runId, runId), eq(caseRuns.state, 'waiting'), stops ? undefined : behind))
      .returning({ skips: caseRuns.skips, stops: caseRuns.stops, scopes: caseRuns.scopes })
    over.push(...rows.flatMap((row) => row.scopes))
    next = rows.map((row) => ({ ...row, stops: false })) // what was never run cannot stop anything
  }
  return [...new Set(over)]
}

const HAS_NOTHING_BEFORE = sql`not exists (select from case_runs d where d.run_id = c.run_id and d.environment = c.environment and d.state <> 'ended' and d.scopes && c.after)`

/** What waited for these scopes alone may begin. Asked after the end is committed: of two ends at the same moment the later one sees both.
 * @returns how many may begin now */
export async function letBegin(db: Conn, { runId, environment }: Pick<CaseRunRow, 'runId' | 'environment'>, scopes: readonly string[]): Promise<number> {
  const { rowCount } = await db.execute(sql`update case_runs c set ready = true where c.run_id = ${runId} and c.environment = ${environment} and c.state = 'waiting' and not c.ready and c.after && ${sql.param(scopes)}::text[] and ${HAS_NOTHING_BEFORE}`)
  return rowCount ?? 0
}

/** The same for all of a run: at its start, and where nobody came to it. */
export const letBeginAll = async (db: Conn, runId: number): Promise<number> =>
  (await db.execute(sql`update case_runs c set ready = true where c.run_id = ${runId} and c.state = 'waiting' and not c.ready and ${HAS_NOTHING_BEFORE}`)).rowCount ?? 0

/** Is something of this phase of a run open? */
export async function isPhaseOpen(db: Conn, runId: number, phase: number): Promise<boolean> {
  const { rows } = await db.execute(sql`select 1 from case_runs where run_id = ${runId} and phase = ${phase} and state <> 'ended' limit 1`)
  return rows.length > 0
}

/** Runs of which nothing goes on and nothing may begin: who was to see to that fell. */
export async function stalledRuns(db: Conn): Promise<number[]> {
  const { rows } = await db.execute<{ id: number }>(sql`
    select r.id from runs r where r.state <> 'ended' and not exists (select from attempts t where t.run_id = r.id and t.state <> 'ended')
      and not exists (select from case_runs c where c.run_id = r.id and c.phase = r.phase and c.state <> 'ended' and (c.state <> 'waiting' or c.ready))`)
  return rows.map(({ id }) => id)
}

/** Stands for every environment in handoffs of what comes before all; no environment has such a key. */
const EVERYWHERE = '*'

export async function addHandoffs(tx: Tx, caseRun: CaseRunRow, values: Record<string, string>): Promise<void> {
  // What comes before all is done once, for every environment.
  const environment = caseRun.phase < 0 ? EVERYWHERE : caseRun.environment
  const rows = Object.entries(values).map(([name, value]) => ({ runId: caseRun.runId, environment, rowIndex: caseRun.rowIndex, caseRunId: caseRun.id, name, value }))
  if (rows.length > 0) await tx.insert(handoffs).values(rows)
}

/** The handoffs a case run takes: from its own row where there is one, else the newest; and all that came before all. */
export async function takeHandoffs(db: Conn, caseRun: Pick<CaseRunRow, 'runId' | 'environment' | 'needs' | 'rowIndex'>): Promise<Record<string, string>> {
  const rows = await db.selectDistinctOn([handoffs.name], { name: handoffs.name, value: handoffs.value }).from(handoffs)
    .where(and(eq(handoffs.runId, caseRun.runId), or(eq(handoffs.environment, EVERYWHERE), and(eq(handoffs.environment, caseRun.environment), inArray(handoffs.name, caseRun.needs)))))
    .orderBy(handoffs.name, sql`${handoffs.environment} = ${caseRun.environment} desc`, sql`${handoffs.rowIndex} is not distinct from ${caseRun.rowIndex} desc`, sql`${handoffs.id} desc`)
  return Object.fromEntries(rows.map(({ name, value }) => [name, value]))
}

/** Ends the run when nothing of it is open any more. @returns whether it ended now */
export async function endRunIfDone(tx: Tx, runId: number, now: Now): Promise<boolean> {
  const done = await tx.update(runs).set({ state: 'ended', endedAt: sql`${now}` })
    .where(and(eq(runs.id, runId), ne(runs.state, 'ended'), sql`not exists (select 1 from case_runs c where c.run_id = ${runId} and c.state <> 'ended')`))
  if (done.rowCount !== 1) return false
  await tellOfRun(tx, 'run.ended', runId)
  await tellOfRun(tx, 'failure.new', runId)
  return true
}

export async function beginRun(tx: Tx, runId: number, now: Now): Promise<void> {
  await tx.update(runs).set({ state: 'running', startedAt: sql`${now}` }).where(and(eq(runs.id, runId), eq(runs.state, 'waiting')))
}

/** Skips what waits in a phase, and says why the run ended early. */
export async function skipPhase(tx: Tx, runId: number, phase: number, why: string, now: Now): Promise<void> {
  await tx.update(caseRuns).set({ state: 'ended', outcome: 'skipped', endedAt: sql`${now}`, failureMessage: why }).where(and(eq(caseRuns.runId, runId), eq(caseRuns.phase, phase), eq(caseRuns.state, 'waiting')))
  await tx.update(runs).set({ endedWhy: sql`coalesce(${runs.endedWhy}, ${why})` }).where(eq(runs.id, runId))
}

/** Goes on to the next phase in which something is open, when nothing is in this one. @returns whether it did */
export async function moveToNextPhase(tx: Tx, runId: number): Promise<boolean> {
  const moved = await tx.execute(sql`update runs r set phase = n.phase from (select min(phase) as phase from case_runs where run_id = ${runId} and state <> 'ended') n where r.id = ${runId} and n.phase > r.phase`)
  return moved.rowCount === 1
}

export async function countFailures(tx: Tx, runId: number): Promise<number> {
  return tx.$count(caseRuns, and(eq(caseRuns.runId, runId), inArray(caseRuns.outcome, ['failed', 'errored']), eq(caseRuns.quarantined, false)))
}

/** Runs that go on for longer than they may. */
export const overdueRuns = async (tx: Tx, now: Now): Promise<{ id: number; runLimitMs: number | null }[]> =>
  await tx.select({ id: runs.id, runLimitMs: runs.runLimitMs }).from(runs).where(and(inArray(runs.state, statesBefore('run', 'cancel')), sql`${runs.startedAt} + ${runs.runLimitMs} * interval '1 ms' < ${now}`)).for('update', { skipLocked: true })

export const setRunPaused = async (tx: Tx, runId: number, paused: boolean): Promise<boolean> =>
  (await tx.update(runs).set({ paused }).where(and(eq(runs.id, runId), inArray(runs.state, statesBefore('run', 'pause'))))).rowCount === 1

/** Cancels what waits; what runs is told by heartbeat. @returns false when the run had ended already */
export async function cancelRun(tx: Tx, runId: number, now: Now, { why, noUndo = false }: { why?: string; noUndo?: boolean } = {}): Promise<boolean> {
  const changed = await tx.update(runs).set({ state: 'cancelling', noUndo, ...(why !== undefined && { endedWhy: why }) }).where(and(eq(runs.id, runId), inArray(runs.state, statesBefore('run', 'cancel'))))
  if (changed.rowCount !== 1) return false
  await tx.update(caseRuns).set({ state: 'ended', outcome: 'cancelled', endedAt: sql`${now}` }).where(and(eq(caseRuns.runId, runId), eq(caseRuns.state, 'waiting')))
  await endRunIfDone(tx, runId, now)
  return true
}

const failureColumns = (failure: Partial<Failure> | undefined) => ({
  failureKind: failure?.kind ?? null, failureMessage: failure?.message ?? null, failurePath: failure?.path ?? null,
})
