/** Parts of causes that people set apart. */
import { and, desc, eq, isNull, sql } from 'drizzle-orm'
import type { Conn, Tx } from './client'
import type { Now } from './moment'
import { col, rowsOf } from './rows'
import { causeSplits } from './schema'

export type SplitRow = typeof causeSplits.$inferSelect

/** Those that hold, the newest first. */
export const splitsNow = (db: Conn): Promise<SplitRow[]> =>
  db.select().from(causeSplits).where(isNull(causeSplits.takenBackAt)).orderBy(desc(causeSplits.id))

/** @returns the rule's id; `undefined`: the same one holds already */
export const addSplit = async (tx: Tx, row: typeof causeSplits.$inferInsert): Promise<number | undefined> =>
  (await tx.insert(causeSplits).values(row).onConflictDoNothing().returning({ id: causeSplits.id }))[0]?.id

/** @returns the rule; `undefined`: there is none, or it was taken back already */
export const takeBackSplit = async (
  tx: Tx,
  now: Now,
  id: number,
  by: string,
): Promise<SplitRow | undefined> =>
  (
    await tx
      .update(causeSplits)
      .set({ takenBackBy: by, takenBackAt: sql`${now}` })
      .where(and(eq(causeSplits.id, id), isNull(causeSplits.takenBackAt)))
      .returning()
  )[0]

/** So many failures of a cause are known of the runs that were looked at. */
export const failuresKept = async (db: Conn, signature: string): Promise<number> =>
  (
    await rowsOf(
      db,
      { failures: col.integer },
      sql`
      select coalesce(sum((cause->>'failures')::int), 0)::int as failures
      from run_causes where signature = ${signature}`,
    )
  )[0]!.failures
