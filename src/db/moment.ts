/** "Now" as SQL, so that leases and times follow the database's clock, and the demo's history can follow a virtual one. */
import { sql, type SQL } from 'drizzle-orm'

export type Now = SQL
/** The database's own clock: the same for every process. */
export const databaseNow: Now = sql`now()`
/** A fixed moment, for history made on a virtual clock and for tests. */
export const at = (moment: Date): Now => sql`${moment.toISOString()}::timestamptz`
export const later = (now: Now, ms: number): SQL => sql`${now} + ${ms} * interval '1 ms'`
