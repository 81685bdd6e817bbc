/** What is said of defects at the tracker, and what of it waits. */
import { and, asc, eq, isNull, sql } from 'drizzle-orm'
import type { Conn, Tx } from './client'
import type { Now } from './moment'
import { trackerMessages } from './schema'

export type TrackerMessageRow = typeof trackerMessages.$inferSelect

/** @returns whether there is a new one: a failure is told of once */
export const addTrackerMessages = async (
  tx: Tx,
  rows: readonly (Pick<TrackerMessageRow, 'defectId' | 'text' | 'state' | 'saidBy'> &
    Partial<Pick<TrackerMessageRow, 'attemptId'>>)[],
): Promise<boolean> => {
  const added = await tx
    .insert(trackerMessages)
    .values([...rows])
    .onConflictDoNothing()
  return added.rowCount !== 0
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
