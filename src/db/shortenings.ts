/** Tries to find which steps a failure needs. */
import { and, asc, desc, eq, sql } from 'drizzle-orm'
import type { AttemptOutcome } from '@/core/execution'
import type { FailureKind } from '@/core/model'
import type { Conn, Tx } from './client'
import { col, rowsOf } from './rows'
import { shortenings, type TriedSteps } from './schema'

export type ShorteningRow = typeof shortenings.$inferSelect
/** Most that are looked at in one go. */
const GOING_MOST = 20

/** @returns its id; `undefined`: one of this failure goes on */
export async function addShortening(
  tx: Tx,
  row: Pick<ShorteningRow, 'attemptId' | 'startedBy'>,
): Promise<number | undefined> {
  const [made] = await tx
    .insert(shortenings)
    .values(row)
    .onConflictDoNothing()
    .returning({ id: shortenings.id })
  return made?.id
}

export const newestShortening = async (db: Conn, attemptId: string): Promise<ShorteningRow | undefined> =>
  (
    await db
      .select()
      .from(shortenings)
      .where(eq(shortenings.attemptId, attemptId))
      .orderBy(desc(shortenings.id))
      .limit(1)
  )[0]

export const goingShortenings = (db: Conn): Promise<ShorteningRow[]> =>
  db
    .select()
    .from(shortenings)
    .where(eq(shortenings.state, 'going'))
    .orderBy(asc(shortenings.id))
    .limit(GOING_MOST)

/** Writes what is new of one that goes on, if nobody did or stopped it meanwhile.
 * @param known tries that were known when that was found out
 * @returns whether it was written */
export const noteShortening = async (
  tx: Conn,
  { id, tries: known }: Pick<ShorteningRow, 'id' | 'tries'>,
  change: Partial<Omit<ShorteningRow, 'id'>>,
): Promise<boolean> =>
  (
    await tx
      .update(shortenings)
      .set(change)
      .where(
        and(
          eq(shortenings.id, id),
          eq(shortenings.state, 'going'),
          sql`${shortenings.tries} = ${JSON.stringify(known)}::jsonb`,
        ),
      )
  ).rowCount === 1

export const stopShortening = async (tx: Tx, attemptId: string): Promise<TriedSteps[] | undefined> =>
  (
    await tx
      .update(shortenings)
      .set({ state: 'stopped' })
      .where(and(eq(shortenings.attemptId, attemptId), eq(shortenings.state, 'going')))
      .returning({ tries: shortenings.tries })
  )[0]?.tries

/** How the only case run of a run ended.
 * @returns `undefined`: the run is gone; `outcome: null`: it goes on */
export const endOfTry = async (db: Conn, runId: number) =>
  (
    await rowsOf(
      db,
      {
        attemptId: col.orNull(col.text),
        outcome: col.orNull(col.oneOf<AttemptOutcome | 'recovered'>()),
        kind: col.orNull(col.oneOf<FailureKind>()),
        message: col.orNull(col.text),
        path: col.orNull(col.text),
      },
      sql`
      select t.id as "attemptId", c.outcome, t.failure_kind as kind, t.failure_message as message,
        t.failure_path as path
      from case_runs c left join lateral (
        select * from attempts where case_run_id = c.id order by number desc limit 1) t on true
      where c.run_id = ${runId} limit 1`,
    )
  )[0]
