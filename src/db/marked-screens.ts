/** Screens that people marked up. */
import { and, asc, count, eq } from 'drizzle-orm'
import type { Conn, Tx } from './client'
import { evidenceUses, markedScreens } from './schema'

export type MarkedRow = typeof markedScreens.$inferSelect

/** In the order they were made. */
export const markedOf = async (db: Conn, attemptId: string): Promise<MarkedRow[]> =>
  await db
    .select()
    .from(markedScreens)
    .where(eq(markedScreens.attemptId, attemptId))
    .orderBy(asc(markedScreens.markedAt))

export async function countMarked(db: Conn, attemptId: string): Promise<number> {
  const [row] = await db
    .select({ marked: count() })
    .from(markedScreens)
    .where(eq(markedScreens.attemptId, attemptId))
  return row!.marked
}

/** Whether an attempt shows this piece. */
export const showsPiece = async (db: Conn, attemptId: string, hash: string): Promise<boolean> =>
  (
    await db
      .select({ hash: evidenceUses.hash })
      .from(evidenceUses)
      .where(and(eq(evidenceUses.attemptId, attemptId), eq(evidenceUses.hash, hash)))
      .limit(1)
  ).length > 0

/** The piece is kept for as long as the attempt's screens. @returns the id of the new row */
export async function addMarked(
  tx: Tx,
  row: Omit<typeof markedScreens.$inferInsert, 'id' | 'markedAt'>,
): Promise<string> {
  const [made] = await tx.insert(markedScreens).values(row).returning({ id: markedScreens.id })
  await tx
    .insert(evidenceUses)
    .values({ attemptId: row.attemptId, hash: row.hash, kind: 'screens' })
    .onConflictDoNothing()
  return made!.id
}

/** @returns whether there was one. Its piece goes with those that nothing shows any more. */
export async function dropMarkedScreen(tx: Tx, attemptId: string, id: string): Promise<boolean> {
  const [gone] = await tx
    .delete(markedScreens)
    .where(and(eq(markedScreens.attemptId, attemptId), eq(markedScreens.id, id)))
    .returning({ hash: markedScreens.hash })
  if (!gone) return false
  const others = await tx
    .select({ hash: markedScreens.hash })
    .from(markedScreens)
    .where(and(eq(markedScreens.attemptId, attemptId), eq(markedScreens.hash, gone.hash)))
    .limit(1)
  if (others.length === 0)
    await tx
      .delete(evidenceUses)
      .where(and(eq(evidenceUses.attemptId, attemptId), eq(evidenceUses.hash, gone.hash)))
  return true
}
