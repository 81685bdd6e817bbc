/** What the failures of a run are told apart by. */
import { sql } from 'drizzle-orm'
import type { Row } from '@/core/model'
import type { Conn } from './client'
import { environmentOfAttempt } from './played'
import { col, rowsOf, type RowOf } from './rows'

const FAILURE = {
  id: col.text,
  attemptId: col.text,
  caseKey: col.text,
  title: col.text,
  environment: col.text,
  rowIndex: col.orNull(col.integer),
  rowCount: col.orNull(col.integer),
  row: col.orNull(col.json<Row>()),
  parameters: col.json<Record<string, string>>(),
  agent: col.text,
  kind: col.orNull(col.text),
  message: col.orNull(col.text),
  path: col.orNull(col.text),
}
export type RunFailureRow = RowOf<typeof FAILURE>

/** Failures of a run, in the order of its grid: of the attempts that it shows. */
export const failuresWithFacts = (db: Conn, runId: number, most: number): Promise<RunFailureRow[]> =>
  rowsOf(
    db,
    FAILURE,
    sql`
    select c.id, t.id as "attemptId", c.case_key as "caseKey", c.title, ${environmentOfAttempt} as environment,
      c.row_index as "rowIndex", c.row_count as "rowCount", c.row, c.parameters, t.agent_name as agent,
      t.failure_kind as kind, t.failure_message as message, t.failure_path as path
    from case_runs c join attempts t on t.id = c.shown_attempt
    where c.run_id = ${runId} and c.outcome in ('failed', 'errored')
    order by c.position, c.environment limit ${most}`,
  )

const ENDED = { id: col.text, caseKey: col.text, environment: col.text, agent: col.orNull(col.text) }
/** All that has ended in a run and was carried out. */
export const endedWithAgents = (db: Conn, runId: number, most: number): Promise<RowOf<typeof ENDED>[]> =>
  rowsOf(
    db,
    ENDED,
    sql`
    select c.id, c.case_key as "caseKey", ${environmentOfAttempt} as environment, t.agent_name as agent
    from case_runs c join attempts t on t.id = c.shown_attempt
    where c.run_id = ${runId} and c.state = 'ended' limit ${most}`,
  )
