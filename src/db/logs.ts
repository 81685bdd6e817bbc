/** Logs of attempts: in rows while they are written and for a while after, then in one piece each. */
import { and, desc, eq, gt, inArray, lt, sql, type SQL } from 'drizzle-orm'
import type { NumberedEvent } from '@/core/execution'
import type { Conn, Tx } from './client'
import { packLog, readLog, unpackLog, type LogBytes } from './log-piece'
import type { Now } from './moment'
import { col, rowsOf } from './rows'
import { attemptLogs, attempts, events } from './schema'

/** Events that are read and packed at once: few attempts with many, or many with few. */
const EVENTS_AT_ONCE = 20_000

/** Number of the newest event; 0: there is none. Of an attempt that goes on. */
export const lastEventNo = async (db: Conn, attemptId: string): Promise<number> =>
  (
    await db
      .select({ no: events.no })
      .from(events)
      .where(eq(events.attemptId, attemptId))
      .orderBy(desc(events.no))
      .limit(1)
  )[0]?.no ?? 0

/** Events in rows as one JSON array, oldest first. Written as text: to put the number into each body as JSON
 * takes three times as long. A body always has a type, so a comma may follow the number. */
const textOfRows = sql.raw(
  `'[' || string_agg('{"no":' || no || ',' || substr(body::text, 2), ',' order by no) || ']'`,
)

/** A log as bytes, for whoever reads it in a thread: packed, or JSON while it is in rows. By one statement:
 * between two of them the log may be packed, and its rows be gone. The rows are put together by the database:
 * a hundred thousand would keep this thread for two seconds. */
export async function logBytesOf(db: Conn, attemptId: string): Promise<LogBytes> {
  const [row] = await rowsOf(
    db,
    { piece: col.orNull(col.text), text: col.orNull(col.text) },
    sql`
    with packed as (select piece from attempt_logs where attempt_id = ${attemptId})
    select (select encode(piece, 'base64') from packed) as piece,
      case when not exists (select from packed) then
        (select ${textOfRows} from events where attempt_id = ${attemptId}) end as text`,
  )
  return row?.piece
    ? { bytes: Buffer.from(row.piece, 'base64'), isPacked: true }
    : { bytes: Buffer.from(row?.text ?? '[]'), isPacked: false }
}

export const eventsOf = async (db: Conn, attemptId: string): Promise<NumberedEvent[]> =>
  readLog(await logBytesOf(db, attemptId))

/** Logs in rows: of an attempt, and of those that a run's grid shows. With `t` the attempt, `c` its case run,
 * `e` its events; a condition follows. */
export const logOfAttempt = (
  attemptId: string,
): SQL => sql`attempts t join case_runs c on c.id = t.case_run_id
  join events e on e.attempt_id = t.id where t.id = ${attemptId}`
export const logsOfRun = (runId: number): SQL => sql`case_runs c join attempts t on t.id = c.shown_attempt
  join events e on e.attempt_id = t.id where c.run_id = ${runId}`

/** Logs as JSON, of those attempts that have one. */
const textsOfLogs = (db: Conn, ids: readonly string[]) =>
  rowsOf(
    db,
    { attemptId: col.text, text: col.text },
    sql`
    select attempt_id as "attemptId", ${textOfRows} as text from events
    where attempt_id = any(${sql.param([...ids])}::uuid[]) group by attempt_id`,
  )

/** Which logs are due: of attempts that ended at least `endedForMs` ago; at most `endedWithinMs` ago and of
 * `events` or more, if given. */
export type LogsDue = { endedForMs: number; long?: { endedWithinMs: number; events: number } }

/** Puts logs of ended attempts into one piece each. Those that another worker has in hand are left to it.
 * @returns how many; call again while it is `most` */
export async function packLogs(
  tx: Tx,
  now: Now,
  { endedForMs, long }: LogsDue,
  most: number,
): Promise<number> {
  const ago = (ms: number) => sql`${now} - ${ms} * interval '1 ms'`
  const onlyLong = long
    ? sql`and ended_at > ${ago(long.endedWithinMs)}
        and (select max(e.no) from events e where e.attempt_id = attempts.id) >= ${long.events}`
    : sql``
  const due = await rowsOf(
    tx,
    { id: col.text, events: col.integer },
    sql`
    with due as (
      select id from attempts
      where log_in_rows and ended_at is not null and ended_at <= ${ago(endedForMs)} ${onlyLong}
      order by ended_at limit ${most} for update skip locked)
    select due.id, (select count(*)::int from events e where e.attempt_id = due.id) as events from due`,
  )
  for (const part of partsOf(due)) await packAll(tx, part)
  return due.length
}

/** Attempts in parts of so many events; one of more is a part by itself. */
function partsOf(due: readonly { id: string; events: number }[]): string[][] {
  const parts: string[][] = []
  let room = 0
  for (const { id, events: count } of due) {
    if (count > room || parts.length === 0) {
      parts.push([])
      room = EVENTS_AT_ONCE
    }
    parts.at(-1)!.push(id)
    room -= count
  }
  return parts
}

async function packAll(tx: Tx, ids: readonly string[]): Promise<void> {
  const texts = new Map(ids.map((id) => [id, '[]']))
  for (const { attemptId, text } of await textsOfLogs(tx, ids)) texts.set(attemptId, text)
  const logs = [...texts].map(([id, text]) => [id, JSON.parse(text) as NumberedEvent[]] as const)
  const pieces = await Promise.all(
    logs.map(async ([attemptId, log]) => ({
      attemptId,
      events: log.length,
      lastNo: log.at(-1)?.no ?? 0,
      piece: await packLog(texts.get(attemptId)!),
    })),
  )
  await tx.insert(attemptLogs).values(pieces)
  const kept = logs.flatMap(([id, log]) => askedOfRuns(log).map((no) => [id, no] as const))
  await tx.execute(sql`
    delete from events where attempt_id = any(${sql.param([...ids])}::uuid[])
      and (attempt_id, no) not in (select * from unnest(${sql.param(kept.map(([id]) => id))}::uuid[],
        ${sql.param(kept.map(([, no]) => no))}::int[]))`)
  await tx
    .update(attempts)
    .set({ logInRows: false })
    .where(inArray(attempts.id, [...ids]))
}

/** Numbers of the events that are asked of whole runs: of steps with a check that failed, how each of their
 * tries ended, and checks of screens. */
function askedOfRuns(log: readonly NumberedEvent[]): number[] {
  const failed = new Set(
    log.flatMap((event) =>
      event.type === 'step-ended' && event.failure?.kind === 'check' ? [event.path] : [],
    ),
  )
  return log.flatMap((event) =>
    event.type === 'screen-check' || (event.type === 'step-ended' && failed.has(event.path))
      ? [event.no]
      : [],
  )
}

/** Takes lines out of logs that are in one piece. @param isOut those that go */
export async function dropLines(
  tx: Tx,
  ids: readonly string[],
  isOut: (event: NumberedEvent) => boolean,
): Promise<void> {
  const logs = await tx
    .select({ id: attemptLogs.attemptId, piece: attemptLogs.piece })
    .from(attemptLogs)
    .where(inArray(attemptLogs.attemptId, [...ids]))
  for (const { id, piece } of logs) {
    const log = (await unpackLog(piece)).filter((event) => !isOut(event))
    await tx
      .update(attemptLogs)
      .set({ piece: await packLog(JSON.stringify(log)), opening: null, openingVersion: 0 })
      .where(and(eq(attemptLogs.attemptId, id)))
  }
}

/** Ids of attempts whose logs are in one piece, have more than so many events, and no opening of this
 * version. */
export const logsWithoutOpening = async (
  db: Conn,
  { events: least, version, most }: { events: number; version: number; most: number },
): Promise<string[]> =>
  (
    await db
      .select({ id: attemptLogs.attemptId })
      .from(attemptLogs)
      .where(and(lt(attemptLogs.openingVersion, version), gt(attemptLogs.events, least)))
      .limit(most)
  ).map(({ id }) => id)

/** Kept only if nothing was taken out of the log meanwhile.
 * @param dropped kinds of evidence that were gone then */
export const keepOpening = async (
  db: Conn,
  id: string,
  dropped: readonly string[],
  version: number,
  opening: object,
): Promise<void> =>
  void (await db
    .update(attemptLogs)
    .set({ opening, openingVersion: version })
    .where(
      and(
        eq(attemptLogs.attemptId, id),
        sql`exists (select from attempts a where a.id = ${id} and a.dropped = ${sql.param([...dropped])}::text[])`,
      ),
    ))

/** What the reader of a long log shows first, if it was made by this version. */
export const openingOf = async (db: Conn, id: string, version: number): Promise<object | undefined> =>
  (
    await db
      .select({ opening: attemptLogs.opening })
      .from(attemptLogs)
      .where(and(eq(attemptLogs.attemptId, id), eq(attemptLogs.openingVersion, version)))
  )[0]?.opening ?? undefined
