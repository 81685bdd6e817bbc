/** Runs that were to tell whether a defect is mended. */
import { sql } from 'drizzle-orm'
import type { ConfirmCounts } from '@/core/triage'
import type { Conn, Tx } from './client'
import { col, rowsOf } from './rows'
import { confirmations } from './schema'

export const addConfirmation = async (tx: Tx, row: typeof confirmations.$inferInsert): Promise<void> =>
  void (await tx.insert(confirmations).values(row))

export type ConfirmationRow = ConfirmCounts & {
  runId: number
  build: string
  times: number
  by: string
  at: string
}

/** The newest first, with how their case runs ended. */
export const confirmationsOf = (db: Conn, defectId: number, most: number): Promise<ConfirmationRow[]> =>
  rowsOf(
    db,
    {
      runId: col.integer,
      build: col.text,
      times: col.integer,
      by: col.text,
      at: col.instant,
      passed: col.integer,
      failed: col.integer,
      other: col.integer,
      open: col.integer,
    },
    sql`
    select f.run_id as "runId", r.build, f.times, f.started_by as by, f.started_at as at,
      count(*) filter (where c.outcome = 'passed')::int as passed,
      count(*) filter (where c.outcome = 'failed')::int as failed,
      count(*) filter (where c.outcome is null)::int as open,
      count(*) filter (where c.outcome not in ('passed', 'failed'))::int as other
    from (select * from confirmations where defect_id = ${defectId} order by id desc limit ${most}) f
    join runs r on r.id = f.run_id join case_runs c on c.run_id = f.run_id
    group by f.id, f.run_id, r.build, f.times, f.started_by, f.started_at order by f.id desc`,
  )

export type TriedOn = { environment: string; failed: number; of: number }

/** How often a case failed on a build, by environment, of its newest attempts there. */
export const triedOnBuild = (db: Conn, caseKey: string, build: string, most: number): Promise<TriedOn[]> =>
  rowsOf(
    db,
    { environment: col.text, failed: col.integer, of: col.integer },
    sql`
    select environment, count(*) filter (where outcome in ('failed', 'errored'))::int as failed, count(*)::int as of
    from (select c.environment, t.outcome from case_runs c
      join runs r on r.id = c.run_id join attempts t on t.case_run_id = c.id
      where c.case_key = ${caseKey} and r.build = ${build} and r.kind <> 'rehearsal' and t.outcome is not null
      order by c.ended_at desc nulls last limit ${most}) tried
    group by environment order by environment`,
  )
