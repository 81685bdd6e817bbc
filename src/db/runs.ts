/** Runs as they are laid out, and as views read them. */
import { and, asc, eq, inArray, lt, sql, type SQL } from 'drizzle-orm'
import type { RotationHow } from '@/core/model'
import { NO_COUNTS, type Counts, type Mark } from '@/core/execution'
import type { CaseRunFacts, Comparison, FinishForecast, RunForecast } from '@/core/view-models'
import { insertMany } from './bulk'
import { environmentOfAttempt } from './played'
import type { Conn, Db, Tx } from './client'
import { noteUsedNumber } from './run-numbers'
import { tellOfRun } from './hooks'
import { attempts, caseRuns, runs, type RunSnapshot } from './schema'
import type { Now } from './moment'
import { col, rowsOf, type RowOf } from './rows'

export type RunRow = Omit<typeof runs.$inferSelect, 'snapshot' | 'how'>

/** `quarantined`: failures in quarantine; they are among the counts, and do not fail the run. */
const RUN = {
  id: col.integer,
  title: col.text,
  kind: col.oneOf<RunRow['kind']>(),
  suiteKey: col.text,
  build: col.text,
  stage: col.orNull(col.text),
  state: col.oneOf<RunRow['state']>(),
  retries: col.integer,
  limitMs: col.integer,
  startedBy: col.text,
  createdAt: col.moment,
  startedAt: col.orNull(col.moment),
  endedAt: col.orNull(col.moment),
  againOf: col.orNull(col.integer),
  goneAt: col.orNull(col.moment),
  rotationKey: col.orNull(col.text),
  pool: col.orNull(col.text),
  phase: col.integer,
  runLimitMs: col.orNull(col.integer),
  stopAfter: col.orNull(col.integer),
  endedWhy: col.orNull(col.text),
  forecast: col.orNull(col.json<RunForecast>()),
  finish: col.orNull(col.json<FinishForecast>()),
  paused: col.flag,
  marks: col.json<Partial<Counts>>(),
  failingCases: col.integer,
  quarantined: col.integer,
}
export type RunViewModel = Omit<RowOf<typeof RUN>, 'marks'> & { counts: Counts }

export type NewRun = Omit<
  typeof runs.$inferInsert,
  'id' | 'state' | 'createdAt' | 'startedAt' | 'endedAt' | 'goneAt'
> & { goneAt?: SQL }

export type NewCaseRun = Omit<typeof caseRuns.$inferInsert, 'id' | 'runId'>

export async function addRun(tx: Tx, run: NewRun, items: NewCaseRun[], now: Now): Promise<number> {
  const [row] = await tx
    .insert(runs)
    .values({ ...run, createdAt: sql`${now}` })
    .returning({ id: runs.id })
  await insertMany(
    tx,
    caseRuns,
    items.map((item) => ({ ...item, runId: row!.id })),
  )
  if (row && run.kind !== 'rehearsal' && run.kind !== 'imported') await tellOfRun(tx, 'run.started', row.id)
  return row!.id
}

/** Runs with their counts, one query whatever their number. */
async function runsWhere(
  db: Conn,
  where: ReturnType<typeof sql>,
  order = sql`r.id desc`,
  most = 200,
): Promise<RunViewModel[]> {
  const rows = await rowsOf(
    db,
    RUN,
    sql`
    select r.id, r.title, r.kind, r.suite_key as "suiteKey", r.build, r.stage, r.state, r.retries,
      r.limit_ms as "limitMs", r.started_by as "startedBy", r.created_at as "createdAt",
      r.started_at as "startedAt", r.ended_at as "endedAt", r.again_of as "againOf",
      r.gone_at as "goneAt", r.rotation_key as "rotationKey", r.pool, r.phase,
      r.run_limit_ms as "runLimitMs", r.stop_after as "stopAfter", r.ended_why as "endedWhy",
      r.forecast, r.finish, r.paused, coalesce(m.counts, '{}') as marks,
      coalesce(k.failing, 0)::int as "failingCases", coalesce(k.quarantined, 0)::int as quarantined
    from (select * from runs r where ${where} order by ${order} limit ${most}) r
    left join lateral (select jsonb_object_agg(mark, n) as counts
      from (select coalesce(outcome, state) as mark, count(*) as n from case_runs
        where run_id = r.id group by 1) by_mark) m on true
    left join lateral (select count(distinct case_key)
      filter (where outcome in ('failed', 'errored')) as failing,
                         count(*) filter (where quarantined
                           and outcome in ('failed', 'errored')) as quarantined
                       from case_runs where run_id = r.id) k on true
    order by ${order}`,
  )
  return rows.map(({ marks, ...row }) => ({ ...row, counts: { ...NO_COUNTS, ...marks } }))
}

/** Rehearsals leave nothing in lists of what was. */
export const recentRuns = (db: Conn, most: number) =>
  runsWhere(db, sql`r.kind <> 'rehearsal'`, sql`r.id desc`, most)

export const openRuns = (db: Conn) => runsWhere(db, sql`r.state <> 'ended'`, sql`r.id`)

export const runsBetween = (db: Conn, from: Date, to: Date) =>
  runsWhere(
    db,
    sql`r.kind <> 'rehearsal' and r.created_at < ${to.toISOString()}::timestamptz and coalesce(r.ended_at,
      now()) > ${from.toISOString()}::timestamptz`,
    sql`r.created_at`,
    400,
  )

export const runViewModel = async (db: Conn, id: number): Promise<RunViewModel | undefined> =>
  (await runsWhere(db, sql`r.id = ${id}`))[0]

export const runSnapshot = async (db: Conn, id: number): Promise<RunSnapshot | undefined> =>
  (await db.select({ snapshot: runs.snapshot }).from(runs).where(eq(runs.id, id)))[0]?.snapshot

/** What a run froze at its start, and what else its attempts go by. */
export async function frozenRun(db: Conn, id: number) {
  const [row] = await db
    .select({ build: runs.build, how: runs.how, live: runs.live, snapshot: runs.snapshot })
    .from(runs)
    .where(eq(runs.id, id))
  return row && { build: row.build, how: row.how, live: row.live, ...row.snapshot }
}

/** Of a run's snapshot only what one case needs: the rest may be megabytes. */
export async function snapshotForCase(db: Conn, runId: number, caseKey: string, environment: string) {
  const [row] = await rowsOf(
    db,
    {
      testCase: col.json<RunSnapshot['cases'][string]>(),
      routines: col.json<RunSnapshot['routines']>(),
      applications: col.json<RunSnapshot['applications']>(),
      policies: col.orNull(col.json<NonNullable<RunSnapshot['policies']>>()),
      environment: col.json<RunSnapshot['environments'][number]>(),
      build: col.text,
      title: col.text,
      id: col.integer,
      retries: col.integer,
      live: col.flag,
      kind: col.oneOf<RunRow['kind']>(),
      how: col.orNull(col.json<RotationHow>()),
    },
    sql`
    select snapshot->'cases'->${caseKey} as "testCase", how, snapshot->'routines' as routines,
      snapshot->'applications' as applications, snapshot->'policies' as policies,
           coalesce(jsonb_path_query_first(snapshot, '$.environments[*] ? (@.key == $k)',
             jsonb_build_object('k', ${environment}::text)), jsonb_path_query_first(snapshot,
               '$.roleEnvironments[*] ? (@.key == $k)', jsonb_build_object('k',
                 ${environment}::text))) as environment, build, title, id, retries, live, kind
    from runs where id = ${runId}`,
  )
  return row
}

const CASE_RUN = {
  id: col.text,
  position: col.integer,
  caseKey: col.text,
  title: col.text,
  groups: col.texts,
  environment: col.text,
  rowIndex: col.orNull(col.integer),
  rowCount: col.orNull(col.integer),
  onlyAgent: col.text,
  mark: col.oneOf<Mark>(),
  attempts: col.integer,
  failureKind: col.orNull(col.text),
  failureMessage: col.orNull(col.text),
  durationMs: col.orNull(col.integer),
  estimateMs: col.integer,
  lastAttempt: col.orNull(col.text),
  screen: col.orNull(col.text),
  agent: col.orNull(col.text),
}

/** All case runs of a run, in order, each with its newest attempt: one query. */
export async function caseRunsOf(db: Conn, runId: number): Promise<CaseRunFacts[]> {
  return rowsOf(
    db,
    CASE_RUN,
    sql`
    select c.id, c.position, c.case_key as "caseKey", c.title, c.groups, c.environment,
      c.row_index as "rowIndex", c.row_count as "rowCount", c.agent as "onlyAgent",
           coalesce(c.outcome, c.state) as mark, c.attempts, c.failure_kind as "failureKind",
             c.failure_message as "failureMessage",
           c.duration_ms as "durationMs", c.estimate_ms as "estimateMs", t.id as "lastAttempt", t.screen,
             t.agent_name as agent
    from case_runs c left join attempts t on t.id = c.shown_attempt
    where c.run_id = ${runId} order by c.position, c.agent, c.environment`,
  )
}

const LANE_ITEM = {
  attemptId: col.text,
  agent: col.text,
  seat: col.integer,
  title: col.text,
  environment: col.text,
  number: col.integer,
  mark: col.oneOf<Mark>(),
  from: col.instant,
  to: col.orNull(col.instant),
  estimateMs: col.integer,
  simulated: col.flag,
}
export type LaneItem = RowOf<typeof LANE_ITEM>

/** Every attempt of a run on its seat, oldest first. */
export async function lanesOf(db: Conn, runId: number): Promise<LaneItem[]> {
  return rowsOf(
    db,
    LANE_ITEM,
    sql`
    select t.id as "attemptId", t.agent_name as agent, t.seat, c.title,
      ${environmentOfAttempt} as environment, t.number, coalesce(t.outcome, replace(t.state, 'assigned',
        'claimed')) as mark,
           t.claimed_at as "from", t.ended_at as "to", c.estimate_ms as "estimateMs", a.simulated
    from attempts t join case_runs c on c.id = t.case_run_id join agents a on a.id = t.agent_id
    where t.run_id = ${runId} order by t.agent_name, t.seat, t.claimed_at`,
  )
}

export const attemptRow = async (db: Conn, id: string) =>
  (await db.select().from(attempts).where(eq(attempts.id, id)))[0]

export const buildOfRun = async (db: Conn, id: number): Promise<string | undefined> =>
  (await db.select({ build: runs.build }).from(runs).where(eq(runs.id, id)))[0]?.build

export const caseRunRow = async (db: Conn, id: string) =>
  (await db.select().from(caseRuns).where(eq(caseRuns.id, id)))[0]

export const caseRunsWithOutcome = async (db: Conn, runId: number, outcomes: ('failed' | 'errored')[]) =>
  await db
    .select()
    .from(caseRuns)
    .where(and(eq(caseRuns.runId, runId), inArray(caseRuns.outcome, outcomes)))
    .orderBy(asc(caseRuns.position), asc(caseRuns.environment))

/** Neighbours in the walk over a run's failures ("." and ","): the newest attempts of failing case runs, in
 * grid order. */
export async function failuresOf(
  db: Conn,
  runId: number,
): Promise<{ attemptId: string; caseRunId: string }[]> {
  return rowsOf(
    db,
    { attemptId: col.text, caseRunId: col.text },
    sql`
    select t.id as "attemptId", c.id as "caseRunId" from case_runs c join attempts t on t.id = c.shown_attempt
    where c.run_id = ${runId} and c.outcome in ('failed', 'errored') order by c.position, c.environment`,
  )
}

/** What the failing checks of a run expected, and what they found: of the attempts its grid shows. */
export async function comparisonsOf(db: Conn, runId: number): Promise<Comparison[]> {
  return rowsOf(
    db,
    { attemptId: col.text, expected: col.orNull(col.text), actual: col.orNull(col.text) },
    sql`
    select distinct on (e.attempt_id) e.attempt_id as "attemptId", e.body->'failure'->>'expected' as expected,
      e.body->'failure'->>'actual' as actual
    from case_runs c join events e on e.attempt_id = c.shown_attempt
    where c.run_id = ${runId} and c.outcome = 'failed' and e.body->>'type' = 'step-ended'
      and e.body->'failure'->>'kind' = 'check'
    order by e.attempt_id, e.no desc`,
  )
}

/** Makes a rehearsal a run that counts. @returns false when it is none any more */
export const keepRehearsal = async (db: Conn, runId: number): Promise<boolean> =>
  (
    await db
      .update(runs)
      .set({ kind: 'run', goneAt: null })
      .where(and(eq(runs.id, runId), eq(runs.kind, 'rehearsal')))
  ).rowCount === 1

/** Deletes rehearsals whose day is over, with all that was logged of them. */
export async function dropOldRehearsals(db: Db, now: Now): Promise<number> {
  return db.transaction(async (tx) => {
    const gone = await tx
      .delete(runs)
      .where(and(eq(runs.kind, 'rehearsal'), eq(runs.state, 'ended'), lt(runs.goneAt, sql`${now}`)))
      .returning({ id: runs.id })
    if (gone.length > 0)
      await noteUsedNumber(
        tx,
        gone.reduce((most, { id }) => Math.max(most, id), 0),
      )
    return gone.length
  })
}

/** Live sessions begin one after the other: until the transaction ends. */
export const lockLiveStarts = async (tx: Tx): Promise<void> =>
  void (await tx.execute(sql`select pg_advisory_xact_lock(hashtextextended('live starts', 7))`))

/** Live sessions that go on, by the pool they are in or have to be in; of one that no agent has yet and that
 * may be anywhere the pool is empty. */
export async function liveRunsByPool(db: Conn): Promise<Record<string, number>> {
  const rows = await rowsOf(
    db,
    { pool: col.text, sessions: col.integer },
    sql`
    select coalesce(a.pool, r.pool, '') as pool, count(*)::int as sessions
    from runs r
    left join attempts t on t.run_id = r.id and t.state <> 'ended'
    left join agents a on a.id = t.agent_id
    where r.live and r.ended_at is null
    group by 1`,
  )
  return Object.fromEntries(rows.map(({ pool, sessions }) => [pool, sessions]))
}
