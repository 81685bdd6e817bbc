/** Quarantined cases, and what recovery rules did. */
import { asc, eq, gt, sql } from 'drizzle-orm'
import type { Conn } from './client'
import type { Now } from './moment'
import { quarantines } from './schema'

export type QuarantineRow = typeof quarantines.$inferSelect

export const quarantinedNow = async (db: Conn, now: Now): Promise<Set<string>> =>
  new Set((await db.select({ caseKey: quarantines.caseKey }).from(quarantines).where(gt(quarantines.until, sql`${now}`))).map(({ caseKey }) => caseKey))
export const listQuarantines = async (db: Conn): Promise<QuarantineRow[]> => await db.select().from(quarantines).orderBy(asc(quarantines.until))
export async function putQuarantine(db: Conn, row: Omit<typeof quarantines.$inferInsert, 'setAt'>): Promise<void> {
  await db.insert(quarantines).values(row).onConflictDoUpdate({ target: quarantines.caseKey, set: { ...row, setAt: sql`now()` } })
}
export const dropQuarantine = async (db: Conn, caseKey: string): Promise<boolean> => (await db.delete(quarantines).where(eq(quarantines.caseKey, caseKey))).rowCount === 1

/** How often each rule was used in a run, by its id. */
export async function usesInRun(db: Conn, runId: number): Promise<Record<string, number>> {
  const { rows } = await db.execute<{ rule: string; uses: number }>(sql`
    select r->>'rule' as rule, count(*)::int as uses from attempts t, jsonb_array_elements(t.recoveries) r where t.run_id = ${runId} and t.recoveries <> '[]' group by 1`)
  return Object.fromEntries(rows.map(({ rule, uses }) => [rule, uses]))
}
