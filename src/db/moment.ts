/** "Now" as SQL, so that leases and times follow the database's clock, and the demo's history can follow a
 * virtual one. */
import { sql, type SQL } from 'drizzle-orm'

/** `live`: the database's own clock. A mark rather than an identity: bundlers make this module more than
 * once. */
export type Now = SQL & { live?: true }
/** The database's own clock: the same for every process. */
export const databaseNow: Now = Object.assign(sql`now()`, { live: true as const })
/** A fixed moment, for history made on a virtual clock and for tests. */
export const at = (moment: Date): Now => sql`${moment.toISOString()}::timestamptz`
export const later = (now: Now, ms: number): SQL => sql`${now} + ${ms} * interval '1 ms'`
