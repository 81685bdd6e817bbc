/** What people decided of causes of failures: added, and taken back. */
import { and, desc, eq, inArray, isNotNull, isNull, sql } from 'drizzle-orm'
import type { Decision, Proposed } from '@/core/triage'
import type { Conn, Tx } from './client'
import type { Now } from './moment'
import { col, rowsOf } from './rows'
import { causeDecisions } from './schema'

export type DecisionRow = typeof causeDecisions.$inferSelect

/** The newest that hold, oldest first: what likelihoods learn from. */
export async function newestDecisions(db: Conn, most: number): Promise<Decision[]> {
  const rows = await db
    .select({
      signature: causeDecisions.signature,
      as: causeDecisions.as,
      build: causeDecisions.build,
      facts: causeDecisions.facts,
    })
    .from(causeDecisions)
    .where(isNull(causeDecisions.takenBackAt))
    .orderBy(desc(causeDecisions.id))
    .limit(most)
  return rows.reverse()
}

/** Those that hold and know what was proposed, the newest first. */
export async function newestProposed(db: Conn, most: number): Promise<(Proposed & { decidedAt: Date })[]> {
  const rows = await db
    .select({
      likely: causeDecisions.proposed,
      as: causeDecisions.as,
      decidedAt: causeDecisions.decidedAt,
    })
    .from(causeDecisions)
    .where(and(isNull(causeDecisions.takenBackAt), isNotNull(causeDecisions.proposed)))
    .orderBy(desc(causeDecisions.id))
    .limit(most)
  return rows.map(({ likely, ...one }) => ({ ...one, likely: likely ?? [] }))
}

/** What is decided of each of these signatures now. */
export async function decisionsOf(
  db: Conn,
  signatures: readonly string[],
): Promise<Map<string, DecisionRow>> {
  if (signatures.length === 0) return new Map()
  const rows = await db
    .selectDistinctOn([causeDecisions.signature])
    .from(causeDecisions)
    .where(and(inArray(causeDecisions.signature, [...signatures]), isNull(causeDecisions.takenBackAt)))
    .orderBy(causeDecisions.signature, desc(causeDecisions.id))
  return new Map(rows.map((row) => [row.signature, row]))
}

/** Signatures that were said to be a known defect, the newest first, by defect. */
export async function signaturesOfDefects(db: Conn): Promise<Map<number, string[]>> {
  const rows = await db
    .select({ defectId: causeDecisions.defectId, signature: causeDecisions.signature })
    .from(causeDecisions)
    .where(and(isNotNull(causeDecisions.defectId), isNull(causeDecisions.takenBackAt)))
    .orderBy(desc(causeDecisions.id))
    .limit(SIGNATURES_MOST)
  const found = new Map<number, string[]>()
  for (const { defectId, signature } of rows)
    found.set(defectId!, [...(found.get(defectId!) ?? []), signature])
  return found
}
const SIGNATURES_MOST = 5000

/** Decides in turn with whoever decides of one of these at the same moment: until the transaction ends. */
export async function lockSignatures(tx: Tx, signatures: readonly string[]): Promise<void> {
  // in one order, or two would wait for each other
  for (const signature of signatures.toSorted())
    await tx.execute(sql`select pg_advisory_xact_lock(hashtextextended(${signature}, 7))`)
}

export const addDecisions = (
  tx: Tx,
  rows: (typeof causeDecisions.$inferInsert)[],
): Promise<{ id: number }[]> => tx.insert(causeDecisions).values(rows).returning({ id: causeDecisions.id })

/** @returns the decision; `undefined`: there is none, or it was taken back already */
export async function takeBack(tx: Tx, now: Now, id: number, by: string): Promise<DecisionRow | undefined> {
  const [row] = await tx
    .update(causeDecisions)
    .set({ takenBackBy: by, takenBackAt: sql`${now}` })
    .where(and(eq(causeDecisions.id, id), isNull(causeDecisions.takenBackAt)))
    .returning()
  return row
}

/** Decisions that hold, of so long: how many, and how long after the end of its run the middle one came. */
export async function decidedWithin(
  db: Conn,
  now: Now,
  ms: number,
): Promise<{ decided: number; afterMs: number | null }> {
  const [row] = await rowsOf(
    db,
    { decided: col.integer, afterMs: col.orNull(col.integer) },
    sql`
    select count(*)::int as decided,
      (percentile_cont(0.5) within group (order by extract(epoch from d.decided_at - r.ended_at) * 1000)
        filter (where r.ended_at <= d.decided_at))::int as "afterMs"
    from cause_decisions d left join runs r on r.id = d.run_id
    where d.taken_back_at is null and d.decided_at > ${now} - ${ms} * interval '1 ms'`,
  )
  return row!
}
