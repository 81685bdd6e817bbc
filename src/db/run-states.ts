/** How runs begin, pause, go on from phase to phase and end. */
import { and, eq, inArray, ne, sql } from 'drizzle-orm'
import { statesBefore } from '@/core/execution'
import type { Conn, Tx } from './client'
import { tellOfRun } from './hooks'
import { enqueueMailsOfRun } from './report-mails'
import { caseRuns, runs } from './schema'
import type { Now } from './moment'
import { col, rowsOf } from './rows'

export type RunFacts = Pick<
  typeof runs.$inferSelect,
  'id' | 'state' | 'retries' | 'retryOn' | 'retryAgent' | 'phase' | 'stopAfter' | 'ordered'
>

export const runFacts = {
  id: runs.id,
  state: runs.state,
  retries: runs.retries,
  retryOn: runs.retryOn,
  retryAgent: runs.retryAgent,
  phase: runs.phase,
  stopAfter: runs.stopAfter,
  ordered: runs.ordered,
}

/** The run, with a row lock: steps that concern the whole run are done one after the other. */
export async function lockRun(tx: Tx, runId: number): Promise<RunFacts> {
  const [row] = await tx.select(runFacts).from(runs).where(eq(runs.id, runId)).for('update')
  return row!
}

/** Whether a case run of this phase has not ended. */
export async function isPhaseOpen(db: Conn, runId: number, phase: number): Promise<boolean> {
  const { rows } = await db.execute(
    sql`select 1 from case_runs where run_id = ${runId} and phase = ${phase} and state <> 'ended' limit 1`,
  )
  return rows.length > 0
}

/** Runs that are stuck: nothing of them is running and nothing may start, because the process that had to go
 * on with them died. */
export async function stalledRuns(db: Conn): Promise<number[]> {
  const rows = await rowsOf(
    db,
    { id: col.integer },
    sql`
    select r.id from runs r where r.state <> 'ended'
      and not exists (select from attempts t where t.run_id = r.id and t.state <> 'ended')
      and not exists (select from case_runs c where c.run_id = r.id and c.phase = r.phase
        and c.state <> 'ended' and (c.state <> 'waiting' or c.ready))`,
  )
  return rows.map(({ id }) => id)
}

/** Ends the run when nothing of it is open any more. @returns whether it ended now */
export async function endRunIfDone(tx: Tx, runId: number, now: Now): Promise<boolean> {
  const done = await tx
    .update(runs)
    .set({ state: 'ended', endedAt: sql`${now}` })
    .where(
      and(
        eq(runs.id, runId),
        ne(runs.state, 'ended'),
        sql`not exists (select 1 from case_runs c where c.run_id = ${runId} and c.state <> 'ended')`,
      ),
    )
  if (done.rowCount !== 1) return false
  await tellOfRun(tx, 'run.ended', runId)
  await tellOfRun(tx, 'failure.new', runId)
  await enqueueMailsOfRun(tx, runId)
  return true
}

export async function beginRun(tx: Tx, runId: number, now: Now): Promise<void> {
  await tx
    .update(runs)
    .set({ state: 'running', startedAt: sql`${now}` })
    .where(and(eq(runs.id, runId), eq(runs.state, 'waiting')))
}

/** Skips what waits in a phase, and says why the run ended early. */
export async function skipPhase(tx: Tx, runId: number, phase: number, why: string, now: Now): Promise<void> {
  await tx
    .update(caseRuns)
    .set({ state: 'ended', outcome: 'skipped', endedAt: sql`${now}`, failureMessage: why })
    .where(and(eq(caseRuns.runId, runId), eq(caseRuns.phase, phase), eq(caseRuns.state, 'waiting')))
  await tx
    .update(runs)
    .set({ endedWhy: sql`coalesce(${runs.endedWhy}, ${why})` })
    .where(eq(runs.id, runId))
}

/** Goes on to the next phase in which something is open, when nothing is in this one. @returns whether it
 * did */
export async function moveToNextPhase(tx: Tx, runId: number): Promise<boolean> {
  const moved = await tx.execute(
    sql`update runs r set phase = n.phase from (select min(phase) as phase from case_runs
      where run_id = ${runId} and state <> 'ended') n where r.id = ${runId} and n.phase > r.phase`,
  )
  return moved.rowCount === 1
}

export async function countFailures(tx: Tx, runId: number): Promise<number> {
  return tx.$count(
    caseRuns,
    and(
      eq(caseRuns.runId, runId),
      inArray(caseRuns.outcome, ['failed', 'errored']),
      eq(caseRuns.quarantined, false),
    ),
  )
}

/** Runs that exceed their time limit. */
export const overdueRuns = async (tx: Tx, now: Now): Promise<{ id: number; runLimitMs: number | null }[]> =>
  await tx
    .select({ id: runs.id, runLimitMs: runs.runLimitMs })
    .from(runs)
    .where(
      and(
        inArray(runs.state, statesBefore('run', 'cancel')),
        sql`${runs.startedAt} + ${runs.runLimitMs} * interval '1 ms' < ${now}`,
      ),
    )
    .for('update', { skipLocked: true })

export const setRunPaused = async (tx: Tx, runId: number, paused: boolean): Promise<boolean> =>
  (
    await tx
      .update(runs)
      .set({ paused })
      .where(and(eq(runs.id, runId), inArray(runs.state, statesBefore('run', 'pause'))))
  ).rowCount === 1

/** Cancels what waits; what runs is told by heartbeat. @returns false when the run had ended already */
export async function cancelRun(
  tx: Tx,
  runId: number,
  now: Now,
  { why, noUndo = false }: { why?: string; noUndo?: boolean } = {},
): Promise<boolean> {
  const changed = await tx
    .update(runs)
    .set({
      state: 'cancelling',
      cancellingAt: sql`${now}`,
      noUndo,
      ...(why !== undefined && { endedWhy: why }),
    })
    .where(and(eq(runs.id, runId), inArray(runs.state, statesBefore('run', 'cancel'))))
  if (changed.rowCount !== 1) return false
  await tx
    .update(caseRuns)
    .set({ state: 'ended', outcome: 'cancelled', endedAt: sql`${now}` })
    .where(and(eq(caseRuns.runId, runId), eq(caseRuns.state, 'waiting')))
  await endRunIfDone(tx, runId, now)
  return true
}
