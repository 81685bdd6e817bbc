/** Planned starts of rotations: up to when they were looked at, and what became of each. */
import { and, desc, eq, inArray, isNotNull, ne, sql } from 'drizzle-orm'
import type { Mark } from '@/core/execution'
import type { RunForecast } from '@/core/view-models'
import type { Conn, Tx } from './client'
import type { Now } from './moment'
import { col, rowsOf, type RowOf } from './rows'
import { occurrenceStarts, rotaMarks, runs } from './schema'

export type OccurrenceStart = typeof occurrenceStarts.$inferSelect

/** Up to when a rotation's starts were handled, and since when they count. */
export type Seen = { seenUntil: Date; since: Date }

/** The moment up to which each rotation's planned starts were handled, and the current time: one query. */
export async function readMarks(db: Conn, now: Now): Promise<{ now: Date; seen: ReadonlyMap<string, Seen> }> {
  const rows = await rowsOf(
    db,
    {
      key: col.orNull(col.text),
      seen: col.orNull(col.moment),
      since: col.orNull(col.moment),
      now: col.moment,
    },
    sql`select m.rotation_key as key, m.seen_until as seen, m.since, n.now
      from (select ${now} as now) n left join rota_marks m on true`,
  )
  return {
    now: rows[0]!.now,
    seen: new Map(
      rows.flatMap(({ key, seen, since }) =>
        key === null || seen === null || since === null ? [] : [[key, { seenUntil: seen, since }] as const],
      ),
    ),
  }
}

/** Moves the marks of rotations for which nothing is due, all with one statement; never back.
 * @param paused what they would have done meanwhile does not count */
export async function moveMarks(
  db: Conn,
  rotationKeys: string[],
  to: Date,
  { paused = false } = {},
): Promise<void> {
  if (rotationKeys.length === 0) return
  const seenUntil = sql`greatest(${rotaMarks.seenUntil}, ${to.toISOString()}::timestamptz)`
  await db
    .update(rotaMarks)
    .set({ seenUntil, ...(paused && { since: seenUntil }) })
    .where(inArray(rotaMarks.rotationKey, rotationKeys))
}

/** Locks a rotation's mark for the length of a transaction. A rotation that is looked at for the first time
 * begins now: what lay before was never planned here.
 * @returns `undefined` while another worker holds it */
export async function takeMark(
  tx: Tx,
  rotationKey: string,
  now: Now,
): Promise<(Seen & { now: Date }) | undefined> {
  await tx
    .insert(rotaMarks)
    .values({ rotationKey, seenUntil: sql`${now}`, since: sql`${now}` })
    .onConflictDoNothing()
  const [row] = await rowsOf(
    tx,
    { seenUntil: col.moment, since: col.moment, now: col.moment },
    sql`select seen_until as "seenUntil", since, ${now} as now from rota_marks
      where rotation_key = ${rotationKey} for update skip locked`,
  )
  return row
}

export async function moveMark(tx: Tx, rotationKey: string, to: Date): Promise<void> {
  await tx.update(rotaMarks).set({ seenUntil: to }).where(eq(rotaMarks.rotationKey, rotationKey))
}

/** Takes a planned start, before anything is done for it. @returns false when it was taken before: somebody
 * else saw to it */
export async function takeOccurrence(tx: Tx, rotationKey: string, at: Date): Promise<boolean> {
  return (
    (await tx.insert(occurrenceStarts).values({ rotationKey, at, state: 'skipped' }).onConflictDoNothing())
      .rowCount === 1
  )
}

export async function recordStart(tx: Tx, { rotationKey, at, ...rest }: OccurrenceStart): Promise<void> {
  await tx
    .update(occurrenceStarts)
    .set(rest)
    .where(and(eq(occurrenceStarts.rotationKey, rotationKey), eq(occurrenceStarts.at, at)))
}

/** Runs of these rotations that still go on. */
export const runningOf = async (
  tx: Conn,
  rotationKeys: string[],
): Promise<{ rotationKey: string | null; title: string }[]> =>
  await tx
    .select({ rotationKey: runs.rotationKey, title: runs.title })
    .from(runs)
    .where(and(inArray(runs.rotationKey, rotationKeys), ne(runs.state, 'ended')))

/** A rotation that follows another: runs of that which ended after `after` are for it. */
export type Following = { key: string; rotation: string; after: Date }

const RUN_TO_FOLLOW = {
  key: col.text,
  id: col.integer,
  title: col.text,
  build: col.text,
  endedAt: col.moment,
  failures: col.integer,
}
export type RunToFollow = RowOf<typeof RUN_TO_FOLLOW>

/** Runs that ended and that their followers have done nothing about yet, oldest first. A run is committed a
 * while after the moment it says that it ended: so it is not the mark that says what was seen to, but that a
 * start was taken for it. Served by runs_of_rotation_ended. */
export async function runsToFollow(tx: Conn, following: readonly Following[]): Promise<RunToFollow[]> {
  if (following.length === 0) return []
  return rowsOf(
    tx,
    RUN_TO_FOLLOW,
    sql`
    select f.key, r.id, r.title, r.build, date_trunc('milliseconds', r.ended_at) as "endedAt",
      (select count(*)::int from case_runs c where c.run_id = r.id
        and c.outcome in ('failed', 'errored', 'cancelled')) as failures
    from jsonb_to_recordset(${JSON.stringify(following)}::jsonb) as f(key text, rotation text, after timestamptz)
      join runs r on r.rotation_key = f.rotation and r.state = 'ended' and r.ended_at > f.after
    where not exists (select 1 from occurrence_starts o
      where o.rotation_key = f.key and o.at = date_trunc('milliseconds', r.ended_at))
    order by r.ended_at limit 100`,
  )
}

const START_ROW = {
  rotationKey: col.text,
  at: col.moment,
  state: col.oneOf<OccurrenceStart['state']>(),
  runId: col.orNull(col.integer),
  why: col.orNull(col.text),
  endedAt: col.orNull(col.moment),
  /** Of the run it became. */ counts: col.orNull(col.json<Partial<Record<Mark, number>>>()),
}
export type StartRow = RowOf<typeof START_ROW>

/** What became of planned starts in a span, with the end of the runs they became; and runs of rotations that
 * were started otherwise. One query. */
export async function startsBetween(db: Conn, from: Date, to: Date): Promise<StartRow[]> {
  return rowsOf(
    db,
    START_ROW,
    sql`
    select s.*, (select jsonb_object_agg(m.mark, m.n) from (
      select coalesce(c.outcome, c.state) as mark, count(*) as n from case_runs c
        where c.run_id = s."runId" group by 1) m) as counts
    from (
    select o.rotation_key as "rotationKey", coalesce(r.created_at, o.at) as at, o.state,
      o.run_id as "runId", o.why, r.ended_at as "endedAt"
    from occurrence_starts o left join runs r on r.id = o.run_id
      where o.at >= ${from.toISOString()}::timestamptz and o.at < ${to.toISOString()}::timestamptz
    union all
    select r.rotation_key, r.created_at, 'started', r.id, null, r.ended_at from runs r
    where r.rotation_key is not null and r.kind = 'run'
      and r.created_at >= ${from.toISOString()}::timestamptz
      and r.created_at < ${to.toISOString()}::timestamptz
      and not exists (select 1 from occurrence_starts o where o.run_id = r.id)
    order by 2 limit 5000) s order by s.at`,
  )
}

/** The newest ended runs of a rotation that were forecast. Served by runs_of_rotation. */
export async function pastForecasts(
  db: Conn,
  rotationKey: string,
  most: number,
): Promise<{ id: number; startedAt: Date; endedAt: Date; forecast: RunForecast; cancelled: boolean }[]> {
  const rows = await db
    .select({
      id: runs.id,
      startedAt: runs.createdAt,
      endedAt: runs.endedAt,
      forecast: runs.forecast,
      why: runs.endedWhy,
      cancelled: sql<boolean>`exists (select 1 from case_runs c where c.run_id = runs.id
        and c.outcome = 'cancelled')`,
    })
    .from(runs)
    .where(and(eq(runs.rotationKey, rotationKey), eq(runs.state, 'ended'), isNotNull(runs.forecast)))
    .orderBy(desc(runs.id))
    .limit(most)
  return rows.map(({ why, cancelled, ...row }) => ({
    ...row,
    endedAt: row.endedAt!,
    forecast: row.forecast!,
    cancelled: cancelled || why !== null,
  }))
}
