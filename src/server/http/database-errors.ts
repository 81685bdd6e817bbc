/** What an error of PostgreSQL, or of the way to it, means for the one who asked. */
import { Problem } from './problems'

/** SQLSTATEs (PostgreSQL manual, appendix A) caused by the client's data: characters, numbers and nesting
 * that cannot be stored. */
const CAUSED_BY_CONTENT = new Set([
  '22001',
  '22003',
  '22007',
  '22008',
  '22021',
  '22023',
  '22P02',
  '22P05',
  '54000',
  '54001',
])

/** Transient ones: no connection, too many connections, shutting down, starting up, deadlock. */
const PASSING = /^(08|53|57P|40001|40P01|25006)/
const PASSING_SYSTEM = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'ETIMEDOUT',
  'ENOENT',
  'ENOTFOUND',
  'EAI_AGAIN',
])
/** Of node-postgres, which gives these no code. */
const PASSING_WORDS =
  /^(Connection terminated|timeout exceeded when trying to connect|Client has encountered a connection error|Client was closed)/
const STATEMENT_TIMED_OUT = '57014'

type Coded = Error & { code?: unknown; cause?: unknown }

/** @returns the problem to answer with; `undefined` for a fault of ours, or for an error that is not of the
 * database */
export function problemOfDatabaseError(error: unknown): Problem | undefined {
  const cause = innermost(error)
  if (!cause) return undefined
  const code = typeof cause.code === 'string' ? cause.code : ''
  if (CAUSED_BY_CONTENT.has(code)) {
    return new Problem('UNSTORABLE', `What was sent cannot be stored: ${cause.message}. Nothing was changed.`)
  }
  if (code === STATEMENT_TIMED_OUT) return new Problem('TOOK_TOO_LONG')
  const passes = PASSING.test(code) || PASSING_SYSTEM.has(code) || PASSING_WORDS.test(cause.message)
  return passes ? new Problem('DATABASE_AWAY', undefined, undefined, { cause: error }) : undefined
}

/** Drizzle and graphile-worker wrap what PostgreSQL said. */
function innermost(error: unknown): Coded | undefined {
  let found = error instanceof Error ? (error as Coded) : undefined
  for (let depth = 0; depth < 5 && found?.cause instanceof Error; depth++) found = found.cause as Coded
  return found
}
