/** Guided runs: who is to do which case run, what was said of it so far, and the attempt it becomes. */
import { randomUUID } from 'node:crypto'
import { and, eq, inArray, sql } from 'drizzle-orm'
import type { CaseRunState } from '@/core/execution'
import { addAttempts, type CaseRunRow } from './claim'
import type { Conn, Tx } from './client'
import type { Hold } from './dispatch'
import { beginRun } from './run-states'
import { agents, attempts, caseRuns, guidedSheets } from './schema'
import type { Now } from './moment'
import { col, rowsOf, type RowOf } from './rows'

export type GuidedSheet = typeof guidedSheets.$inferSelect

const WORK = {
  id: col.text,
  runId: col.integer,
  runTitle: col.text,
  build: col.text,
  caseKey: col.text,
  title: col.text,
  environment: col.text,
  environmentTitle: col.text,
  rowIndex: col.orNull(col.integer),
  rowCount: col.orNull(col.integer),
  person: col.text,
  priority: col.integer,
  estimateMs: col.integer,
  workedMs: col.integer,
  judged: col.integer,
  ready: col.flag,
  savedAt: col.orNull(col.moment),
}
export type GuidedWorkRow = RowOf<typeof WORK>

/** Open case runs of guided runs, the newest run first, in the order they are to be done. One query. */
export const openGuidedWork = (db: Conn, most: number): Promise<GuidedWorkRow[]> =>
  rowsOf(
    db,
    WORK,
    sql`
    select c.id, c.run_id as "runId", r.title as "runTitle", r.build, c.case_key as "caseKey", c.title,
      c.environment, coalesce(jsonb_path_query_first(r.snapshot, '$.environments[*] ? (@.key == $k).title',
        jsonb_build_object('k', c.environment)) #>> '{}', c.environment) as "environmentTitle",
      c.row_index as "rowIndex", c.row_count as "rowCount", c.agent as person, c.priority,
      c.estimate_ms as "estimateMs", coalesce(g.worked_ms, 0) as "workedMs",
      coalesce(jsonb_array_length(g.verdicts), 0) as judged, c.ready, g.saved_at as "savedAt"
    from runs r join case_runs c on c.run_id = r.id left join guided_sheets g on g.case_run_id = c.id
    where r.kind = 'guided' and r.state <> 'ended' and c.state = 'waiting'
    order by r.id desc, c.position, c.environment limit ${most}`,
  )

/** What a person does next: the first of theirs that may be begun. */
export const nextGuidedOf = async (
  db: Conn,
  person: string,
  except: string,
): Promise<{ id: string; title: string } | undefined> =>
  (
    await rowsOf(
      db,
      { id: col.text, title: col.text },
      sql`
      select c.id, c.title from runs r join case_runs c on c.run_id = r.id
      where r.kind = 'guided' and r.state <> 'ended' and c.state = 'waiting' and c.ready
        and c.agent = ${person} and c.id <> ${except}
      order by r.id desc, c.position, c.environment limit 1`,
    )
  )[0]

const OF_PERSON = { person: col.text, count: col.integer }
/** How many open case runs of guided runs each person has; an empty name: nobody. */
export const openGuidedPeople = (db: Conn): Promise<RowOf<typeof OF_PERSON>[]> =>
  rowsOf(
    db,
    OF_PERSON,
    sql`
    select c.agent as person, count(*)::int as count from runs r join case_runs c on c.run_id = r.id
    where r.kind = 'guided' and r.state <> 'ended' and c.state = 'waiting' group by c.agent order by c.agent`,
  )

const SHARE = { person: col.text, of: col.integer, done: col.integer, leftMs: col.integer }
/** How far each person of a guided run is; an empty name: what nobody has. */
export const guidedShares = (db: Conn, runId: number): Promise<RowOf<typeof SHARE>[]> =>
  rowsOf(
    db,
    SHARE,
    sql`
    select c.agent as person, count(*)::int as of, (count(*) filter (where c.state = 'ended'))::int as done,
      coalesce(sum(c.estimate_ms) filter (where c.state <> 'ended'), 0)::int as "leftMs"
    from case_runs c where c.run_id = ${runId} group by c.agent order by c.agent`,
  )

export const sheetOf = async (db: Conn, caseRunId: string): Promise<GuidedSheet | undefined> =>
  (await db.select().from(guidedSheets).where(eq(guidedSheets.caseRunId, caseRunId)))[0]

export type SheetSaved = Pick<GuidedSheet, 'person' | 'verdicts' | 'facts' | 'video' | 'workedMs'>

/** Keeps what was said so far. @param version of the sheet it was said on; 0: of none
 * @returns its new version; `undefined` when somebody saved meanwhile, and nothing was written */
export async function saveSheet(
  tx: Tx,
  caseRunId: string,
  version: number,
  { person, verdicts, facts, video, workedMs }: SheetSaved,
  now: Now,
): Promise<number | undefined> {
  const pictures = [
    ...verdicts.flatMap((one) => one.pictures.map(({ hash }) => hash)),
    ...(video ? [video.hash] : []),
  ]
  const written = {
    person,
    verdicts,
    facts,
    video,
    workedMs,
    pictures,
    version: version + 1,
    savedAt: sql`${now}`,
  }
  if (version === 0) {
    const added = await tx
      .insert(guidedSheets)
      .values({ caseRunId, ...written })
      .onConflictDoNothing()
    return added.rowCount === 1 ? 1 : undefined
  }
  const saved = await tx
    .update(guidedSheets)
    .set(written)
    .where(and(eq(guidedSheets.caseRunId, caseRunId), eq(guidedSheets.version, version)))
  return saved.rowCount === 1 ? version + 1 : undefined
}

export const dropSheet = (db: Conn, caseRunId: string): Promise<unknown> =>
  db.delete(guidedSheets).where(eq(guidedSheets.caseRunId, caseRunId))

/** Open case runs of guided runs, locked. */
export const lockGuided = (
  tx: Tx,
  ids: readonly string[],
): Promise<{ id: string; runId: number; person: string; state: CaseRunState }[]> =>
  rowsOf(
    tx,
    { id: col.text, runId: col.integer, person: col.text, state: col.oneOf<CaseRunState>() },
    sql`
    select c.id, c.run_id as "runId", c.agent as person, c.state from case_runs c
      join runs r on r.id = c.run_id and r.kind = 'guided'
    where c.id = any(${sql.param([...ids])}::uuid[]) order by c.id for update of c`,
  )

export const assignTo = async (tx: Tx, ids: readonly string[], person: string): Promise<void> =>
  void (await tx
    .update(caseRuns)
    .set({ agent: person, laneAgent: person })
    .where(inArray(caseRuns.id, [...ids])))

/** Who did something by hand stands among the agents, out of the fleet: attempts are somebody's. */
async function agentOf(tx: Tx, person: string, now: Now): Promise<string> {
  const values = {
    name: `by hand: ${person}`,
    instance: 'by hand',
    pool: 'people',
    version: '',
    seats: 1,
    environments: [],
    simulated: false,
    heartbeatAt: sql`${now}`,
    removedAt: sql`${now}`,
  }
  const [row] = await tx
    .insert(agents)
    .values(values)
    .onConflictDoUpdate({ target: agents.name, set: { heartbeatAt: sql`${now}` } })
    .returning({ id: agents.id })
  return row!.id
}

/** Makes the attempt that a concluded sheet is.
 * @returns `undefined` when the case run does not wait any more; then nothing was written */
export async function beginByHand(
  tx: Tx,
  caseRunId: string,
  { person, workedMs }: Pick<SheetSaved, 'person' | 'workedMs'>,
  now: Now,
  leaseMs: number,
): Promise<{ hold: Hold; caseRun: CaseRunRow } | undefined> {
  const id = randomUUID()
  const [caseRun] = await tx
    .update(caseRuns)
    .set({ state: 'claimed', attempts: sql`${caseRuns.attempts} + 1`, shownAttempt: id })
    .where(and(eq(caseRuns.id, caseRunId), eq(caseRuns.state, 'waiting')))
    .returning()
  if (!caseRun) return undefined
  const agentId = await agentOf(tx, person, now)
  // one person may conclude two at the same moment, from two windows: seats only tell them apart
  const seat = 1 + (parseInt(id.slice(0, 6), 16) % 1_000_000)
  const [attempt] = await addAttempts(tx, [{ id, caseRun, agentId, agentName: person, seat }], now, leaseMs)
  const began = sql`${now} - ${workedMs} * interval '1 ms'`
  await tx
    .update(attempts)
    .set({ claimedAt: began, startedAt: began, state: 'running' })
    .where(eq(attempts.id, id))
  await tx.update(caseRuns).set({ state: 'running', startedAt: began }).where(eq(caseRuns.id, caseRunId))
  await beginRun(tx, caseRun.runId, now)
  return { hold: { agentId, attemptId: id, lease: attempt!.lease }, caseRun }
}
