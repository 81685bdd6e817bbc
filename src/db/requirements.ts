/** Requirements, and what is known of a build: how its cases ended, and who let it out. */
import { asc, desc, eq, sql } from 'drizzle-orm'
import type { CaseResult, Requirement } from '@/core/requirements'
import type { Conn, Tx } from './client'
import { col, rowsOf, type RowOf } from './rows'
import { releases, requirements } from './schema'

/** In the order of their list. */
export const listRequirements = async (db: Conn): Promise<Requirement[]> =>
  await db
    .select({
      key: requirements.key,
      title: requirements.title,
      parent: requirements.parent,
      importance: requirements.importance,
    })
    .from(requirements)
    .orderBy(asc(requirements.position))

/** Who replaces the list waits for who does so at the same moment: until the transaction ends. */
export const lockRequirements = async (tx: Tx): Promise<void> =>
  void (await tx.execute(sql`select pg_advisory_xact_lock(hashtextextended('requirements', 7))`))

/** In place of all there were. */
export async function replaceRequirements(tx: Tx, list: readonly Requirement[]): Promise<void> {
  await tx.delete(requirements)
  for (let at = 0; at < list.length; at += ROWS_AT_ONCE) {
    const part = list.slice(at, at + ROWS_AT_ONCE)
    await tx.insert(requirements).values(part.map((one, i) => ({ ...one, position: at + i })))
  }
}
/** A statement has at most 65,535 values. */
const ROWS_AT_ONCE = 1000

/** Cases with the requirements that they are evidence for; others are left out. */
export const casesWithRequirements = (db: Conn) =>
  rowsOf(
    db,
    { key: col.text, title: col.text, requires: col.texts },
    sql`
    select key, title, document->'requires' as requires from definitions
    where kind = 'case' and jsonb_array_length(coalesce(document->'requires', '[]')) > 0 order by key`,
  )

const RESULT = {
  caseKey: col.text,
  title: col.text,
  environment: col.text,
  isGood: col.flag,
  quarantined: col.flag,
  runId: col.integer,
  attemptId: col.orNull(col.text),
  endedAt: col.instant,
}
export type ResultOfBuild = CaseResult & RowOf<typeof RESULT>

/** The newest of each case on each environment with a build; of several rows the worst. What was rehearsed
 * and what people did live counts for nothing. Served by runs_of_build. */
export const resultsOfBuild = (db: Conn, build: string): Promise<ResultOfBuild[]> =>
  rowsOf(
    db,
    RESULT,
    sql`
    select distinct on (case_key, environment) case_key as "caseKey", title, environment, good as "isGood",
      quarantined, run_id as "runId", shown_attempt as "attemptId", ended_at as "endedAt"
    from (
      select distinct on (c.case_key, c.environment, c.row_index) c.case_key, c.title, c.environment,
        c.outcome in ('passed', 'recovered') as good, c.quarantined, c.run_id, c.shown_attempt, c.ended_at
      from runs r join case_runs c on c.run_id = r.id
      where r.build = ${build} and r.kind <> 'rehearsal' and not r.live
        and c.outcome in ('passed', 'recovered', 'failed', 'errored')
      order by c.case_key, c.environment, c.row_index, c.ended_at desc nulls last) newest
    order by case_key, environment, good, ended_at desc`,
  )

const OF_BUILDS = { caseKey: col.text, build: col.text, isGood: col.flag, quarantined: col.flag }

/** The newest of each case on each environment with each of these builds; of rows the worst. Served by
 * runs_of_build. */
export const resultsOfBuilds = (db: Conn, builds: readonly string[]): Promise<RowOf<typeof OF_BUILDS>[]> =>
  rowsOf(
    db,
    OF_BUILDS,
    sql`
    select distinct on (build, case_key, environment) build, case_key as "caseKey", good as "isGood", quarantined
    from (
      select distinct on (r.build, c.case_key, c.environment, c.row_index) r.build, c.case_key, c.environment,
        c.outcome in ('passed', 'recovered') as good, c.quarantined
      from runs r join case_runs c on c.run_id = r.id
      where r.build = any(${sql.param([...builds])}::text[]) and r.kind <> 'rehearsal' and not r.live
        and c.outcome in ('passed', 'recovered', 'failed', 'errored')
      order by r.build, c.case_key, c.environment, c.row_index, c.ended_at desc nulls last) newest
    order by build, case_key, environment, good`,
  )

/** Runs that count and have not ended. Served by runs_of_build. */
export const runsGoingWith = async (db: Conn, build: string): Promise<number> =>
  (
    await rowsOf(
      db,
      { going: col.integer },
      sql`
      select count(*)::int as going from runs
      where build = ${build} and kind <> 'rehearsal' and not live and state <> 'ended'`,
    )
  )[0]!.going

/** Cases that were rehearsed with a build. */
export const rehearsedWith = async (db: Conn, build: string): Promise<Set<string>> =>
  new Set(
    (
      await rowsOf(
        db,
        { key: col.text },
        sql`
        select distinct c.case_key as key from runs r join case_runs c on c.run_id = r.id
        where r.build = ${build} and r.kind = 'rehearsal' and c.ended_at is not null`,
      )
    ).map(({ key }) => key),
  )

export const defectsOfBuild = (db: Conn, build: string) =>
  rowsOf(
    db,
    { id: col.integer, title: col.text, severity: col.text, trackerState: col.orNull(col.text) },
    sql`
    select id, title, severity, tracker_state as "trackerState" from defects where build = ${build}
    order by array_position(array['critical', 'high', 'normal', 'low'], severity), id`,
  )

export const addRelease = async (tx: Tx, row: typeof releases.$inferInsert): Promise<number> =>
  (await tx.insert(releases).values(row).returning({ id: releases.id }))[0]!.id

/** The newest first. */
export const releasesOf = async (db: Conn, build: string) =>
  await db
    .select({
      id: releases.id,
      build: releases.build,
      decision: releases.decision,
      note: releases.note,
      sha256: releases.sha256,
      by: releases.signedBy,
      at: releases.signedAt,
    })
    .from(releases)
    .where(eq(releases.build, build))
    .orderBy(desc(releases.id))
    .limit(RELEASES_MOST)
const RELEASES_MOST = 20

export const releaseDocument = async (db: Conn, id: number) =>
  (
    await db
      .select({ build: releases.build, document: releases.document })
      .from(releases)
      .where(eq(releases.id, id))
  )[0]
