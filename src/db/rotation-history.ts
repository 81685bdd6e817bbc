/** What a rotation was over its last runs. */
import { sql } from 'drizzle-orm'
import type { RotationOutcome, RotationRun } from '@/core/reports'
import type { Conn } from './client'
import { col, rowsOf } from './rows'

/** Case runs of one report at the most. */
const OUTCOMES_MOST = 200_000

/** Runs of it that ended, the newest first. */
export const endedRunsOfRotation = (db: Conn, key: string, most: number): Promise<RotationRun[]> =>
  rowsOf(
    db,
    {
      id: col.integer,
      title: col.text,
      build: col.text,
      startedAt: col.orNull(col.instant),
      endedAt: col.orNull(col.instant),
      counts: col.json<RotationRun['counts']>(),
    },
    sql`
    select r.id, r.title, r.build, r.started_at as "startedAt", r.ended_at as "endedAt",
      coalesce(m.counts, '{}') as counts
    from (select * from runs where rotation_key = ${key} and ended_at is not null and kind <> 'rehearsal'
      order by ended_at desc limit ${most}) r
    left join lateral (select jsonb_object_agg(outcome, n) as counts from (
      select outcome, count(*) as n from case_runs where run_id = r.id and outcome is not null
      group by 1) by_outcome) m on true
    order by r.ended_at desc`,
  )

export const outcomesOfRuns = (db: Conn, runs: readonly number[]): Promise<RotationOutcome[]> =>
  rowsOf(
    db,
    {
      runId: col.integer,
      case: col.text,
      title: col.text,
      row: col.orNull(col.integer),
      environment: col.text,
      mark: col.oneOf<RotationOutcome['mark']>(),
      durationMs: col.orNull(col.integer),
    },
    sql`
    select run_id as "runId", case_key as case, title, row_index as row, environment, outcome as mark,
      duration_ms as "durationMs"
    from case_runs where run_id = any(${sql.param([...runs])}::int[]) and outcome is not null
    limit ${OUTCOMES_MOST}`,
  )
