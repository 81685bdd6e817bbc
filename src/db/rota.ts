/** Planned starts of rotations: up to when they were looked at, and what became of each. */
import { and, asc, desc, eq, gt, inArray, isNotNull, ne, sql } from 'drizzle-orm'
import type { RunForecast } from '@/core/view-models'
import type { Conn, Tx } from './client'
import type { Now } from './moment'
import { col, rowsOf, type RowOf } from './rows'
import { occurrenceStarts, rotaMarks, runs } from './schema'

export type OccurrenceStart = typeof occurrenceStarts.$inferSelect

/** The moment up to which each rotation's planned starts were handled, and the current time: one query. */
export async function readMarks(
  db: Conn,
  now: Now,
): Promise<{ now: Date; seenUntil: ReadonlyMap<string, Date> }> {
  const rows = await rowsOf(
    db,
    { key: col.orNull(col.text), seen: col.orNull(col.moment), now: col.moment },
    sql`select m.rotation_key as key, m.seen_until as seen, n.now
      from (select ${now} as now) n left join rota_marks m on true`,
  )
  return {
    now: rows[0]!.now,
    seenUntil: new Map(
      rows.flatMap(({ key, seen }) => (key === null || seen === null ? [] : [[key, seen] as const])),
    ),
  }
}

/** Moves the marks of rotations for which nothing is due, all with one statement; never back. */
export async function moveMarks(db: Conn, rotationKeys: string[], to: Date): Promise<void> {
  if (rotationKeys.length > 0)
    await db
      .update(rotaMarks)
      .set({ seenUntil: sql`greatest(${rotaMarks.seenUntil}, ${to.toISOString()}::timestamptz)` })
      .where(inArray(rotaMarks.rotationKey, rotationKeys))
}

/** Locks a rotation's mark for the length of a transaction. A rotation that is looked at for the first time
 * begins now: what lay before was never planned here.
 * @returns `undefined` while another worker holds it */
export async function takeMark(
  tx: Tx,
  rotationKey: string,
  now: Now,
): Promise<{ seenUntil: Date; now: Date } | undefined> {
  await tx
    .insert(rotaMarks)
    .values({ rotationKey, seenUntil: sql`${now}` })
    .onConflictDoNothing()
  const [row] = await rowsOf(
    tx,
    { seenUntil: col.moment, now: col.moment },
    sql`select seen_until as "seenUntil", ${now} as now from rota_marks where rotation_key = ${rotationKey}
      for update skip locked`,
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

export type EndedRun = {
  id: number
  title: string
  rotationKey: string | null
  endedAt: Date
  failures: number
}

/** Runs of these rotations that ended after a moment, oldest first. */
export async function endedRunsOf(tx: Conn, rotationKeys: string[], after: Date): Promise<EndedRun[]> {
  if (rotationKeys.length === 0) return []
  const rows = await tx
    .select({
      id: runs.id,
      title: runs.title,
      rotationKey: runs.rotationKey,
      endedAt: runs.endedAt,
      failures: sql<number>`(select count(*)::int from case_runs c where c.run_id = runs.id
        and c.outcome in ('failed', 'errored', 'cancelled'))`,
    })
    .from(runs)
    .where(and(inArray(runs.rotationKey, rotationKeys), eq(runs.state, 'ended'), gt(runs.endedAt, after)))
    .orderBy(asc(runs.endedAt))
    .limit(100)
  return rows.map((row) => ({ ...row, endedAt: row.endedAt! }))
}

const START_ROW = {
  rotationKey: col.text,
  at: col.moment,
  state: col.oneOf<OccurrenceStart['state']>(),
  runId: col.orNull(col.integer),
  why: col.orNull(col.text),
  endedAt: col.orNull(col.moment),
}
export type StartRow = RowOf<typeof START_ROW>

/** What became of planned starts in a span, with the end of the runs they became; and runs of rotations that
 * were started otherwise. One query. */
export async function startsBetween(db: Conn, from: Date, to: Date): Promise<StartRow[]> {
  return rowsOf(
    db,
    START_ROW,
    sql`
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
    order by 2 limit 5000`,
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
