/** What is said of defects at the tracker, and what of it waits. */
import { and, asc, eq, isNull, sql } from 'drizzle-orm'
import type { Conn, Tx } from './client'
import type { Now } from './moment'
import { col, rowsOf } from './rows'
import { trackerMessages } from './schema'

export type TrackerMessageRow = typeof trackerMessages.$inferSelect

type NewMessage = Pick<TrackerMessageRow, 'defectId' | 'text' | 'state' | 'saidBy'> &
  Partial<Pick<TrackerMessageRow, 'attemptId' | 'caseRunId' | 'seenState' | 'assignee'>>

/** @returns whether there is a new one: a failure is told of once */
export const addTrackerMessages = async (tx: Tx, rows: readonly NewMessage[]): Promise<boolean> => {
  const added = await tx
    .insert(trackerMessages)
    .values([...rows])
    .onConflictDoNothing()
  return added.rowCount !== 0
}

/** What defects are to become by messages that wait, by the defect. */
export const waitingStates = async (
  db: Conn,
  defectIds: readonly number[],
): Promise<ReadonlyMap<number, 'open' | 'closed'>> => {
  const rows = await rowsOf(
    db,
    { id: col.integer, state: col.oneOf<'open' | 'closed'>() },
    sql`
    select distinct on (defect_id) defect_id as id, state from tracker_messages
    where defect_id = any(${sql.param([...defectIds])}::int[]) and sent_at is null and state is not null
    order by defect_id, id desc`,
  )
  return new Map(rows.map(({ id, state }) => [id, state]))
}

export const trackerMessagesOf = (db: Conn, defectId: number, most: number): Promise<TrackerMessageRow[]> =>
  db
    .select()
    .from(trackerMessages)
    .where(eq(trackerMessages.defectId, defectId))
    .orderBy(asc(trackerMessages.id))
    .limit(most)

/** The next that waits: later ones wait for it. */
export const nextTrackerMessage = async (
  db: Conn,
  defectId: number,
): Promise<TrackerMessageRow | undefined> =>
  (
    await db
      .select()
      .from(trackerMessages)
      .where(and(eq(trackerMessages.defectId, defectId), isNull(trackerMessages.sentAt)))
      .orderBy(asc(trackerMessages.id))
      .limit(1)
  )[0]

export const noteMessageSent = async (db: Conn, id: number, now: Now): Promise<void> =>
  void (await db
    .update(trackerMessages)
    .set({ sentAt: sql`${now}`, problem: null, tries: sql`${trackerMessages.tries} + 1` })
    .where(eq(trackerMessages.id, id)))

export const noteMessageProblem = async (db: Conn, id: number, problem: string): Promise<void> =>
  void (await db
    .update(trackerMessages)
    .set({ problem, tries: sql`${trackerMessages.tries} + 1` })
    .where(eq(trackerMessages.id, id)))

/** The tracker has it elsewhere than its sender saw: it waits. */
export const noteConflict = async (db: Conn, id: number, otherState: string): Promise<void> =>
  void (await db.update(trackerMessages).set({ otherState, problem: null }).where(eq(trackerMessages.id, id)))

const waits = (defectId: number, id: number) =>
  and(eq(trackerMessages.id, id), eq(trackerMessages.defectId, defectId), isNull(trackerMessages.sentAt))

/** @returns whether there was one that waits */
export const withdrawMessage = async (db: Conn, defectId: number, id: number): Promise<boolean> =>
  (await db.delete(trackerMessages).where(waits(defectId, id))).rowCount === 1

/** It is said whatever the tracker has by now. @returns whether there was one that waits for that */
export const insistOnMessage = async (db: Conn, defectId: number, id: number): Promise<boolean> =>
  (await db.update(trackerMessages).set({ seenState: null, otherState: null }).where(waits(defectId, id)))
    .rowCount === 1
