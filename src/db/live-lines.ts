/** Where agents of live sessions have their lines. */
import { and, eq } from 'drizzle-orm'
import type { Conn } from './client'
import { liveLines } from './schema'

/** The line that was opened last counts. */
export const putLiveLine = async (db: Conn, attemptId: string, address: string): Promise<void> =>
  void (await db
    .insert(liveLines)
    .values({ attemptId, address })
    .onConflictDoUpdate({ target: liveLines.attemptId, set: { address } }))

/** If it is still at this address. */
export const dropLiveLine = async (db: Conn, attemptId: string, address: string): Promise<void> =>
  void (await db
    .delete(liveLines)
    .where(and(eq(liveLines.attemptId, attemptId), eq(liveLines.address, address))))

export const addressOfLiveLine = async (db: Conn, attemptId: string): Promise<string | undefined> =>
  (
    await db.select({ address: liveLines.address }).from(liveLines).where(eq(liveLines.attemptId, attemptId))
  )[0]?.address
