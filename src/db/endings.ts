/** How attempts and case runs end, and what follows from it. */
import { and, asc, eq, inArray, lt, ne, sql } from 'drizzle-orm'
import { statesBefore, type AttemptOutcome, type Failure, type Outcome } from '@/core/execution'
import type { AttemptRow, CaseRunRow } from './claim'
import type { Conn, Tx } from './client'
import { held, type Hold } from './dispatch'
import { attempts, caseRuns, exclusiveHolds, runs } from './schema'
import type { Now } from './moment'
import { type RunFacts, runFacts } from './run-states'
import { col, rowsOf } from './rows'

/** Ends an attempt if the hold is good. @returns `undefined` if it is not; then nothing was written */
export async function endAttempt(
  tx: Tx,
  hold: Hold,
  end: { outcome: AttemptOutcome; failure?: Failure },
  now: Now,
): Promise<AttemptRow | undefined> {
  const [row] = await tx
    .update(attempts)
    .set({
      state: 'ended',
      outcome: end.outcome,
      endedAt: sql`${now}`,
      ...failureColumns(end.failure),
      failureTag: end.failure?.tag ?? null,
      failureApplication: end.failure?.application ?? null,
    })
    .where(held(hold))
    .returning()
  return row
}

/** Keeps a result that came after the lease had expired; only the first one. */
export async function noteLate(
  db: Conn,
  { agentId, attemptId, lease }: Hold,
  outcome: AttemptOutcome,
): Promise<void> {
  await db
    .update(attempts)
    .set({ lateResult: outcome })
    .where(
      and(
        eq(attempts.id, attemptId),
        eq(attempts.agentId, agentId),
        eq(attempts.lease, lease),
        eq(attempts.failureKind, 'agent'),
        sql`${attempts.lateResult} is null`,
      ),
    )
}

/** Open attempts whose lease ran out. Locked and skipped when another process looks at them too. */
export const expiredHolds = async (tx: Tx, now: Now, most: number): Promise<Hold[]> =>
  await tx
    .select({ agentId: attempts.agentId, attemptId: attempts.id, lease: attempts.lease })
    .from(attempts)
    .where(and(ne(attempts.state, 'ended'), lt(attempts.leasedUntil, sql`${now}`)))
    .limit(most)
    .for('update', { skipLocked: true })

/** Open attempts that said nothing for longer than their case may take, and those that go on long after
 * their run was cancelled. What is paused may be silent. */
export async function unreportedHolds(
  tx: Tx,
  now: Now,
  { graceMs, cancelMs, most }: { graceMs: number; cancelMs: number; most: number },
): Promise<Hold[]> {
  return rowsOf(
    tx,
    { agentId: col.text, attemptId: col.text, lease: col.integer },
    sql`
    select t.agent_id as "agentId", t.id as "attemptId", t.lease from attempts t
      join runs r on r.id = t.run_id join case_runs c on c.id = t.case_run_id
        join agents a on a.id = t.agent_id
    where t.state in ('claimed', 'running') and (
      not r.paused and not a.paused and t.reported_at < ${now} - (c.limit_ms + ${graceMs}) * interval '1 ms'
      or r.state = 'cancelling' and r.cancelling_at < ${now} - ${cancelMs} * interval '1 ms')
    limit ${most} for update of t skip locked`,
  )
}

export const attemptsOf = async (tx: Conn, caseRunId: string): Promise<AttemptRow[]> =>
  await tx
    .select()
    .from(attempts)
    .where(eq(attempts.caseRunId, caseRunId))
    .orderBy(asc(attempts.number), asc(attempts.role))

/** A case run, locked, with what its run says: the ends of a joint case's roles are settled one after the
 * other. */
export async function lockCaseRun(tx: Tx, id: string): Promise<{ caseRun: CaseRunRow; run: RunFacts }> {
  const [row] = await tx
    .select({ caseRun: caseRuns, run: runFacts })
    .from(caseRuns)
    .innerJoin(runs, eq(runs.id, caseRuns.runId))
    .where(eq(caseRuns.id, id))
    .for('update', { of: caseRuns })
  return row!
}

/** Other roles of this try are to end, too. @returns how many were told */
export async function tellToEnd(
  tx: Tx,
  { caseRunId, number }: Pick<AttemptRow, 'caseRunId' | 'number'>,
  why: string,
): Promise<number> {
  return (
    (
      await tx
        .update(attempts)
        .set({ told: why })
        .where(
          and(
            eq(attempts.caseRunId, caseRunId),
            eq(attempts.number, number),
            ne(attempts.state, 'ended'),
            sql`${attempts.told} is null`,
          ),
        )
    ).rowCount ?? 0
  )
}

export async function releaseHolds(tx: Tx, caseRunId: string): Promise<void> {
  await tx.delete(exclusiveHolds).where(eq(exclusiveHolds.caseRunId, caseRunId))
}

/** @param wish which agent the next try is to have, if that matters
 * @returns false when its run is being cancelled: then it does not wait. Shares a lock on the run, so that a
 * cancel sees it wait or is seen */
export async function waitAgain(
  tx: Tx,
  caseRun: Pick<CaseRunRow, 'id' | 'runId'>,
  wish: { wishAgent?: string; avoidAgent?: string } = {},
): Promise<boolean> {
  const [run] = await tx
    .select({ state: runs.state })
    .from(runs)
    .where(eq(runs.id, caseRun.runId))
    .for('share')
  if (run!.state === 'cancelling') return false
  await tx
    .update(caseRuns)
    .set({ state: 'waiting', gatheringAt: null, ...wish })
    .where(and(eq(caseRuns.id, caseRun.id), inArray(caseRuns.state, statesBefore('caseRun', 'again'))))
  return true
}

/** @param end.attempt the one that decided, where there were several */
export async function endCaseRun(
  tx: Tx,
  caseRunId: string,
  end: { outcome: Outcome; failure?: Partial<Failure>; attempt?: string | undefined },
  now: Now,
): Promise<void> {
  await tx
    .update(caseRuns)
    .set({
      state: 'ended',
      outcome: end.outcome,
      endedAt: sql`${now}`,
      ...failureColumns(end.failure),
      ...(end.attempt !== undefined && { shownAttempt: end.attempt }),
      durationMs: sql`(select greatest(0, round(extract(epoch
        from max(t.ended_at) - min(coalesce(t.started_at, t.claimed_at))) * 1000))::int from attempts t
          where t.case_run_id = ${caseRunId} and t.number = ${caseRuns.attempts})`,
    })
    .where(and(eq(caseRuns.id, caseRunId), inArray(caseRuns.state, statesBefore('caseRun', 'end'))))
}

/** Ends a case run that was taken and then could not be run: no attempt was made. */
export async function endUnrun(tx: Tx, caseRunId: string, why: string, now: Now): Promise<void> {
  await tx
    .update(caseRuns)
    .set({
      state: 'ended',
      outcome: 'skipped',
      endedAt: sql`${now}`,
      attempts: sql`${caseRuns.attempts} - 1`,
      failureMessage: why,
    })
    .where(and(eq(caseRuns.id, caseRunId), eq(caseRuns.state, 'claimed')))
}

/** Ends what waits behind a case run that did not pass, and what waits behind that: the rest of the scopes
 * it takes with it, or all of the run when it stops it.
 * @returns the scopes of what was skipped */
export async function skipBehind(
  tx: Tx,
  caseRun: Pick<CaseRunRow, 'runId' | 'environment' | 'title' | 'skips' | 'stops'>,
  now: Now,
): Promise<string[]> {
  const { runId, environment, title } = caseRun
  const over: string[] = []
  let next: Pick<CaseRunRow, 'skips' | 'stops'>[] = [caseRun]
  while (next.length > 0) {
    const scopes = [...new Set(next.flatMap(({ skips }) => skips))]
    const stops = next.some((one) => one.stops)
    if (scopes.length === 0 && !stops) break
    const behind = and(
      eq(caseRuns.environment, environment),
      sql`${caseRuns.scopes} && ${sql.param(scopes)}::text[]`,
    )
    const rows = await tx
      .update(caseRuns)
      .set({
        state: 'ended',
        outcome: 'skipped',
        endedAt: sql`${now}`,
        failureMessage: stops ? `“${title}” did not pass, which stops the run` : `“${title}” did not pass`,
      })
      .where(and(eq(caseRuns.runId, runId), eq(caseRuns.state, 'waiting'), stops ? undefined : behind))
      .returning({ skips: caseRuns.skips, stops: caseRuns.stops, scopes: caseRuns.scopes })
    over.push(...rows.flatMap((row) => row.scopes))
    next = rows.map((row) => ({ ...row, stops: false })) // what was never run cannot stop anything
  }
  return [...new Set(over)]
}

const HAS_NOTHING_BEFORE = sql`not exists (select from case_runs d
  where d.run_id = c.run_id and d.environment = c.environment and d.state <> 'ended' and d.scopes && c.after)`

/** What waited for these scopes alone may begin. Asked after the end is committed: of two ends at the same
 * moment the later one sees both.
 * @returns how many may begin now */
export async function letBegin(
  db: Conn,
  { runId, environment }: Pick<CaseRunRow, 'runId' | 'environment'>,
  scopes: readonly string[],
): Promise<number> {
  const { rowCount } = await db.execute(
    sql`update case_runs c set ready = true where c.run_id = ${runId} and c.environment = ${environment}
      and c.state = 'waiting' and not c.ready and c.after && ${sql.param(scopes)}::text[]
        and ${HAS_NOTHING_BEFORE}`,
  )
  return rowCount ?? 0
}

/** The same for all of a run: at its start, and where nobody came to it. */
export const letBeginAll = async (db: Conn, runId: number): Promise<number> =>
  (
    await db.execute(
      sql`update case_runs c set ready = true where c.run_id = ${runId} and c.state = 'waiting'
        and not c.ready and ${HAS_NOTHING_BEFORE}`,
    )
  ).rowCount ?? 0

const failureColumns = (failure: Partial<Failure> | undefined) => ({
  failureKind: failure?.kind ?? null,
  failureMessage: failure?.message ?? null,
  failurePath: failure?.path ?? null,
})
