/** The causes of runs that have ended, kept for those who look at many runs. */
import { eq, sql } from 'drizzle-orm'
import type { KeptCause } from '@/core/view-models'
import type { Conn, Tx } from './client'
import type { Now } from './moment'
import { col, rowsOf, type RowOf } from './rows'
import { runCauses, runs } from './schema'

export const isNoTrial = sql`not exists (select from confirmations f where f.run_id = r.id)
    and not exists (
      select from experiments x where x.arms @> jsonb_build_array(jsonb_build_object('runId', r.id)))`

/** Not those that were started to tell what a failure is, or whether it is mended: what they say stands with
 * what they were started for. */
const counts = sql`r.kind <> 'rehearsal' and ${isNoTrial}`
const endedWithin = (now: Now, ms: number) =>
  sql`r.state = 'ended' and r.ended_at > ${now} - ${ms} * interval '1 ms' and ${counts}`

/** Runs that ended lately and were looked at by none of these versions, the newest first. */
export const runsToLookAt = async (
  db: Conn,
  now: Now,
  versions: readonly string[],
  withinMs: number,
  most: number,
): Promise<number[]> =>
  (
    await rowsOf(
      db,
      { id: col.integer },
      sql`
      select r.id from runs r where ${endedWithin(now, withinMs)}
        and coalesce(r.causes_version, '') <> all(${sql.param([...versions])}::text[])
      order by r.ended_at desc limit ${most}`,
    )
  ).map(({ id }) => id)

/** Runs that go on and have other failures than when they were looked at, the newest first, with how many. */
export const openRunsToLookAt = async (
  db: Conn,
  versions: readonly string[],
  most: number,
): Promise<{ id: number; failures: number }[]> =>
  rowsOf(
    db,
    { id: col.integer, failures: col.integer },
    sql`
      select r.id, now.failures from runs r cross join lateral (select count(*)::int as failures from case_runs c
        where c.run_id = r.id and c.outcome in ('failed', 'errored')) now
      where r.state <> 'ended' and ${counts} and (now.failures <> r.causes_of or
        now.failures > 0 and coalesce(r.causes_version, '') <> all(${sql.param([...versions])}::text[]))
      order by r.id desc limit ${most}`,
  )

/** In place of what was kept of the run before. @param of how many failures there were */
export async function keepRunCauses(
  tx: Tx,
  runId: number,
  {
    version,
    of,
    causes,
  }: { version: string; of: number; causes: readonly { signature: string; cause: KeptCause }[] },
): Promise<void> {
  await tx.delete(runCauses).where(eq(runCauses.runId, runId))
  if (causes.length > 0) await tx.insert(runCauses).values(causes.map((one) => ({ runId, ...one })))
  await tx.update(runs).set({ causesVersion: version, causesOf: of }).where(eq(runs.id, runId))
}

const KEPT = {
  runId: col.integer,
  title: col.text,
  build: col.text,
  startedBy: col.text,
  endedAt: col.orNull(col.moment),
  signature: col.text,
  cause: col.json<KeptCause>(),
}
/** Of runs that go on, and of those that ended lately, the newest run first. */
export const causesOfRuns = (
  db: Conn,
  now: Now,
  withinMs: number,
  most: number,
): Promise<RowOf<typeof KEPT>[]> =>
  rowsOf(
    db,
    KEPT,
    sql`
    select r.id as "runId", r.title, r.build, r.started_by as "startedBy", r.ended_at as "endedAt", k.signature, k.cause
    from runs r join run_causes k on k.run_id = r.id
    where (r.state <> 'ended' and ${counts} or ${endedWithin(now, withinMs)})
    order by r.ended_at desc nulls first, r.id desc limit ${most}`,
  )

/** Of all runs of a build that were looked at, the newest run first. */
export const causesOfBuild = (db: Conn, build: string, most: number): Promise<RowOf<typeof KEPT>[]> =>
  rowsOf(
    db,
    KEPT,
    sql`
    select r.id as "runId", r.title, r.build, r.started_by as "startedBy", r.ended_at as "endedAt", k.signature, k.cause
    from runs r join run_causes k on k.run_id = r.id
    where r.build = ${build} and r.kind <> 'rehearsal' and r.state = 'ended' and ${isNoTrial}
    order by r.ended_at desc, r.id desc limit ${most}`,
  )

/** A failure of a cause, by one of both. */
export type CauseMember = { attemptId: string } | { id: string }

/** How many cases fail of the cause that a failure is among; `undefined`: none is kept that names it. */
export const casesOfCause = async (
  db: Conn,
  runId: number,
  member: CauseMember,
): Promise<number | undefined> =>
  (
    await rowsOf(
      db,
      { cases: col.integer },
      sql`
      select (cause->>'cases')::int as cases from run_causes
      where run_id = ${runId}
        and cause->'members' @> jsonb_build_array(${JSON.stringify(member)}::jsonb) limit 1`,
    )
  )[0]?.cases
