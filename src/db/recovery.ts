/** Quarantined cases, and what recovery rules did. */
import { asc, eq, gt, sql } from 'drizzle-orm'
import type { FailureKind, Outcome } from '@/core/execution'
import { environmentOfAttempt } from './played'
import type { Conn } from './client'
import { col, rowsOf, type RowOf } from './rows'
import type { Now } from './moment'
import { quarantines, type Recovery } from './schema'

export type QuarantineRow = typeof quarantines.$inferSelect

export const quarantinedNow = async (db: Conn, now: Now): Promise<Set<string>> =>
  new Set(
    (
      await db
        .select({ caseKey: quarantines.caseKey })
        .from(quarantines)
        .where(gt(quarantines.until, sql`${now}`))
    ).map(({ caseKey }) => caseKey),
  )
export const listQuarantines = async (db: Conn): Promise<QuarantineRow[]> =>
  await db.select().from(quarantines).orderBy(asc(quarantines.until))
export async function putQuarantine(
  db: Conn,
  row: Omit<typeof quarantines.$inferInsert, 'setAt'>,
): Promise<void> {
  await db
    .insert(quarantines)
    .values(row)
    .onConflictDoUpdate({ target: quarantines.caseKey, set: { ...row, setAt: sql`now()` } })
}
export const dropQuarantine = async (db: Conn, caseKey: string): Promise<boolean> =>
  (await db.delete(quarantines).where(eq(quarantines.caseKey, caseKey))).rowCount === 1

/** How often each rule was used in a run, by its id. */
export async function usesInRun(db: Conn, runId: number): Promise<Record<string, number>> {
  const rows = await rowsOf(
    db,
    { rule: col.text, uses: col.integer },
    sql`
    select r->>'rule' as rule, count(*)::int as uses from attempts t, jsonb_array_elements(t.recoveries) r
      where t.run_id = ${runId} and t.recoveries <> '[]' group by 1`,
  )
  return Object.fromEntries(rows.map(({ rule, uses }) => [rule, uses]))
}

const PAST_ROW = {
  attempt: col.text,
  caseRun: col.text,
  title: col.text,
  run: col.text,
  environment: col.text,
  at: col.moment,
  outcome: col.orNull(col.oneOf<Outcome>()),
  kind: col.orNull(col.oneOf<FailureKind>()),
  message: col.orNull(col.text),
  path: col.orNull(col.text),
  tag: col.orNull(col.text),
  application: col.orNull(col.text),
  recoveries: col.json<Recovery[]>(),
}
export type PastRow = RowOf<typeof PAST_ROW>
/** Attempts since a moment that ended with a failure or needed a recovery rule, the oldest first. Served by
 * attempts_ended. */
export async function failuresSince(db: Conn, now: Now, days: number, most: number): Promise<PastRow[]> {
  return rowsOf(
    db,
    PAST_ROW,
    sql`
    select * from (
      select t.id as attempt, t.case_run_id as "caseRun", c.title, r.title as run,
        ${environmentOfAttempt} as environment, t.ended_at as at, c.outcome, t.recoveries,
             t.failure_kind as kind, t.failure_message as message, t.failure_path as path,
               t.failure_tag as tag, t.failure_application as application
      from attempts t join runs r on r.id = t.run_id and r.kind = 'run'
        join case_runs c on c.id = t.case_run_id
      where t.ended_at > ${now} - ${days} * interval '1 day' and t.ended_at <= ${now}
        and (t.outcome in ('failed', 'errored', 'skipped') or t.recoveries <> '[]')
      order by t.ended_at desc limit ${most}) newest
    order by at`,
  )
}
