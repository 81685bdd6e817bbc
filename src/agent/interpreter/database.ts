/** Tables, read over a connection that cannot write: whatever is asked, it takes no more than its time, and
 * its answer no more room than it may. */
import pg from 'pg'
import Cursor from 'pg-cursor'
import { queryProblem } from '@/core/model'
import { checkedSocket, OPEN_POLICY, type OutgoingPolicy } from '@/node/outgoing'
import { StepFault } from './fault'

/** A query of more is no check. */
const ROWS_MOST = 10_000
const ANSWER_MOST_BYTES = 32_000_000
/** The settings of a session that only reads; none that only a superuser may set. A query is one statement,
 * and none that changes them is taken. */
const SETTINGS = '-c default_transaction_read_only=on -c standard_conforming_strings=on'

export type Rows = { rows: Record<string, unknown>[]; columns: string[] }

/** @throws {StepFault} data: the statement is refused, or answers too much; page, time-limit: no answer */
export async function readRows(
  url: string,
  sql: string,
  values: string[],
  limitMs: number,
  policy: OutgoingPolicy = OPEN_POLICY,
): Promise<Rows> {
  const problem = queryProblem(sql)
  if (problem) throw new StepFault({ kind: 'data', message: `the statement is not asked: ${problem}` })
  const client = new pg.Client({
    connectionString: url,
    connectionTimeoutMillis: limitMs,
    query_timeout: limitMs,
    statement_timeout: limitMs,
    options: SETTINGS,
    application_name: 'oak query',
    // another database of the product's own server may be read: its own is refused when it is set up
    stream: () => checkedSocket({ ...policy, forbidden: [] }),
  })
  let tooMuch = false
  client.on('error', () => {}) // told by the query that is waiting
  const over = setTimeout(() => void client.end().catch(() => {}), limitMs + 500)
  try {
    await client.connect()
    limitAnswer(client, () => (tooMuch = true))
    const cursor = client.query(new Cursor<Record<string, unknown>>(sql, values))
    const rows = await cursor.read(ROWS_MOST + 1)
    const { fields } = (cursor as unknown as { _result: { fields: { name: string }[] } })._result
    if (rows.length > ROWS_MOST)
      throw new StepFault({
        kind: 'data',
        message: `the answer has more than ${ROWS_MOST} rows; at most as many are looked at`,
      })
    await cursor.close()
    return { rows, columns: fields.map(({ name }) => name) }
  } catch (error) {
    throw faultOf(error, tooMuch, limitMs)
  } finally {
    clearTimeout(over)
    await client.end().catch(() => {})
  }
}

/** Ends the connection when more comes than an answer may have: a single value may be a gigabyte. */
function limitAnswer(client: pg.Client, onTooMuch: () => void): void {
  const { stream } = (
    client as unknown as { connection: { stream: NodeJS.ReadableStream & { destroy(): void } } }
  ).connection
  let bytes = 0
  stream.on('data', (part: Buffer) => {
    bytes += part.length
    if (bytes <= ANSWER_MOST_BYTES) return
    onTooMuch()
    stream.destroy()
  })
}

function faultOf(error: unknown, tooMuch: boolean, limitMs: number): StepFault {
  if (error instanceof StepFault) return error
  if (tooMuch)
    return new StepFault({
      kind: 'data',
      message: `the answer is larger than ${ANSWER_MOST_BYTES / 1_000_000} MB`,
    })
  const { code = '', message } = error as Error & { code?: string }
  if (code === '57014' || /timeout/i.test(message)) {
    return new StepFault({
      kind: 'time-limit',
      message: `the database did not answer within ${Math.round(limitMs / 1000)} s`,
    })
  }
  if (code === '25006')
    return new StepFault({ kind: 'data', message: 'the statement would write; a query only reads' })
  const refused = /^[0-9A-Z]{5}$/.test(code) && !code.startsWith('08')
  return new StepFault(
    refused
      ? { kind: 'data', message: `the statement was refused: ${message}` }
      : { kind: 'page', message: `no answer from the database: ${message || code}` },
  )
}
