/** `call` and `query`: an application's API and its tables, asked directly. */
import { fillDeep, match, valuesAt, type Matcher, type Scope, type StepOf } from '@/core/model'
import pg from 'pg'
import { StepFault } from './fault'
import { addressOf, CALL_LIMIT_MS, filledText, keep, limitOf, type Done, type StepParts } from './parts'

/** A query of more is no check. */
const ROWS_MOST = 10_000

/** @throws {StepFault} check: the answer is another; page, time-limit: there is none */
export async function call(parts: StepParts, step: StepOf<'call'>, path: string): Promise<Done> {
  const { scope, pace, log } = parts
  const url = addressOf(parts, filledText(parts, step.url))
  const start = pace.now()
  const body = step.body === undefined ? undefined : fillDeep(step.body, scope)
  const answer = await ask(step.method, url, body, fillDeep(step.headers ?? {}, scope), limitOf(parts, step, CALL_LIMIT_MS))
  log.say({ type: 'request', path, method: step.method, url, status: answer.status, ms: pace.now() - start })
  checkAnswer(step, answer, scope)
  for (const [name, at] of Object.entries(step.read)) await keep(parts, name, valueAt(answer, at), path, step.handoff)
  return { note: `answered ${answer.status}` }
}

/** Reads tables over a connection that cannot write; values travel as parameters, never as text of the statement.
 * @throws {StepFault} check: other rows than expected; data: no such database, the statement is refused; page, time-limit: no answer */
export async function query(parts: StepParts, step: StepOf<'query'>, path: string): Promise<Done> {
  const url = parts.work.databases[step.database]
  if (!url) throw new StepFault({ kind: 'data', message: `there is no database “${step.database}”` })
  const { rows, columns } = await select(url, step.sql, fillDeep(step.values, parts.scope), limitOf(parts, step, CALL_LIMIT_MS))
  checkRows(step, rows, columns, parts.scope)
  for (const [name, column] of Object.entries(step.read)) {
    if (!columns.includes(column)) throw new StepFault({ kind: 'data', message: `the answer has no column “${column}”; it has ${columns.join(', ')}` })
    if (!rows[0]) throw new StepFault({ kind: 'check', message: 'there is no row to read from', expected: 'a row', actual: 'no rows' })
    await keep(parts, name, cell(rows[0][column]), path, false)
  }
  return { note: rows.length === 1 ? '1 row' : `${rows.length} rows` }
}

type Rows = { rows: Record<string, unknown>[]; columns: string[] }

async function select(url: string, sql: string, values: string[], limitMs: number): Promise<Rows> {
  const client = new pg.Client({ connectionString: url, connectionTimeoutMillis: limitMs, query_timeout: limitMs, statement_timeout: limitMs, options: '-c default_transaction_read_only=on', application_name: 'oak query' })
  client.on('error', () => {}) // told by the query that is waiting
  try {
    await client.connect()
    // "extended": one statement only, whether it has values or not, so that nothing can follow a "commit;".
    const query = { text: sql, values, queryMode: 'extended' as const }
    const { rows, fields } = await client.query<Record<string, unknown>>(query)
    if (rows.length > ROWS_MOST) throw new StepFault({ kind: 'data', message: `the answer has ${rows.length} rows; at most ${ROWS_MOST} are looked at` })
    return { rows, columns: fields.map(({ name }) => name) }
  } catch (error) {
    if (error instanceof StepFault) throw error
    const { code = '', message } = error as Error & { code?: string }
    if (code === '57014' || /timeout/i.test(message)) throw new StepFault({ kind: 'time-limit', message: `the database did not answer within ${Math.round(limitMs / 1000)} s` })
    if (code === '25006') throw new StepFault({ kind: 'data', message: 'the statement would write; a query only reads' })
    throw new StepFault(/^[0-9A-Z]{5}$/.test(code) && !code.startsWith('08') ? { kind: 'data', message: `the statement was refused: ${message}` } : { kind: 'page', message: `no answer from the database: ${message || code}` })
  } finally {
    await client.end().catch(() => {})
  }
}

function checkRows(step: StepOf<'query'>, rows: Record<string, unknown>[], columns: string[], scope: Scope): void {
  const { rows: count, value, columns: cells = {} } = step.expect ?? {}
  const compare = (what: string, matcher: Matcher, actual: string | undefined) => {
    const filled = fillDeep(matcher, scope)
    if (actual === undefined || !match(actual, filled).holds) throw new StepFault({ kind: 'check', message: `${what} is not as expected`, expected: match('', filled).expected, actual: actual ?? 'no rows' })
  }
  if (count !== undefined) compare('The number of rows', typeof count === 'number' ? { equals: String(count) } : count, String(rows.length))
  if (value !== undefined) compare('The value', value, rows[0] && cell(rows[0][columns[0]!]))
  for (const [column, matcher] of Object.entries(cells)) {
    if (!columns.includes(column)) throw new StepFault({ kind: 'data', message: `the answer has no column “${column}”; it has ${columns.join(', ')}` })
    compare(`“${column}”`, matcher, rows[0] && cell(rows[0][column]))
  }
}

const cell = (value: unknown): string => (value === null || value === undefined ? '' : value instanceof Date ? value.toISOString() : typeof value === 'object' ? JSON.stringify(value) : String(value))

type CallAnswer = { status: number; text: string; json: unknown }

/** @throws {StepFault} page: no answer in time */
async function ask(method: string, url: string, body: unknown, headers: Record<string, string>, limitMs: number): Promise<CallAnswer> {
  try {
    const response = await fetch(url, {
      method,
      signal: AbortSignal.timeout(limitMs),
      headers: { ...(body !== undefined && { 'content-type': 'application/json' }), ...headers },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    })
    const text = await response.text()
    return { status: response.status, text, json: parseJson(text) }
  } catch (error) {
    const late = (error as Error).name === 'TimeoutError'
    throw new StepFault(late ? { kind: 'time-limit', message: `no answer within ${Math.round(limitMs / 1000)} s` } : { kind: 'page', message: `no answer: ${(error as Error).message}` })
  }
}

/** Compares an answer with what the step expects. Without a status of its own a call expects success.
 * @throws {StepFault} check */
function checkAnswer(step: StepOf<'call'>, answer: CallAnswer, scope: Scope): void {
  const { status, json = {} } = step.expect ?? {}
  const right = status === undefined ? answer.status < 400 : answer.status === status
  if (!right) throw new StepFault({ kind: 'check', message: 'The answer has another status', expected: String(status ?? 'below 400'), actual: String(answer.status) })
  for (const [path, matcher] of Object.entries(json)) {
    const values = valuesAt(answer.json, path)
    if (values === undefined) throw new StepFault({ kind: 'data', message: `“${path}” cannot be read as a path` })
    const filled = fillDeep(matcher, scope)
    const verdicts = values.map((value) => ({ actual: asText(value), ...match(asText(value), filled) }))
    if (!verdicts.some(({ holds }) => holds)) {
      throw new StepFault({ kind: 'check', message: `${path} is not as expected`, expected: match('', filled).expected, actual: verdicts.map(({ actual }) => actual).join(', ') || 'nothing there' })
    }
  }
}

/** The first value at a path, for `read`. */
function valueAt(answer: CallAnswer, path: string): string {
  const [value] = valuesAt(answer.json, path) ?? []
  if (value === undefined) throw new StepFault({ kind: 'check', message: `there is nothing at ${path} to read`, expected: 'a value', actual: 'nothing there' })
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
