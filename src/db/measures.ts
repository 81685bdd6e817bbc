/** What happened with failures over some weeks. */
import { sql, type SQL } from 'drizzle-orm'
import type { DecisionKind } from '@/core/triage'
import { TRACKER_DELETED, TRACKER_OVER, TRACKER_SAID_FIXED } from '@/core/view-models'
import type { Conn } from './client'
import type { Now } from './moment'
import { col, rowsOf } from './rows'
import { isNoTrial } from './run-causes'

/** Rows of each; of more the newest. */
const ROWS_MOST = 50_000

/** Decisions that hold. */
export const decisionsSince = (db: Conn, now: Now, ms: number) =>
  rowsOf(
    db,
    {
      at: col.instant,
      by: col.text,
      as: col.oneOf<DecisionKind>(),
      signature: col.text,
      runEndedAt: col.orNull(col.instant),
    },
    sql`
    select d.decided_at as at, d.decided_by as by, d.decided_as as "as", d.signature, r.ended_at as "runEndedAt"
    from cause_decisions d left join runs r on r.id = d.run_id
    where d.taken_back_at is null and d.decided_at > ${now} - ${ms} * interval '1 ms'
    order by d.id desc limit ${ROWS_MOST}`,
  )

/** Causes of each run that ended. */
export const causesSince = (db: Conn, now: Now, ms: number) =>
  rowsOf(
    db,
    { at: col.instant, signature: col.text, failures: col.integer, rotation: col.orNull(col.text) },
    sql`
    select r.ended_at as at, k.signature, (k.cause->>'failures')::int as failures, r.rotation_key as rotation
    from runs r join run_causes k on k.run_id = r.id
    where r.kind <> 'rehearsal' and r.ended_at > ${now} - ${ms} * interval '1 ms' and ${isNoTrial}
    order by r.ended_at desc limit ${ROWS_MOST}`,
  )

/** Runs of rotations that ended, with the time that seats spent on their attempts. Served by
 * runs_of_rotation_ended. */
export const rotationRunsSince = (db: Conn, now: Now, ms: number) =>
  rowsOf(
    db,
    {
      rotation: col.text,
      caseRuns: col.integer,
      failures: col.integer,
      seatMs: col.number,
    },
    sql`
    select r.rotation_key as rotation, c.all as "caseRuns", c.failures, t.ms as "seatMs"
    from (select id, rotation_key from runs where rotation_key is not null and kind <> 'rehearsal'
      and ended_at > ${now} - ${ms} * interval '1 ms' order by ended_at desc limit ${RUNS_MOST}) r
    cross join lateral (
      select count(*)::int as all, count(*) filter (where outcome in ('failed', 'errored'))::int as failures
      from case_runs where run_id = r.id) c
    cross join lateral (
      select coalesce(sum(extract(epoch from ended_at - started_at) * 1000), 0)::float8 as ms
      from attempts where run_id = r.id and ended_at is not null and started_at is not null) t`,
  )
const RUNS_MOST = 5000

/** When defects were logged, and when they were opened again: at the tracker they were over, or said to be
 * mended, and are not any more. Served by defects_newest and defect_states_newest. */
export async function defectsSince(
  db: Conn,
  now: Now,
  ms: number,
): Promise<{ logged: string[]; reopened: string[] }> {
  const since = sql`${now} - ${ms} * interval '1 ms'`
  const moments = (query: SQL) => rowsOf(db, { at: col.instant }, query)
  const [logged, reopened] = await Promise.all([
    moments(
      sql`select created_at as at from defects where created_at > ${since} order by created_at desc limit ${ROWS_MOST}`,
    ),
    moments(sql`
      select s.at from defect_states s
      cross join lateral (
        select state from defect_states p where p.defect_id = s.defect_id and p.id < s.id
        order by p.id desc limit 1) before
      where s.at > ${since} and before.state in (${TRACKER_OVER}, ${TRACKER_SAID_FIXED})
        and s.state not in (${TRACKER_OVER}, ${TRACKER_SAID_FIXED}, ${TRACKER_DELETED})
      order by s.at desc limit ${ROWS_MOST}`),
  ])
  return { logged: logged.map(({ at }) => at), reopened: reopened.map(({ at }) => at) }
}
