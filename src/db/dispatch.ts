/** Holding work, and what comes of it while it goes on. Every write by a holder checks in the same statement
 * that it still holds. */
import { and, eq, inArray, ne, sql } from 'drizzle-orm'
import { statesBefore, type NumberedEvent } from '@/core/execution'
import type { AttemptRow } from './claim'
import type { Conn, Tx } from './client'
import { addEvidenceUses } from './evidence'
import { attempts, caseRuns, type Recovery } from './schema'
import { later, type Now } from './moment'
import { asyncCommit } from './async-commit'
import { col, rowsOf, type RowOf } from './rows'

/** What a holder must show: only the agent that claimed an attempt may say anything of it. */
export type Hold = { agentId: string; attemptId: string; lease: number }

/** The one condition under which anything that is sent for an attempt is taken. */
export const held = ({ agentId, attemptId, lease }: Hold) =>
  and(
    eq(attempts.id, attemptId),
    eq(attempts.agentId, agentId),
    eq(attempts.lease, lease),
    ne(attempts.state, 'ended'),
  )

/** What a holder is to know about what it holds. `told`: it is to end, and why. */
const RENEWED = {
  id: col.text,
  cancelling: col.flag,
  noUndo: col.flag,
  paused: col.flag,
  told: col.orNull(col.text),
  watched: col.flag,
}
export type Renewed = RowOf<typeof RENEWED>

/** Renews what the agent still holds. @returns only that: what is missing is not held any more */
export async function renewLeases(
  db: Conn,
  agentId: string,
  holds: readonly Omit<Hold, 'agentId'>[],
  now: Now,
  leaseMs: number,
): Promise<Renewed[]> {
  if (holds.length === 0) return []
  const pairs = sql.join(
    holds.map((hold) => sql`(${hold.attemptId}::uuid, ${hold.lease}::int)`),
    sql`, `,
  )
  return rowsOf(
    db,
    RENEWED,
    sql`
    update attempts t set leased_until = ${later(now, leaseMs)} from runs r, agents a
    where r.id = t.run_id and a.id = t.agent_id and t.agent_id = ${agentId} and t.state <> 'ended'
      and (t.id, t.lease) in (${pairs})
    returning t.id, r.state = 'cancelling' as cancelling, r.no_undo as "noUndo",
      r.paused or a.paused as paused, t.told, coalesce(t.watched_until > ${now}, false) as watched, ${asyncCommit}`,
  )
}

/** The attempt, locked against ending, if the hold is good. */
export const lockHeld = async (tx: Tx, hold: Hold): Promise<AttemptRow | undefined> =>
  (await tx.select().from(attempts).where(held(hold)).for('no key update'))[0]

/** Adds uses of recovery rules; one that is there already (a batch sent twice) is left as it is. */
export async function noteRecoveries(tx: Tx, attempt: AttemptRow, found: readonly Recovery[]): Promise<void> {
  const fresh = found.filter(({ no }) => !attempt.recoveries.some((known) => known.no === no))
  if (fresh.length > 0)
    await tx
      .update(attempts)
      .set({ recoveries: [...attempt.recoveries, ...fresh] })
      .where(eq(attempts.id, attempt.id))
}

/** Whether the hold is good now. */
export const isHeld = async (db: Conn, hold: Hold): Promise<boolean> =>
  (await db.select({ id: attempts.id }).from(attempts).where(held(hold))).length > 0

/** Marks case runs as paused, or as running again, when their run or their agent was paused or goes on. */
export async function markPaused(tx: Tx, which: { runId: number } | { agentId: string }): Promise<void> {
  // Silence while paused is no silence. First, as it waits for those that begin at this moment: they do not
  // know of the pause, and the next statement sees them running.
  await tx
    .update(attempts)
    .set({ reportedAt: sql`now()` })
    .where(
      and(
        ne(attempts.state, 'ended'),
        'runId' in which ? eq(attempts.runId, which.runId) : eq(attempts.agentId, which.agentId),
      ),
    )
  await tx.execute(sql`
    update case_runs c set state = case when r.paused or a.paused then 'paused' else 'running' end
    from attempts t, runs r, agents a where t.case_run_id = c.id and t.state = 'running' and r.id = t.run_id
      and a.id = t.agent_id and c.state in ('running', 'paused')
      and ${'runId' in which ? sql`t.run_id = ${which.runId}` : sql`t.agent_id = ${which.agentId}`}`)
}

export async function noteProgress(
  tx: Tx,
  attempt: AttemptRow,
  progress: { atStep?: string; screen?: string },
  now: Now,
): Promise<void> {
  const begins = statesBefore('attempt', 'begin').includes(attempt.state)
  await tx
    .update(attempts)
    .set({
      ...progress,
      reportedAt: sql`${now}`,
      ...(begins && { state: 'running' as const, startedAt: sql`${now}` }),
    })
    .where(eq(attempts.id, attempt.id))
  if (begins) {
    // It may have been paused between its claim and now.
    const state = sql<
      'running' | 'paused'
    >`case when (select r.paused from runs r where r.id = ${attempt.runId})
      or (select a.paused from agents a where a.id = ${attempt.agentId}) then 'paused' else 'running' end`
    await tx
      .update(caseRuns)
      .set({ state, startedAt: sql`coalesce(${caseRuns.startedAt}, ${now})` })
      .where(
        and(eq(caseRuns.id, attempt.caseRunId), inArray(caseRuns.state, statesBefore('caseRun', 'begin'))),
      )
  }
}

/** Stores events; a number already there is left as it is, so a batch is safe to send twice. One parameter,
 * however many events. */
export async function addEvents(tx: Tx, attemptId: string, batch: readonly NumberedEvent[]): Promise<void> {
  if (batch.length === 0) return
  await tx.execute(sql`insert into events (attempt_id, no, body)
    select ${attemptId}::uuid, (e->>'no')::int, e - 'no'
      from jsonb_array_elements(${JSON.stringify(batch)}::jsonb) e on conflict do nothing`)
  await addEvidenceUses(tx, attemptId, batch)
}
