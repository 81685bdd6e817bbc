/** What the failures of a run are told apart by. */
import { sql } from 'drizzle-orm'
import type { Row } from '@/core/model'
import type { Conn } from './client'
import { environmentOfAttempt } from './played'
import { col, rowsOf, type RowOf } from './rows'

const FAILURE = {
  id: col.text,
  /** None of a result that was taken in. */
  attemptId: col.orNull(col.text),
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
  /** Of a result that was taken in: the type of its error, and what its file says below the message. */
  type: col.orNull(col.text),
  stack: col.orNull(col.text),
}
export type RunFailureRow = RowOf<typeof FAILURE>

/** A stack may be as long as a program likes; what it is of stands at its begin or its end. */
const STACK_END_CHARS = 4000
const stackOfResult = sql`
  case when length(i.body->>'detail') <= ${2 * STACK_END_CHARS}
  then i.body->>'detail'
  else left(i.body->>'detail', ${STACK_END_CHARS}) || chr(10)
    || right(i.body->>'detail', ${STACK_END_CHARS}) end`

/** Failures of a run, in the order of its grid: of the attempts that it shows, and of what was taken in from
 * a result file. */
export const failuresWithFacts = (db: Conn, runId: number, most: number): Promise<RunFailureRow[]> =>
  rowsOf(
    db,
    FAILURE,
    sql`
    select c.id, t.id as "attemptId", c.case_key as "caseKey", c.title, ${environmentOfAttempt} as environment,
      c.row_index as "rowIndex", c.row_count as "rowCount", c.row, c.parameters,
      coalesce(t.agent_name, '') as agent, coalesce(t.failure_kind, c.failure_kind) as kind,
      left(coalesce(t.failure_message, c.failure_message), ${2 * STACK_END_CHARS}) as message,
      t.failure_path as path,
      i.body->>'type' as type, ${stackOfResult} as stack
    from case_runs c left join attempts t on t.id = c.shown_attempt
      left join imported_results i on i.case_run_id = c.id
    where c.run_id = ${runId} and c.outcome in ('failed', 'errored')
      and (t.id is not null or i.case_run_id is not null)
    order by c.position, c.environment limit ${most}`,
  )

/** Tries of a run that failed, of case runs that passed when they were tried again: by the id of the try. */
export const triesPutRight = (db: Conn, runId: number, most: number): Promise<RunFailureRow[]> =>
  rowsOf(
    db,
    FAILURE,
    sql`
    select t.id::text as id, t.id as "attemptId", c.case_key as "caseKey", c.title,
      ${environmentOfAttempt} as environment, c.row_index as "rowIndex", c.row_count as "rowCount", c.row,
      c.parameters, t.agent_name as agent, t.failure_kind as kind, t.failure_message as message,
      t.failure_path as path, null as type, null as stack
    from attempts t join case_runs c on c.id = t.case_run_id
    where t.run_id = ${runId} and t.outcome in ('failed', 'errored') and c.outcome in ('passed', 'recovered')
    order by c.position, c.environment, t.id limit ${most}`,
  )

const ENDED = { id: col.text, caseKey: col.text, environment: col.text, agent: col.orNull(col.text) }
/** All that has ended in a run and was carried out. */
export const endedWithAgents = (db: Conn, runId: number, most: number): Promise<RowOf<typeof ENDED>[]> =>
  rowsOf(
    db,
    ENDED,
    sql`
    select c.id, c.case_key as "caseKey", ${environmentOfAttempt} as environment, t.agent_name as agent
    from case_runs c left join attempts t on t.id = c.shown_attempt join runs r on r.id = c.run_id
    where c.run_id = ${runId} and c.state = 'ended' and (t.id is not null or r.kind = 'imported')
    limit ${most}`,
  )

const FLAKY = { caseKey: col.text, environment: col.text, share: col.number }
/** Results of a case on an environment that are looked back at. */
const [LOOKED_BACK, FLAKY_MOST] = [20, 2000]
/** How often what fails in a run failed now and then before: the share of its newest results that passed only
 * when it was tried again, or failed though it passed with the same build, too. */
export const flakyBefore = (db: Conn, runId: number): Promise<RowOf<typeof FLAKY>[]> =>
  rowsOf(
    db,
    FLAKY,
    sql`
    with own as (select distinct case_key, environment from case_runs
      where run_id = ${runId} and outcome in ('failed', 'errored') limit ${FLAKY_MOST}),
    past as (select own.case_key, own.environment, p.outcome, p.attempts, p.build
      from own cross join lateral (select c.outcome, c.attempts, r.build
        from case_runs c join runs r on r.id = c.run_id
        where c.case_key = own.case_key and c.environment = own.environment and c.run_id < ${runId}
          and r.kind <> 'rehearsal' and c.outcome in ('passed', 'failed', 'errored')
        order by c.ended_at desc limit ${LOOKED_BACK}) p),
    judged as (select *, bool_or(outcome = 'passed') over (partition by case_key, environment, build) as passes
      from past)
    select case_key as "caseKey", environment, count(*) filter (where
        (outcome = 'passed' and attempts > 1) or (outcome <> 'passed' and passes))::float8 / count(*) as share
    from judged group by case_key, environment`,
  )
