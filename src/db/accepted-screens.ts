import { and, desc, eq, inArray, isNull, sql, type SQL } from 'drizzle-orm'
import type { ScreenCheck } from '@/core/execution'
import type { Environment } from '@/core/model'
import type { Conn, Tx } from './client'
import { logOfAttempt, logsOfRun } from './logs'
import { col, rowsOf } from './rows'
import { acceptedScreens, environments } from './schema'

export type AcceptedRow = typeof acceptedScreens.$inferSelect
export type AcceptedPlace = Pick<AcceptedRow, 'caseKey' | 'name' | 'environment'>

const at = ({ caseKey, name, environment }: AcceptedPlace) =>
  and(
    eq(acceptedScreens.caseKey, caseKey),
    eq(acceptedScreens.name, name),
    eq(acceptedScreens.environment, environment),
  )

/** Those that hold for a case now, on every environment, with what is known of it. */
export const acceptedOfCase = async (
  db: Conn,
  caseKey: string,
  names: readonly string[],
): Promise<(AcceptedRow & { facts: Environment })[]> =>
  (
    await db
      .select()
      .from(acceptedScreens)
      .innerJoin(environments, eq(environments.key, acceptedScreens.environment))
      .where(
        and(
          eq(acceptedScreens.caseKey, caseKey),
          inArray(acceptedScreens.name, [...names]),
          isNull(acceptedScreens.endedAt),
        ),
      )
  ).map(({ accepted_screens: row, environments: { facts } }) => ({ ...row, facts }))

/** Newest first. */
export const acceptedBefore = async (db: Conn, place: AcceptedPlace, most: number): Promise<AcceptedRow[]> =>
  await db.select().from(acceptedScreens).where(at(place)).orderBy(desc(acceptedScreens.id)).limit(most)

export const acceptedRow = async (db: Conn, id: number): Promise<AcceptedRow | undefined> =>
  (await db.select().from(acceptedScreens).where(eq(acceptedScreens.id, id)))[0]

/** The one that holds, locked: of two who accept at once the second sees what the first did. */
export const lockAccepted = async (tx: Tx, place: AcceptedPlace): Promise<AcceptedRow | undefined> =>
  (
    await tx
      .select()
      .from(acceptedScreens)
      .where(and(at(place), isNull(acceptedScreens.endedAt)))
      .for('update')
  )[0]

/** Ends the one that holds. @returns whether there was one */
export const endAccepted = async (tx: Tx, place: AcceptedPlace): Promise<boolean> =>
  (
    await tx
      .update(acceptedScreens)
      .set({ endedAt: new Date() })
      .where(and(at(place), isNull(acceptedScreens.endedAt)))
      .returning({ id: acceptedScreens.id })
  ).length > 0

export async function addAccepted(
  tx: Tx,
  row: Omit<typeof acceptedScreens.$inferInsert, 'id' | 'acceptedAt' | 'endedAt'>,
): Promise<number> {
  const [made] = await tx.insert(acceptedScreens).values(row).returning({ id: acceptedScreens.id })
  return made!.id
}

const CHECK_ROW = {
  attemptId: col.text,
  path: col.text,
  runId: col.integer,
  caseKey: col.text,
  title: col.text,
  environment: col.text,
  check: col.json<ScreenCheck>(),
}
export type ScreenCheckRow = Awaited<ReturnType<typeof screenChecksOfRun>>[number]
/** More of a run are not looked at. */
const CHECKS_MOST = 1000

/** A step that was tried again counts with its last try. */
const screenChecks = (db: Conn, which: SQL) =>
  rowsOf(
    db,
    CHECK_ROW,
    sql`
    select distinct on (t.id, e.body->>'path') t.id as "attemptId", e.body->>'path' as path,
      t.run_id as "runId", c.case_key as "caseKey", c.title,
      coalesce(c.role_environments[array_position(c.roles, t.role)], c.environment) as environment,
      e.body as check
    from ${which} and e.body->>'type' = 'screen-check'
    order by t.id, e.body->>'path', e.no desc limit ${CHECKS_MOST}`,
  )

export const screenChecksOfAttempt = (db: Conn, attemptId: string) =>
  screenChecks(db, logOfAttempt(attemptId))

/** Of the attempts that the run's grid shows. */
export const screenChecksOfRun = (db: Conn, runId: number) => screenChecks(db, logsOfRun(runId))
