/** Planned starts of rotations: up to when they were looked at, and what became of each. */
import { and, eq, ne, sql } from 'drizzle-orm'
import type { Conn, Tx } from './client'
import type { Now } from './moment'
import { occurrenceStarts, rotaMarks, runs } from './schema'

export type OccurrenceStart = typeof occurrenceStarts.$inferSelect

/** Locks a rotation's mark for the length of a transaction. A rotation that is looked at for the first time begins now: what lay before was never planned here.
 * @returns `undefined` while another worker holds it */
export async function takeMark(tx: Tx, rotationKey: string, now: Now): Promise<{ seenUntil: Date; now: Date } | undefined> {
  await tx.insert(rotaMarks).values({ rotationKey, seenUntil: sql`${now}` }).onConflictDoNothing()
  const { rows } = await tx.execute<{ seen: Date; now: Date }>(sql`select seen_until as seen, ${now} as now from rota_marks where rotation_key = ${rotationKey} for update skip locked`)
  return rows[0] && { seenUntil: new Date(rows[0].seen), now: new Date(rows[0].now) }
}

export async function moveMark(tx: Tx, rotationKey: string, to: Date): Promise<void> {
  await tx.update(rotaMarks).set({ seenUntil: to }).where(eq(rotaMarks.rotationKey, rotationKey))
}

/** Takes a planned start, before anything is done for it. @returns false when it was taken before: somebody else saw to it */
export async function takeOccurrence(tx: Tx, rotationKey: string, at: Date): Promise<boolean> {
  return (await tx.insert(occurrenceStarts).values({ rotationKey, at, state: 'skipped' }).onConflictDoNothing()).rowCount === 1
}

export async function settleOccurrence(tx: Tx, { rotationKey, at, ...rest }: OccurrenceStart): Promise<void> {
  await tx.update(occurrenceStarts).set(rest).where(and(eq(occurrenceStarts.rotationKey, rotationKey), eq(occurrenceStarts.at, at)))
}

export async function runsStill(tx: Conn, rotationKey: string): Promise<boolean> {
  return (await tx.select({ id: runs.id }).from(runs).where(and(eq(runs.rotationKey, rotationKey), ne(runs.state, 'ended'))).limit(1)).length > 0
}
