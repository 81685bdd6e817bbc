/** Where the roles of joint cases are, and what they hand to each other while they go on. */
import { and, eq, ne, sql } from 'drizzle-orm'
import type { AttemptRow } from './claim'
import type { Conn, Db, Tx } from './client'
import { attempts, caseRuns, jointArrivals, jointValues } from './schema'

type Try = Pick<AttemptRow, 'caseRunId' | 'number' | 'role'>

/** Notes that a role has come to a point; a second time is the same. */
export async function addArrival(
  tx: Tx,
  { caseRunId, number, role }: Try,
  { point, visit }: { point: string; visit: number },
): Promise<void> {
  await tx.insert(jointArrivals).values({ caseRunId, number, role, point, visit }).onConflictDoNothing()
}

/** The newest value of a name counts, whoever gave it. */
export async function addValues(
  tx: Tx,
  { caseRunId, number, role }: Try,
  values: Readonly<Record<string, string>>,
): Promise<void> {
  const rows = Object.entries(values).map(([name, value]) => ({ caseRunId, number, role, name, value }))
  if (rows.length > 0)
    await tx
      .insert(jointValues)
      .values(rows)
      .onConflictDoUpdate({
        target: [jointValues.caseRunId, jointValues.number, jointValues.name],
        set: { value: sql`excluded.value`, role: sql`excluded.role` },
      })
}

export type JointState = {
  told: string | null
  arrived: string[]
  roles: string[]
  values: Record<string, string>
}

/** How things stand between the roles, for an attempt that still holds; `undefined` when it does not. */
export async function jointState(
  db: Db,
  { id, caseRunId, number }: Pick<AttemptRow, 'id' | 'caseRunId' | 'number'>,
  at: { point: string; visit: number } | undefined,
): Promise<JointState | undefined> {
  const [state] = await db
    .select({ told: attempts.told, roles: caseRuns.roles })
    .from(attempts)
    .innerJoin(caseRuns, eq(caseRuns.id, attempts.caseRunId))
    .where(and(eq(attempts.id, id), ne(attempts.state, 'ended')))
  if (!state) return undefined
  const [arrived, values] = await Promise.all([
    at
      ? db
          .select({ role: jointArrivals.role })
          .from(jointArrivals)
          .where(
            and(
              eq(jointArrivals.caseRunId, caseRunId),
              eq(jointArrivals.number, number),
              eq(jointArrivals.point, at.point),
              eq(jointArrivals.visit, at.visit),
            ),
          )
      : [],
    db
      .select({ name: jointValues.name, value: jointValues.value })
      .from(jointValues)
      .where(and(eq(jointValues.caseRunId, caseRunId), eq(jointValues.number, number))),
  ])
  return {
    told: state.told,
    roles: state.roles,
    arrived: arrived.map(({ role }) => role),
    values: Object.fromEntries(values.map(({ name, value }) => [name, value])),
  }
}

/** What an attempt waits for, in words, for those who watch. */
export async function noteWaiting(db: Conn, attemptId: string, atStep: string): Promise<void> {
  await db
    .update(attempts)
    .set({ atStep })
    .where(and(eq(attempts.id, attemptId), ne(attempts.state, 'ended')))
}
