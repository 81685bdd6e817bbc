/** Puts logs of ended attempts into one piece each: long ones at once, the others a while after. */
import { packLogs, type LogsDue } from '@/db/logs'
import type { Context } from '../context'

/** Nothing of an attempt comes after its end; whoever watches it reads on for a while. */
const AFTER_MS = 120_000
/** A log of so many events is slow to open while it is in rows. Shorter ones are read in no time. */
export const LONG_LOG = 5000
/** Long logs of attempts that ended longer ago are due with all others. */
const LONG_WITHIN_MS = 20_000
const AT_ONCE = 100
/** Other chores wait meanwhile; what is left is done the next time. */
const WITHIN_MS = 3000

/** @returns how many were packed */
export const packOldLogs = (ctx: Context): Promise<number> => pack(ctx, { endedForMs: AFTER_MS })

/** Call it more often than every 20 s. @returns how many were packed */
export const packLongLogs = (ctx: Context): Promise<number> =>
  pack(ctx, { endedForMs: 0, long: { endedWithinMs: LONG_WITHIN_MS, events: LONG_LOG } })

async function pack({ db, now }: Context, due: LogsDue): Promise<number> {
  const until = performance.now() + WITHIN_MS
  let packed = 0
  for (;;) {
    const some = await db.transaction((tx) => packLogs(tx, now, due, AT_ONCE))
    packed += some
    if (some < AT_ONCE || performance.now() >= until) return packed
  }
}
