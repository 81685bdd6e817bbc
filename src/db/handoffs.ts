/** Values that case runs hand on to those that come after them. */
import { and, eq, inArray, or, sql } from 'drizzle-orm'
import type { CaseRunRow } from './claim'
import type { Conn, Tx } from './client'
import { handoffs } from './schema'

/** Stands for every environment in handoffs of what comes before all; no environment has such a key. */
const EVERYWHERE = '*'

export async function addHandoffs(
  tx: Tx,
  caseRun: CaseRunRow,
  values: Record<string, string>,
): Promise<void> {
  // What comes before all is done once, for every environment.
  const environment = caseRun.phase < 0 ? EVERYWHERE : caseRun.environment
  const rows = Object.entries(values).map(([name, value]) => ({
    runId: caseRun.runId,
    environment,
    rowIndex: caseRun.rowIndex,
    caseRunId: caseRun.id,
    name,
    value,
  }))
  if (rows.length > 0) await tx.insert(handoffs).values(rows)
}

/** The handoffs a case run takes: from its own row where there is one, else the newest; and all that came
 * before all. */
export async function takeHandoffs(
  db: Conn,
  caseRun: Pick<CaseRunRow, 'runId' | 'environment' | 'needs' | 'rowIndex'>,
): Promise<Record<string, string>> {
  const rows = await db
    .selectDistinctOn([handoffs.name], { name: handoffs.name, value: handoffs.value })
    .from(handoffs)
    .where(
      and(
        eq(handoffs.runId, caseRun.runId),
        or(
          eq(handoffs.environment, EVERYWHERE),
          and(eq(handoffs.environment, caseRun.environment), inArray(handoffs.name, caseRun.needs)),
        ),
      ),
    )
    .orderBy(
      handoffs.name,
      sql`${handoffs.environment} = ${caseRun.environment} desc`,
      sql`${handoffs.rowIndex} is not distinct from ${caseRun.rowIndex} desc`,
      sql`${handoffs.id} desc`,
    )
  return Object.fromEntries(rows.map(({ name, value }) => [name, value]))
}
