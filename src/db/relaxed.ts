import { sql } from 'drizzle-orm'

/** As a column of what a statement gives back: its commit does not wait for the disk. Only for a statement
 * that is a transaction of its own, and for what PostgreSQL's crash may take back:
 * signs of life, and claims. A claim is on disk with the first thing that is accepted for it, for the log of
 * changes has an order; one that was taken back is unknown when its agent comes with it, and is refused. */
export const RELAXED_TEXT = `set_config('synchronous_commit', 'off', true)`
export const relaxed = sql.raw(RELAXED_TEXT)
