/** Runs that were started to find out what a cause is, and how they ended. */
import { sql } from 'drizzle-orm'
import type { Likelihoods } from '@/core/triage'
import type { Conn, Tx } from './client'
import { col, rowsOf, type RowOf } from './rows'
import { experiments, type ExperimentArm } from './schema'

export const addExperiment = async (tx: Tx, row: typeof experiments.$inferInsert): Promise<void> =>
  void (await tx.insert(experiments).values(row))

/** Of an arm: how its case runs ended. An error is a failure here, as what fails without a check ends as one.
 * `other`: what was skipped or cancelled. */
export type ArmCounts = ExperimentArm & { passed: number; failed: number; other: number; open: number }
const EXPERIMENT = {
  id: col.integer,
  signature: col.text,
  build: col.text,
  likely: col.json<Likelihoods>(),
  by: col.text,
  at: col.instant,
  arms: col.json<ArmCounts[]>(),
}
export type ExperimentRow = RowOf<typeof EXPERIMENT>

/** The newest of each signature first. A run that was deleted has nothing to say: it counts as over. */
export const experimentsOf = (
  db: Conn,
  signatures: readonly string[],
  most: number,
): Promise<ExperimentRow[]> =>
  rowsOf(
    db,
    EXPERIMENT,
    sql`
    select e.id, e.signature, e.build, e.likely, e.started_by as by, e.started_at as at, (
      select jsonb_agg(a.arm || jsonb_build_object('passed', n.passed, 'failed', n.failed, 'other', n.other,
          'open', n.open) order by a.place)
      from jsonb_array_elements(e.arms) with ordinality a(arm, place) cross join lateral (
        select count(*) filter (where c.outcome in ('passed', 'recovered')) as passed,
          count(*) filter (where c.outcome in ('failed', 'errored')) as failed,
          count(*) filter (where c.outcome not in ('passed', 'recovered', 'failed', 'errored')) as other,
          count(*) filter (where c.outcome is null) as open
        from case_runs c where c.run_id = (a.arm->>'runId')::int) n) as arms
    from (select * from experiments where signature = any(${sql.param([...signatures])}::text[])
      order by id desc limit ${most}) e order by e.id desc`,
  )

/** Environments where a case passed in a run, in the order they stand there. */
export const passedElsewhere = async (db: Conn, runId: number, caseKey: string): Promise<string[]> =>
  (
    await rowsOf(
      db,
      { environment: col.text },
      sql`
      select environment from case_runs where run_id = ${runId} and case_key = ${caseKey}
      group by environment having bool_and(outcome in ('passed', 'recovered')) order by min(position), environment`,
    )
  ).map(({ environment }) => environment)

/** What was found of a cause in a run, when that had ended. */
export const likelyInRun = async (
  db: Conn,
  runId: number,
  signature: string,
): Promise<Partial<Likelihoods> | undefined> =>
  (
    await rowsOf(
      db,
      { likely: col.json<Partial<Likelihoods>>() },
      sql`
      select (select jsonb_object_agg(l->>'cause', l->'likelihood') from jsonb_array_elements(cause->'likely') l) as likely
      from run_causes where run_id = ${runId} and signature = ${signature}`,
    )
  )[0]?.likely
