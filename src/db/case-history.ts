/** What cases did in the past: for marks, estimates, and what is new about a failure. */
import { and, desc, eq, inArray, ne, sql } from 'drizzle-orm'
import type { Mark } from '@/core/execution'
import type { Conn } from './client'
import { col, rowsOf, type RowOf } from './rows'
import { attempts, caseRuns, runs } from './schema'
import type { Now } from './moment'

/** The last attempt that passed, of the same case, environment and row, before a moment. */
export async function lastGood(
  db: Conn,
  caseRun: { caseKey: string; environment: string; rowIndex: number | null },
  before: Date,
) {
  const [row] = await rowsOf(
    db,
    { attemptId: col.text, runId: col.integer, runTitle: col.text, build: col.text },
    sql`
    select t.id as "attemptId", r.id as "runId", r.title as "runTitle", r.build
    from case_runs c join runs r on r.id = c.run_id and r.kind <> 'rehearsal'
      join attempts t on t.id = c.shown_attempt
    where c.case_key = ${caseRun.caseKey} and c.environment = ${caseRun.environment}
      and c.outcome in ('passed', 'recovered')
      and c.row_index is not distinct from ${caseRun.rowIndex}
        and c.ended_at < ${before.toISOString()}::timestamptz
    order by c.ended_at desc limit 1`,
  )
  return row
}

/** How the newest results of a case were, by environment and build, oldest builds first. Served by the
 * history index. */
export const triedByBuild = (db: Conn, caseKey: string, most: number) =>
  rowsOf(
    db,
    {
      environment: col.text,
      build: col.text,
      failed: col.integer,
      of: col.integer,
      firstAt: col.instant,
    },
    sql`
    select environment, build, count(*) filter (where outcome in ('failed', 'errored'))::int as failed,
      count(*)::int as of, min(ended_at) as "firstAt"
    from (select c.environment, r.build, c.outcome, c.ended_at from case_runs c
      join runs r on r.id = c.run_id and r.kind <> 'rehearsal'
      where c.case_key = ${caseKey} and c.outcome in ('passed', 'recovered', 'failed', 'errored')
      order by c.ended_at desc limit ${most}) newest
    group by environment, build order by min(ended_at)`,
  )

/** Attempts one may want to see beside another of the same case: the newest on any environment and build. */
export const otherAttempts = (db: Conn, caseKey: string, attemptId: string) =>
  rowsOf(
    db,
    {
      attemptId: col.text,
      runTitle: col.text,
      build: col.text,
      environment: col.text,
      agent: col.text,
      outcome: col.text,
      endedAt: col.instant,
    },
    sql`
    select t.id as "attemptId", r.title as "runTitle", r.build, c.environment, t.agent_name as agent, c.outcome,
      c.ended_at as "endedAt"
    from (select * from case_runs where case_key = ${caseKey} and ended_at is not null
      order by ended_at desc limit ${OTHERS_MOST}) c
      join runs r on r.id = c.run_id and r.kind <> 'rehearsal'
      join attempts t on t.id = c.shown_attempt
    where t.id <> ${attemptId} order by c.ended_at desc`,
  )
const OTHERS_MOST = 40

/** How many earlier case runs of one case the rows of marks show. */
const LAST_OUTCOMES = 10

/** Per case the newest outcomes (newest first) and the durations of what passed, over all environments. One
 * query over the history index. */
export async function historyOfCases(
  db: Conn,
  keys: string[],
): Promise<Map<string, { outcomes: { mark: Mark; attemptId: string | null }[]; durations: number[] }>> {
  if (keys.length === 0) return new Map()
  const list = sql.join(
    keys.map((key) => sql`(${key})`),
    sql`, `,
  )
  const rows = await rowsOf(
    db,
    {
      key: col.text,
      outcomes: col.orNull(col.json<{ mark: Mark; attemptId: string | null }[]>()),
      durations: col.orNull(col.json<number[]>()),
    },
    sql`
    select k.key, h.outcomes, h.durations from (values ${list}) as k(key) cross join lateral (
      select jsonb_agg(jsonb_build_object('mark', outcome, 'attemptId', attempt)) as outcomes,
             jsonb_agg(duration_ms) filter (where outcome in ('passed', 'recovered')
               and duration_ms is not null) as durations
      from (select c.outcome, c.duration_ms, t.id as attempt from case_runs c
        join runs r on r.id = c.run_id and r.kind <> 'rehearsal' left
          join attempts t on t.id = c.shown_attempt
            where c.case_key = k.key and c.ended_at is not null order by c.ended_at desc
              limit ${LAST_OUTCOMES}) newest) h`,
  )
  return new Map(
    rows.map(({ key, outcomes, durations }) => [
      key,
      { outcomes: outcomes ?? [], durations: durations ?? [] },
    ]),
  )
}

/** `settleMs`, `betweenMs`: waits that its rotation asked for. */
const PAST_CASE_RUN = {
  case: col.text,
  environment: col.text,
  ms: col.integer,
  endedAt: col.instant,
  outcome: col.text,
  attempts: col.integer,
  settleMs: col.orNull(col.integer),
  betweenMs: col.orNull(col.integer),
}
export type PastCaseRun = RowOf<typeof PAST_CASE_RUN>

const PAST_OF_A_CASE = 120

/** The newest case runs of these cases, for estimates; `now` is the moment they are looked at. Served by
 * case_runs_history. */
export async function pastCaseRuns(
  db: Conn,
  keys: readonly string[],
  now: Now,
): Promise<{ runs: PastCaseRun[]; now: string }> {
  const [moment] = await rowsOf(db, { now: col.instant }, sql`select ${now} as now`)
  const at = moment!.now
  if (keys.length === 0) return { runs: [], now: at }
  const list = sql.join(
    keys.map((key) => sql`(${key})`),
    sql`, `,
  )
  const found = await rowsOf(
    db,
    PAST_CASE_RUN,
    sql`
    select k.key as case, h.environment, h.duration_ms as ms, h.ended_at as "endedAt", h.outcome,
      h.attempts, h."settleMs", h."betweenMs" from (values ${list}) as k(key) cross join lateral (
      select c.environment, c.duration_ms, c.ended_at, c.outcome, c.attempts,
        (r.how->>'settleMs')::int as "settleMs", (r.how->>'betweenMs')::int as "betweenMs" from case_runs c
          join runs r on r.id = c.run_id and r.kind = 'run'
      where c.case_key = k.key and c.ended_at is not null and c.duration_ms is not null
        order by c.ended_at desc limit ${PAST_OF_A_CASE}) h`,
  )
  return { runs: found, now: at }
}

/** Cases that fail in a run and did not in the run of the same suite before it, with where they fail. */
export async function newlyFailing(
  db: Conn,
  runId: number,
): Promise<{
  previousTitle: string | null
  previousBuild: string | null
  cases: {
    title: string
    caseKey: string
    attemptId: string | null
    environments: number
    ofEnvironments: number
  }[]
}> {
  const [previous] = await rowsOf(
    db,
    { id: col.integer, title: col.text, build: col.text },
    sql`
    select p.id, p.title, p.build from runs r join runs p on p.suite_key = r.suite_key and p.id < r.id
      and p.state = 'ended' and p.kind = r.kind where r.id = ${runId} order by p.id desc limit 1`,
  )
  if (!previous) return { previousTitle: null, previousBuild: null, cases: [] }
  const cases = await rowsOf(
    db,
    {
      title: col.text,
      caseKey: col.text,
      attemptId: col.orNull(col.text),
      environments: col.integer,
      ofEnvironments: col.integer,
    },
    sql`
    select min(c.title) as title, c.case_key as "caseKey", min(t.id::text) as "attemptId",
      count(distinct c.environment)::int as environments,
           (select count(distinct environment)::int from case_runs a
             where a.run_id = ${runId} and a.case_key = c.case_key) as "ofEnvironments"
    from case_runs c left join attempts t on t.id = c.shown_attempt
    where c.run_id = ${runId} and c.outcome in ('failed', 'errored')
      and not exists (select 1 from case_runs b where b.run_id = ${previous.id} and b.case_key = c.case_key
        and b.outcome in ('failed', 'errored'))
    group by c.case_key order by count(*) desc, 1`,
  )
  return { previousTitle: previous.title, previousBuild: previous.build, cases }
}

export async function newestFailureOf(
  db: Conn,
  caseKey: string,
): Promise<{ attemptId: string; endedAt: Date } | undefined> {
  const [row] = await db
    .select({ attemptId: attempts.id, endedAt: attempts.endedAt })
    .from(caseRuns)
    .innerJoin(attempts, eq(attempts.id, caseRuns.shownAttempt))
    .innerJoin(runs, and(eq(runs.id, caseRuns.runId), ne(runs.kind, 'rehearsal')))
    .where(and(eq(caseRuns.caseKey, caseKey), inArray(caseRuns.outcome, ['failed', 'errored'])))
    .orderBy(desc(caseRuns.endedAt))
    .limit(1)
  return row?.endedAt ? { attemptId: row.attemptId, endedAt: row.endedAt } : undefined
}
