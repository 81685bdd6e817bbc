/** Checks that failed, as the log tells of them. */
import { sql, type SQL } from 'drizzle-orm'
import type { Row } from '@/core/model'
import type { Conn } from './client'
import { logOfAttempt, logsOfRun } from './logs'
import { col, rowsOf } from './rows'
import type { RunSnapshot } from './schema'

/** More of a run are not looked at. */
const FAILED_CHECKS_MOST = 1000

const FAILED_CHECK = {
  attemptId: col.text,
  path: col.text,
  actual: col.text,
  message: col.text,
  expected: col.orNull(col.text),
  role: col.text,
  caseKey: col.text,
  title: col.text,
  environment: col.text,
  parameters: col.json<Record<string, string>>(),
  row: col.orNull(col.json<Row>()),
  rowIndex: col.orNull(col.integer),
}
export type FailedCheckRow = Awaited<ReturnType<typeof failedChecksOfRun>>[number]

/** A step that was tried again counts with its last try. Those around a failed check failed with it: they are
 * among these. */
const failedChecks = (db: Conn, which: SQL) =>
  rowsOf(
    db,
    FAILED_CHECK,
    sql`
    select * from (
      select distinct on (t.id, e.body->>'path') t.id as "attemptId", e.body->>'path' as path,
        e.body->'failure'->>'actual' as actual, e.body->'failure'->>'message' as message,
        e.body->'failure'->>'expected' as expected,
        e.body->'failure'->>'kind' as kind, t.role, c.case_key as "caseKey", c.title, c.environment,
        c.parameters, c.row, c.row_index as "rowIndex", c.position
      from ${which} and e.body->>'type' = 'step-ended'
      order by t.id, e.body->>'path', e.no desc) ended
    where kind = 'check' and actual is not null
    order by position, environment, path limit ${FAILED_CHECKS_MOST}`,
  )

export const failedChecksOfAttempt = (db: Conn, attemptId: string) =>
  failedChecks(db, logOfAttempt(attemptId))

/** Of the attempts that the run's grid shows. */
export const failedChecksOfRun = (db: Conn, runId: number) =>
  failedChecks(db, sql`${logsOfRun(runId)} and c.outcome = 'failed'`)

/** Cases and routines as a run had them. */
export const definitionsOfRun = async (
  db: Conn,
  runId: number,
): Promise<Pick<RunSnapshot, 'cases' | 'routines'> | undefined> =>
  (
    await rowsOf(
      db,
      { cases: col.json<RunSnapshot['cases']>(), routines: col.json<RunSnapshot['routines']>() },
      sql`select snapshot->'cases' as cases, snapshot->'routines' as routines from runs where id = ${runId}`,
    )
  )[0]
