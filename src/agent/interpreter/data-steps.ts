/** `call` and `query`: an application's API and its tables, asked directly. */
import {
  ANOTHER_STATUS,
  columnName,
  fillDeep,
  FIRST_CELL,
  NO_ROWS,
  notAsExpected,
  NOTHING_THERE,
  ROW_COUNT,
  valuesAt,
  type Matcher,
  type StepOf,
} from '@/core/model'
import { ask, OutgoingRefused, type OutgoingPolicy } from '@/node/outgoing'
import { readRows } from './database'
import { StepFault } from './fault'
import {
  addressOf,
  CALL_LIMIT_MS,
  filledText,
  judge,
  keep,
  limitOf,
  type Done,
  type StepParts,
} from './parts'

/** An answer of more is no check. */
const ANSWER_MOST_BYTES = 10_000_000
const REDIRECTS_MOST = 10

/** @throws {StepFault} check: the answer is another; page, time-limit: there is none */
export async function call(parts: StepParts, step: StepOf<'call'>, path: string): Promise<Done> {
  const { scope, pace, log } = parts
  const url = addressOf(parts, filledText(parts, step.url))
  const start = pace.now()
  const body = step.body === undefined ? undefined : fillDeep(step.body, scope)
  const answer = await callApplication(
    step.method,
    url,
    body,
    fillDeep(step.headers ?? {}, scope),
    limitOf(parts, step, CALL_LIMIT_MS),
    parts.outgoing,
  )
  log.say({ type: 'request', path, method: step.method, url, status: answer.status, ms: pace.now() - start })
  checkAnswer(parts, step, answer)
  for (const [name, at] of Object.entries(step.read))
    await keep(parts, name, valueAt(answer, at), path, step.handoff)
  return { note: `answered ${answer.status}` }
}

/** Reads tables over a connection that cannot write; values travel as parameters, never as text of the
 * statement.
 * @throws {StepFault} check: other rows than expected; data: no such database, the statement is refused;
 * page, time-limit: no answer */
export async function query(parts: StepParts, step: StepOf<'query'>, path: string): Promise<Done> {
  const url = parts.work.databases[step.database]
  if (!url) throw new StepFault({ kind: 'data', message: `there is no database “${step.database}”` })
  const { rows, columns } = await readRows(
    url,
    step.sql,
    fillDeep(step.values, parts.scope),
    limitOf(parts, step, CALL_LIMIT_MS),
    parts.outgoing,
  )
  checkRows(parts, step, rows, columns)
  for (const [name, column] of Object.entries(step.read)) {
    if (!columns.includes(column))
      throw new StepFault({
        kind: 'data',
        message: `the answer has no column “${column}”; it has ${columns.join(', ')}`,
      })
    if (!rows[0])
      throw new StepFault({
        kind: 'check',
        message: 'there is no row to read from',
        expected: 'a row',
        actual: NO_ROWS,
      })
    await keep(parts, name, cell(rows[0][column]), path, false)
  }
  return { note: rows.length === 1 ? '1 row' : `${rows.length} rows` }
}

function checkRows(
  parts: StepParts,
  step: StepOf<'query'>,
  rows: Record<string, unknown>[],
  columns: string[],
): void {
  const { rows: count, value, columns: cells = {} } = step.expect ?? {}
  const compare = (what: string, matcher: Matcher, actual: string | undefined) => {
    const filled = fillDeep(matcher, parts.scope)
    if (actual === undefined || !judge(parts, actual, filled).holds)
      throw new StepFault({
        kind: 'check',
        message: notAsExpected(what),
        expected: judge(parts, '', filled).expected,
        actual: actual ?? NO_ROWS,
      })
  }
  if (count !== undefined)
    compare(ROW_COUNT, typeof count === 'number' ? { equals: String(count) } : count, String(rows.length))
  if (value !== undefined) compare(FIRST_CELL, value, rows[0] && cell(rows[0][columns[0]!]))
  for (const [column, matcher] of Object.entries(cells)) {
    if (!columns.includes(column))
      throw new StepFault({
        kind: 'data',
        message: `the answer has no column “${column}”; it has ${columns.join(', ')}`,
      })
    compare(columnName(column), matcher, rows[0] && cell(rows[0][column]))
  }
}

function cell(value: unknown): string {
  if (value === null || value === undefined) return ''
  if (value instanceof Date) return value.toISOString()
  return typeof value === 'object' ? JSON.stringify(value) : String(value)
}

type CallAnswer = { status: number; text: string; json: unknown }

/** @throws {StepFault} page: no answer; time-limit: none in time; data: an address that is not asked */
async function callApplication(
  method: string,
  url: string,
  body: unknown,
  headers: Record<string, string>,
  limitMs: number,
  policy: OutgoingPolicy,
): Promise<CallAnswer> {
  const given = { ...(body !== undefined && { 'content-type': 'application/json' }), ...headers }
  try {
    const asked = {
      method,
      headers: given,
      limitMs,
      mostBytes: ANSWER_MOST_BYTES,
      redirects: REDIRECTS_MOST,
      ...(body !== undefined && { body: JSON.stringify(body) }),
    }
    const { status, text } = await ask(url, asked, policy)
    return { status, text, json: parseJson(text) }
  } catch (error) {
    if (error instanceof OutgoingRefused) throw new StepFault({ kind: 'data', message: error.message })
    const { name, message } = error as Error
    if (name === 'TimeoutError')
      throw new StepFault({ kind: 'time-limit', message: `no answer within ${Math.round(limitMs / 1000)} s` })
    throw new StepFault({ kind: 'page', message: `no answer: ${message}` })
  }
}

/** Compares an answer with what the step expects. Without a status of its own a call expects success.
 * @throws {StepFault} check */
function checkAnswer(parts: StepParts, step: StepOf<'call'>, answer: CallAnswer): void {
  const { status, json = {} } = step.expect ?? {}
  const right = status === undefined ? answer.status < 400 : answer.status === status
  if (!right)
    throw new StepFault({
      kind: 'check',
      message: ANOTHER_STATUS,
      expected: String(status ?? 'below 400'),
      actual: String(answer.status),
    })
  for (const [path, matcher] of Object.entries(json)) {
    const values = valuesAt(answer.json, path)
    if (values === undefined)
      throw new StepFault({ kind: 'data', message: `“${path}” cannot be read as a path` })
    const filled = fillDeep(matcher, parts.scope)
    const verdicts = values.map((value) => ({
      actual: asText(value),
      ...judge(parts, asText(value), filled),
    }))
    if (!verdicts.some(({ holds }) => holds)) {
      throw new StepFault({
        kind: 'check',
        message: notAsExpected(path),
        expected: judge(parts, '', filled).expected,
        actual: verdicts.map(({ actual }) => actual).join(', ') || NOTHING_THERE,
      })
    }
  }
}

/** The first value at a path, for `read`. */
function valueAt(answer: CallAnswer, path: string): string {
  const [value] = valuesAt(answer.json, path) ?? []
  if (value === undefined)
    throw new StepFault({
      kind: 'check',
      message: `there is nothing at ${path} to read`,
      expected: 'a value',
      actual: NOTHING_THERE,
    })
  return asText(value)
}

const asText = (value: unknown) => (typeof value === 'string' ? value : JSON.stringify(value))

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return undefined
  }
}
