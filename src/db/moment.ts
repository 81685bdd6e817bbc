/** "Now" as SQL, so that leases and times follow the database's clock, and the demo's history can follow a
 * virtual one. */
import { sql, type SQL } from 'drizzle-orm'

/** `moment`: for statements that take it as a value; `null` is the database's own clock. */
export type Now = SQL & { moment: Date | null }
/** The database's own clock: the same for every process. */
export const databaseNow: Now = Object.assign(sql`now()`, { moment: null })
/** A fixed moment, for history made on a virtual clock and for tests. */
export const at = (moment: Date): Now => Object.assign(sql`${moment.toISOString()}::timestamptz`, { moment })
export const later = (now: Now, ms: number): SQL => sql`${now} + ${ms} * interval '1 ms'`
