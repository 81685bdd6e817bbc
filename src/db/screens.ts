/** Live screens: one for each attempt that is looked at, and gone when it ends. */
import { and, eq, inArray, ne, sql } from 'drizzle-orm'
import type { Db } from './client'
import { isHeld, type Hold } from './dispatch'
import { attempts, liveScreens } from './schema'
import { later, databaseNow } from './moment'

export async function watchAttempts(db: Db, ids: readonly string[], ms: number): Promise<void> {
  if (ids.length > 0)
    await db
      .update(attempts)
      .set({ watchedUntil: later(databaseNow, ms) })
      .where(and(inArray(attempts.id, [...ids]), ne(attempts.state, 'ended')))
}

/** @returns false when it is not held */
export async function keepLiveScreen(db: Db, hold: Hold, mime: string, bytes: Uint8Array): Promise<boolean> {
  if (!(await isHeld(db, hold))) return false
  const { attemptId } = hold
  const screen = { mime, bytes: Buffer.from(bytes), at: sql`now()` }
  await db
    .insert(liveScreens)
    .values({ attemptId, ...screen })
    .onConflictDoUpdate({ target: liveScreens.attemptId, set: screen })
  return true
}

export const liveScreen = async (
  db: Db,
  attemptId: string,
): Promise<{ mime: string; bytes: Buffer } | undefined> =>
  (
    await db
      .select({ mime: liveScreens.mime, bytes: liveScreens.bytes })
      .from(liveScreens)
      .where(eq(liveScreens.attemptId, attemptId))
  )[0]

/** Deletes the screens of attempts that have ended. */
export const dropLiveScreens = async (db: Db): Promise<void> =>
  void (await db
    .delete(liveScreens)
    .where(sql`not exists (select from attempts t where t.id = attempt_id and t.state <> 'ended')`))
