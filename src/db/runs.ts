import { and, asc, desc, eq, inArray, lt, ne, sql, type SQL } from 'drizzle-orm'
import type { RotationHow } from '@/core/model'
import { NO_COUNTS, type Counts, type Mark } from '@/core/execution'
import { insertMany } from './bulk'
import { environmentOfAttempt } from './played'
import type { Conn, Tx } from './client'
import { tellOfRun } from './hooks'
import { attempts, caseRuns, events, importedResults, runs, type ImportedResult, type RunSnapshot } from './schema'
import type { Now } from './moment'

export type RunRow = Omit<typeof runs.$inferSelect, 'snapshot' | 'how'>
export type RunSight = Omit<RunRow, 'retryOn' | 'retryAgent'> & { counts: Counts; /** Failures in quarantine: they are among the counts, and do not fail the run. */ quarantined: number; failingCases: number }
export type NewRun = Omit<typeof runs.$inferInsert, 'id' | 'state' | 'createdAt' | 'startedAt' | 'endedAt' | 'goneAt'> & { goneAt?: SQL }
export type NewCaseRun = Omit<typeof caseRuns.$inferInsert, 'id' | 'runId'>

export async function addRun(tx: Tx, run: NewRun, items: NewCaseRun[], now: Now): Promise<number> {
  const [row] = await tx.insert(runs).values({ ...run, createdAt: sql`${now}` }).returning({ id: runs.id })
  await insertMany(tx, caseRuns, items.map((item) => ({ ...item, runId: row!.id })))
  if (row && run.kind !== 'rehearsal' && run.kind !== 'imported') await tellOfRun(tx, 'run.started', row.id)
  return row!.id
}

/** Runs with their counts, one query whatever their number. */
async function sights(db: Conn, where: ReturnType<typeof sql>, order = sql`r.id desc`, most = 200): Promise<RunSight[]> {
  const { rows } = await db.execute<Record<string, unknown>>(sql`
    select r.id, r.title, r.kind, r.suite_key as "suiteKey", r.build, r.state, r.retries, r.limit_ms as "limitMs", r.started_by as "startedBy",
           r.created_at as "createdAt", r.started_at as "startedAt", r.ended_at as "endedAt", r.again_of as "againOf", r.gone_at as "goneAt", r.rotation_key as "rotationKey", r.pool, r.phase, r.run_limit_ms as "runLimitMs", r.stop_after as "stopAfter", r.ended_why as "endedWhy", r.forecast, r.finish, r.paused,
           coalesce(m.counts, '{}') as marks, coalesce(k.failing, 0)::int as "failingCases", coalesce(k.quarantined, 0)::int as quarantined
    from (select * from runs r where ${where} order by ${order} limit ${most}) r
    left join lateral (select jsonb_object_agg(mark, n) as counts from (select coalesce(outcome, state) as mark, count(*) as n from case_runs where run_id = r.id group by 1) by_mark) m on true
    left join lateral (select count(distinct case_key) filter (where outcome in ('failed', 'errored')) as failing,
                         count(*) filter (where quarantined and outcome in ('failed', 'errored')) as quarantined
                       from case_runs where run_id = r.id) k on true
    order by ${order}`)
  return rows.map(({ marks, ...row }) => ({ ...(row as unknown as RunSight), counts: { ...NO_COUNTS, ...(marks as Partial<Counts>) } }))
}

/** Rehearsals leave nothing in lists of what was. */
export const recentRuns = (db: Conn, most: number) => sights(db, sql`r.kind <> 'rehearsal'`, sql`r.id desc`, most)
export const openRuns = (db: Conn) => sights(db, sql`r.state <> 'ended'`, sql`r.id`)
export const runsBetween = (db: Conn, from: Date, to: Date) =>
  sights(db, sql`r.kind <> 'rehearsal' and r.created_at < ${to.toISOString()}::timestamptz and coalesce(r.ended_at, now()) > ${from.toISOString()}::timestamptz`, sql`r.created_at`, 400)
export const runSight = async (db: Conn, id: number): Promise<RunSight | undefined> => (await sights(db, sql`r.id = ${id}`))[0]

export const runSnapshot = async (db: Conn, id: number): Promise<RunSnapshot | undefined> =>
  (await db.select({ snapshot: runs.snapshot }).from(runs).where(eq(runs.id, id)))[0]?.snapshot

/** What a run froze at its start, and what else its attempts go by. */
export async function frozenRun(db: Conn, id: number) {
  const [row] = await db.select({ build: runs.build, how: runs.how, snapshot: runs.snapshot }).from(runs).where(eq(runs.id, id))
  return row && { build: row.build, how: row.how, ...row.snapshot }
}

/** Of a run's snapshot only what one case needs: the rest may be megabytes. */
export async function snapshotForCase(db: Conn, runId: number, caseKey: string, environment: string) {
  const { rows } = await db.execute<Record<string, unknown>>(sql`
    select snapshot->'cases'->${caseKey} as "testCase", how, snapshot->'routines' as routines, snapshot->'applications' as applications, snapshot->'policies' as policies,
           coalesce(jsonb_path_query_first(snapshot, '$.environments[*] ? (@.key == $k)', jsonb_build_object('k', ${environment}::text)), jsonb_path_query_first(snapshot, '$.roleEnvironments[*] ? (@.key == $k)', jsonb_build_object('k', ${environment}::text))) as environment, build, title, id, retries
    from runs where id = ${runId}`)
  return rows[0] as unknown as {
    testCase: RunSnapshot['cases'][string]; routines: RunSnapshot['routines']; applications: RunSnapshot['applications']; policies: RunSnapshot['policies'] | null
    environment: RunSnapshot['environments'][number]; build: string; title: string; id: number; retries: number; how: RotationHow | null
  } | undefined
}

export type CaseRunSight = {
  id: string; position: number; caseKey: string; title: string; groups: string[]; environment: string; rowIndex: number | null; rowCount: number | null
  mark: Mark; attempts: number; failureKind: string | null; failureMessage: string | null; durationMs: number | null; estimateMs: number
  lastAttempt: string | null; screen: string | null; agent: string | null; onlyAgent: string
}

/** All case runs of a run, in order, each with its newest attempt: one query. */
export async function caseRunsOf(db: Conn, runId: number): Promise<CaseRunSight[]> {
  const { rows } = await db.execute<Record<string, unknown>>(sql`
    select c.id, c.position, c.case_key as "caseKey", c.title, c.groups, c.environment, c.row_index as "rowIndex", c.row_count as "rowCount", c.agent as "onlyAgent",
           coalesce(c.outcome, c.state) as mark, c.attempts, c.failure_kind as "failureKind", c.failure_message as "failureMessage",
           c.duration_ms as "durationMs", c.estimate_ms as "estimateMs", t.id as "lastAttempt", t.screen, t.agent_name as agent
    from case_runs c left join attempts t on t.id = c.shown_attempt
    where c.run_id = ${runId} order by c.position, c.agent, c.environment`)
  return rows as unknown as CaseRunSight[]
}

export type LaneItem = { attemptId: string; agent: string; seat: number; title: string; environment: string; number: number; mark: Mark; from: string; to: string | null; estimateMs: number; simulated: boolean }

/** Every attempt of a run on its seat, oldest first. */
export async function lanesOf(db: Conn, runId: number): Promise<LaneItem[]> {
  const { rows } = await db.execute<Record<string, unknown>>(sql`
    select t.id as "attemptId", t.agent_name as agent, t.seat, c.title, ${environmentOfAttempt} as environment, t.number, coalesce(t.outcome, replace(t.state, 'assigned', 'claimed')) as mark,
           t.claimed_at as "from", t.ended_at as "to", c.estimate_ms as "estimateMs", a.simulated
    from attempts t join case_runs c on c.id = t.case_run_id join agents a on a.id = t.agent_id
    where t.run_id = ${runId} order by t.agent_name, t.seat, t.claimed_at`)
  return rows as unknown as LaneItem[]
}

export const attemptRow = async (db: Conn, id: string) => (await db.select().from(attempts).where(eq(attempts.id, id)))[0]
export const caseRunRow = async (db: Conn, id: string) => (await db.select().from(caseRuns).where(eq(caseRuns.id, id)))[0]
export const caseRunsWithOutcome = async (db: Conn, runId: number, outcomes: ('failed' | 'errored')[]) =>
  await db.select().from(caseRuns).where(and(eq(caseRuns.runId, runId), inArray(caseRuns.outcome, outcomes))).orderBy(asc(caseRuns.position), asc(caseRuns.environment))

export const eventsOf = async (db: Conn, attemptId: string) =>
  (await db.select({ no: events.no, body: events.body }).from(events).where(eq(events.attemptId, attemptId)).orderBy(asc(events.no))).map(({ no, body }) => ({ ...body, no }))

/** Neighbours in the walk over a run's failures ("." and ","): the newest attempts of failing case runs, in grid order. */
export async function failuresOf(db: Conn, runId: number): Promise<{ attemptId: string; caseRunId: string }[]> {
  const { rows } = await db.execute<{ attemptId: string; caseRunId: string }>(sql`
    select t.id as "attemptId", c.id as "caseRunId" from case_runs c join attempts t on t.id = c.shown_attempt
    where c.run_id = ${runId} and c.outcome in ('failed', 'errored') order by c.position, c.environment`)
  return rows
}

/** The last attempt that passed, of the same case, environment and row, before a moment. */
export async function lastGood(db: Conn, caseRun: { caseKey: string; environment: string; rowIndex: number | null }, before: Date) {
  const { rows } = await db.execute<{ attemptId: string; runId: number; runTitle: string; build: string }>(sql`
    select t.id as "attemptId", r.id as "runId", r.title as "runTitle", r.build
    from case_runs c join runs r on r.id = c.run_id and r.kind <> 'rehearsal' join attempts t on t.id = c.shown_attempt
    where c.case_key = ${caseRun.caseKey} and c.environment = ${caseRun.environment} and c.outcome in ('passed', 'recovered')
      and c.row_index is not distinct from ${caseRun.rowIndex} and c.ended_at < ${before.toISOString()}::timestamptz
    order by c.ended_at desc limit 1`)
  return rows[0]
}

/** How many earlier case runs of one case the rows of marks show. */
const LAST_OUTCOMES = 10

/** Per case the newest outcomes (newest first) and the durations of what passed, over all environments. One query over the history index. */
export async function historyOfCases(db: Conn, keys: string[]): Promise<Map<string, { outcomes: { mark: Mark; attemptId: string | null }[]; durations: number[] }>> {
  if (keys.length === 0) return new Map()
  const list = sql.join(keys.map((key) => sql`(${key})`), sql`, `)
  const { rows } = await db.execute<Record<string, unknown>>(sql`
    select k.key, h.outcomes, h.durations from (values ${list}) as k(key) cross join lateral (
      select jsonb_agg(jsonb_build_object('mark', outcome, 'attemptId', attempt)) as outcomes,
             jsonb_agg(duration_ms) filter (where outcome in ('passed', 'recovered') and duration_ms is not null) as durations
      from (select c.outcome, c.duration_ms, t.id as attempt from case_runs c join runs r on r.id = c.run_id and r.kind <> 'rehearsal' left join attempts t on t.id = c.shown_attempt
            where c.case_key = k.key and c.ended_at is not null order by c.ended_at desc limit ${LAST_OUTCOMES}) newest) h`)
  return new Map(rows.map((row) => [row.key as string, { outcomes: (row.outcomes as never) ?? [], durations: (row.durations as never) ?? [] }]))
}

export type PastCaseRun = { case: string; environment: string; ms: number; endedAt: string; outcome: string; attempts: number; /** Waits its rotation asked for. */ settleMs: number | null; betweenMs: number | null }
const PAST_OF_A_CASE = 120

/** The newest case runs of these cases, for estimates; `now` is the moment they are looked at. Served by case_runs_history. */
export async function pastCaseRuns(db: Conn, keys: readonly string[], now: Now): Promise<{ runs: PastCaseRun[]; now: string }> {
  const { rows: [moment] } = await db.execute<{ now: Date }>(sql`select ${now} as now`)
  const at = new Date(moment!.now).toISOString()
  if (keys.length === 0) return { runs: [], now: at }
  const list = sql.join(keys.map((key) => sql`(${key})`), sql`, `)
  const { rows } = await db.execute<Record<string, unknown>>(sql`
    select k.key as case, h.environment, h.duration_ms as ms, h.ended_at as "endedAt", h.outcome, h.attempts, h."settleMs", h."betweenMs" from (values ${list}) as k(key) cross join lateral (
      select c.environment, c.duration_ms, c.ended_at, c.outcome, c.attempts, (r.how->>'settleMs')::int as "settleMs", (r.how->>'betweenMs')::int as "betweenMs" from case_runs c join runs r on r.id = c.run_id and r.kind = 'run'
      where c.case_key = k.key and c.ended_at is not null and c.duration_ms is not null order by c.ended_at desc limit ${PAST_OF_A_CASE}) h`)
  return { runs: rows.map((row) => ({ ...row, endedAt: new Date(row.endedAt as string).toISOString() })) as PastCaseRun[], now: at }
}

/** Cases that fail in a run and did not in the run of the same suite before it, with where they fail. */
export async function newlyFailing(db: Conn, runId: number): Promise<{ previousTitle: string | null; cases: { title: string; caseKey: string; attemptId: string; environments: number; ofEnvironments: number }[] }> {
  const { rows } = await db.execute<{ id: number; title: string }>(sql`
    select p.id, p.title from runs r join runs p on p.suite_key = r.suite_key and p.id < r.id and p.state = 'ended' and p.kind = r.kind where r.id = ${runId} order by p.id desc limit 1`)
  const previous = rows[0]
  if (!previous) return { previousTitle: null, cases: [] }
  const failing = await db.execute<Record<string, unknown>>(sql`
    select min(c.title) as title, c.case_key as "caseKey", min(t.id::text) as "attemptId", count(distinct c.environment)::int as environments,
           (select count(distinct environment)::int from case_runs a where a.run_id = ${runId} and a.case_key = c.case_key) as "ofEnvironments"
    from case_runs c left join attempts t on t.id = c.shown_attempt
    where c.run_id = ${runId} and c.outcome in ('failed', 'errored')
      and not exists (select 1 from case_runs b where b.run_id = ${previous.id} and b.case_key = c.case_key and b.outcome in ('failed', 'errored'))
    group by c.case_key order by count(*) desc, 1`)
  return { previousTitle: previous.title, cases: failing.rows as never }
}

export async function newestFailureOf(db: Conn, caseKey: string): Promise<{ attemptId: string; endedAt: Date } | undefined> {
  const [row] = await db.select({ attemptId: attempts.id, endedAt: attempts.endedAt }).from(caseRuns)
    .innerJoin(attempts, eq(attempts.id, caseRuns.shownAttempt))
    .innerJoin(runs, and(eq(runs.id, caseRuns.runId), ne(runs.kind, 'rehearsal')))
    .where(and(eq(caseRuns.caseKey, caseKey), inArray(caseRuns.outcome, ['failed', 'errored']))).orderBy(desc(caseRuns.endedAt)).limit(1)
  return row?.endedAt ? { attemptId: row.attemptId, endedAt: row.endedAt } : undefined
}

/** Makes a rehearsal a run that counts. @returns false when it is none any more */
export const keepRehearsal = async (db: Conn, runId: number): Promise<boolean> =>
  (await db.update(runs).set({ kind: 'run', goneAt: null }).where(and(eq(runs.id, runId), eq(runs.kind, 'rehearsal')))).rowCount === 1

/** Deletes rehearsals whose day is over, with all that was logged of them. */
export const dropOldRehearsals = async (db: Conn, now: Now): Promise<number> =>
  (await db.delete(runs).where(and(eq(runs.kind, 'rehearsal'), eq(runs.state, 'ended'), lt(runs.goneAt, sql`${now}`)))).rowCount ?? 0

export type NewImportedCase = { caseRun: Omit<typeof caseRuns.$inferInsert, 'id' | 'state'>; body: ImportedResult }

/** Case runs of a result file, with what it said of each: two statements for many. */
export async function addImportedCases(tx: Tx, cases: NewImportedCase[]): Promise<void> {
  const rows = await tx.insert(caseRuns).values(cases.map(({ caseRun }) => ({ ...caseRun, state: 'ended' as const }))).returning({ id: caseRuns.id, position: caseRuns.position })
  const ids = new Map(rows.map(({ id, position }) => [position, id]))
  await tx.insert(importedResults).values(cases.map(({ caseRun, body }) => ({ caseRunId: ids.get(caseRun.position)!, body })))
}

/** The run counts as ended when it was taken in, and as long as its cases took together. */
export async function endImport(tx: Tx, runId: number, ms: number, now: Now): Promise<void> {
  await tx.update(runs).set({ state: 'ended', endedAt: sql`${now}`, startedAt: sql`${now} - ${Math.round(ms)} * interval '1 ms'` }).where(eq(runs.id, runId))
  await tx.update(caseRuns).set({ startedAt: sql`${now}`, endedAt: sql`${now}` }).where(eq(caseRuns.runId, runId))
}

export const importedResult = async (db: Conn, caseRunId: string): Promise<ImportedResult | undefined> => (await db.select({ body: importedResults.body }).from(importedResults).where(eq(importedResults.caseRunId, caseRunId)))[0]?.body
