import { sql } from 'drizzle-orm'

/** Sets synchronous_commit=off for the transaction of the statement that returns this column: its commit does
 * not wait for the disk. Only for a statement that is a transaction of its own, and for writes that a crash
 * of PostgreSQL may lose: heartbeats and claims. A claim is on disk before the first write that depends on
 * it, as the write-ahead log keeps its order; an agent whose claim was lost is refused when it comes with it.
 * */
export const ASYNC_COMMIT_SQL = `set_config('synchronous_commit', 'off', true)`
export const asyncCommit = sql.raw(ASYNC_COMMIT_SQL)
