/** Causes that people take for one. */
import { and, desc, eq, isNull, sql } from 'drizzle-orm'
import type { Conn, Tx } from './client'
import type { Now } from './moment'
import { col, rowsOf } from './rows'
import { causeMerges } from './schema'

export type MergeRow = typeof causeMerges.$inferSelect

/** Those that hold, the newest first. */
export const mergesNow = (db: Conn): Promise<MergeRow[]> =>
  db.select().from(causeMerges).where(isNull(causeMerges.takenBackAt)).orderBy(desc(causeMerges.id))

/** Changes with each rule that comes or is taken back, of those that set apart, too. */
export const rulesMark = async (db: Conn): Promise<string> =>
  (
    await rowsOf(
      db,
      { mark: col.text },
      sql`
      select concat_ws('-', m.made, m.back, s.made, s.back) as mark
      from (select count(*) made, count(taken_back_at) back from cause_merges) m,
        (select count(*) made, count(taken_back_at) back from cause_splits) s`,
    )
  )[0]!.mark

/** One at a time: two that lead to each other would be a circle. */
export const lockMerges = async (tx: Tx): Promise<void> =>
  void (await tx.execute(sql`select pg_advisory_xact_lock(hashtextextended('cause merges', 7))`))

export const addMerge = async (tx: Tx, row: typeof causeMerges.$inferInsert): Promise<number> =>
  (await tx.insert(causeMerges).values(row).returning({ id: causeMerges.id }))[0]!.id

/** @returns the rule; `undefined`: there is none, or it was taken back already */
export const takeBackMerge = async (
  tx: Tx,
  now: Now,
  id: number,
  by: string,
): Promise<MergeRow | undefined> =>
  (
    await tx
      .update(causeMerges)
      .set({ takenBackBy: by, takenBackAt: sql`${now}` })
      .where(and(eq(causeMerges.id, id), isNull(causeMerges.takenBackAt)))
      .returning()
  )[0]
