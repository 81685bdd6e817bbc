/** Live screens: one for each attempt that is looked at, and gone when it ends. */
import { and, eq, inArray, ne, sql } from 'drizzle-orm'
import type { Db } from './client'
import { attempts, liveScreens } from './schema'
import { later, databaseNow } from './moment'

export async function watchAttempts(db: Db, ids: readonly string[], ms: number): Promise<void> {
  if (ids.length > 0) await db.update(attempts).set({ watchedUntil: later(databaseNow, ms) }).where(and(inArray(attempts.id, [...ids]), ne(attempts.state, 'ended')))
}

/** @returns false when the attempt has ended */
export async function keepLiveScreen(db: Db, attemptId: string, mime: string, bytes: Uint8Array): Promise<boolean> {
  const [open] = await db.select({ id: attempts.id }).from(attempts).where(and(eq(attempts.id, attemptId), ne(attempts.state, 'ended')))
  if (!open) return false
  const screen = { mime, bytes: Buffer.from(bytes), at: sql`now()` }
  await db.insert(liveScreens).values({ attemptId, ...screen }).onConflictDoUpdate({ target: liveScreens.attemptId, set: screen })
  return true
}

export const liveScreen = async (db: Db, attemptId: string): Promise<{ mime: string; bytes: Buffer } | undefined> =>
  (await db.select({ mime: liveScreens.mime, bytes: liveScreens.bytes }).from(liveScreens).where(eq(liveScreens.attemptId, attemptId)))[0]

/** Deletes the screens of attempts that have ended. */
export const dropLiveScreens = async (db: Db): Promise<void> =>
  void (await db.delete(liveScreens).where(sql`not exists (select from attempts t where t.id = attempt_id and t.state <> 'ended')`))
