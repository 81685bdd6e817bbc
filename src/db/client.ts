/** Connections to the database, and its migrations. */
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres'
import { migrate } from 'drizzle-orm/node-postgres/migrator'
import pg from 'pg'
import { CLAIM_FUNCTIONS } from './claim-function'
import * as people from './people.schema'
import * as product from './schema'

export const schema = { ...product, ...people }
export type Db = NodePgDatabase<typeof schema>
export type Tx = Parameters<Parameters<Db['transaction']>[0]>[0]
/** For statements that may run inside or outside of a transaction. */
export type Conn = Db | Tx

const POOL_SIZE = 12
/** Compiling a statement takes longer than any of ours: it is done for those that are guessed to be costly,
 * and the guesses about JSON are far too high. */
const OPTIONS = '-c jit=off'
/** For short and frequent statements: with more connections they would only wait for each other. */
const QUICK_POOL_SIZE = 10
/** Their plans are made once for each connection, often while the tables are still empty: so plans that suit
 * only small tables are switched off. */
const QUICK_OPTIONS = [
  'plan_cache_mode=force_generic_plan',
  'jit=off',
  ...['seqscan', 'bitmapscan', 'hashjoin', 'mergejoin', 'sort'].map((way) => `enable_${way}=off`),
]
  .map((option) => `-c ${option}`)
  .join(' ')
/** A statement that takes longer is ended: writing all rows of a run of 20,000 takes a tenth of it. */
const STATEMENT_MS = 60_000
const QUICK_STATEMENT_MS = 15_000
/** A transaction that is idle for longer than this was left open by mistake. */
const IDLE_IN_TRANSACTION_MS = 60_000
/** A request that waits longer for a connection is refused as busy. */
const WAIT_MS = 20_000
const MIGRATION_LOCK = 0x0a4b01

/** `fastPath`: for the statements of fast-path.ts, whose plans are made once and kept. */
export type Connection = { db: Db; pool: pg.Pool; fastPath: pg.Pool; url: string; close(): Promise<void> }

/** Opens a pool. Nothing connects until the first query. */
export function connect(url: string, size = POOL_SIZE): Connection {
  const shared = {
    connectionString: url,
    connectionTimeoutMillis: WAIT_MS,
    idle_in_transaction_session_timeout: IDLE_IN_TRANSACTION_MS,
  }
  const pool = new pg.Pool({ ...shared, max: size, statement_timeout: STATEMENT_MS, options: OPTIONS })
  const fastPath = new pg.Pool({
    ...shared,
    max: QUICK_POOL_SIZE,
    statement_timeout: QUICK_STATEMENT_MS,
    options: QUICK_OPTIONS,
  })
  pool.on('connect', takeTurns)
  // an idle connection that breaks is replaced at the next query; without a listener it would end the process
  for (const one of [pool, fastPath]) one.on('error', () => {})
  return {
    db: drizzle(pool, { schema }),
    pool,
    fastPath,
    url,
    close: async () => void (await Promise.all([pool.end(), fastPath.end()])),
  }
}

/** A connection carries out one statement at a time. What is asked for side by side in a transaction waits
 * here, as pg itself will refuse it from version 9 on. */
function takeTurns(client: pg.PoolClient): void {
  const query = client.query.bind(client) as (...given: unknown[]) => Promise<unknown>
  let last: Promise<unknown> = Promise.resolve()
  client.query = ((...given: unknown[]) => {
    // with a callback it is the pool's own, which has the connection for itself
    if (typeof given.at(-1) === 'function') return query(...given)
    const answer = last.then(() => query(...given))
    last = answer.catch(() => undefined)
    return answer
  }) as typeof client.query
}

/** Applies missing migrations, and installs the functions of this version. Safe from several processes at
 * once: the migrator itself takes no lock. */
export async function migrateDatabase(url: string, folder: string): Promise<void> {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    await client.query('select pg_advisory_lock($1)', [MIGRATION_LOCK])
    await migrate(drizzle(client), { migrationsFolder: folder })
    await client.query(CLAIM_FUNCTIONS)
  } finally {
    await client.end()
  }
}
