/** Runs that were made elsewhere and taken in. */
import { eq, sql } from 'drizzle-orm'
import type { ResultSuite } from '@/core/formats'
import type { Conn, Tx } from './client'
import { caseRuns, importedResults, runs, type ImportedResult } from './schema'
import type { Now } from './moment'

export type NewImportedCase = {
  caseRun: Omit<typeof caseRuns.$inferInsert, 'id' | 'state'>
  body: ImportedResult
}

/** Case runs of a result file, with what it said of each: two statements for many. */
export async function addImportedCases(tx: Tx, cases: NewImportedCase[]): Promise<void> {
  const rows = await tx
    .insert(caseRuns)
    .values(cases.map(({ caseRun }) => ({ ...caseRun, state: 'ended' as const })))
    .returning({ id: caseRuns.id, position: caseRuns.position })
  const ids = new Map(rows.map(({ id, position }) => [position, id]))
  await tx
    .insert(importedResults)
    .values(cases.map(({ caseRun, body }) => ({ caseRunId: ids.get(caseRun.position)!, body })))
}

/** The run counts as ended when it was taken in, and as long as its cases took together. */
export async function endImport(tx: Tx, runId: number, ms: number, now: Now): Promise<void> {
  await tx
    .update(runs)
    .set({
      state: 'ended',
      endedAt: sql`${now}`,
      startedAt: sql`${now} - ${Math.round(ms)} * interval '1 ms'`,
    })
    .where(eq(runs.id, runId))
  await tx
    .update(caseRuns)
    .set({ startedAt: sql`${now}`, endedAt: sql`${now}` })
    .where(eq(caseRuns.runId, runId))
}

/** What the file says of its suites, kept with the run. */
export async function keepResultSuites(tx: Tx, runId: number, suites: readonly ResultSuite[]): Promise<void> {
  await tx
    .update(runs)
    .set({
      snapshot: sql`${runs.snapshot} || jsonb_build_object('resultSuites', ${JSON.stringify(suites)}::jsonb)`,
    })
    .where(eq(runs.id, runId))
}

export const importedResult = async (db: Conn, caseRunId: string): Promise<ImportedResult | undefined> =>
  (
    await db
      .select({ body: importedResults.body })
      .from(importedResults)
      .where(eq(importedResults.caseRunId, caseRunId))
  )[0]?.body
