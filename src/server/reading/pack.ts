/** Puts logs of attempts that ended a while ago into one piece each. */
import { packLogs } from '@/db/logs'
import type { Context } from '../context'

/** Nothing of an attempt comes after its end; whoever watches it reads on for a while. */
const AFTER_MS = 120_000
const AT_ONCE = 100
/** Other chores wait meanwhile; what is left is done the next time. */
const WITHIN_MS = 3000

/** @returns how many were packed */
export async function packOldLogs({ db, now }: Context): Promise<number> {
  const until = performance.now() + WITHIN_MS
  let packed = 0
  for (;;) {
    const some = await db.transaction((tx) => packLogs(tx, now, AFTER_MS, AT_ONCE))
    packed += some
    if (some < AT_ONCE || performance.now() >= until) return packed
  }
}
