/** Tells the failures of runs apart once they have ended: in the worker, so that nobody waits for it. */
import { SIGNATURE_VERSION } from '@/core/triage'
import { notify } from '@/db/notify'
import { keepRunCauses, runsToLookAt } from '@/db/run-causes'
import type { Context } from '../context'
import { causesInWords, lookAtRun } from './run-causes'

/** Of what is kept: of signatures, and of what failures are taken to say. */
export const CAUSES_VERSION = `${SIGNATURE_VERSION}.1`
const GIVEN_UP = `${CAUSES_VERSION} given up`
/** What ended before is looked at by nobody. */
const KEPT_WITHIN_MS = 14 * 86_400_000
const RUNS_AT_ONCE = 5
/** Of a cause so many failures are named. */
const MEMBERS_MOST = 24

/** @returns of how many runs; call again while there are some */
export async function keepCauses(ctx: Context): Promise<number> {
  const ids = await runsToLookAt(ctx.db, ctx.now, [CAUSES_VERSION, GIVEN_UP], KEPT_WITHIN_MS, RUNS_AT_ONCE)
  for (const id of ids) {
    // a run that cannot be looked at keeps nobody from the others; Triage counts it as not looked at
    const causes = await lookAtRun(ctx, id).then(causesInWords, () => undefined)
    await ctx.db.transaction(async (tx) => {
      const kept = (causes ?? []).map(({ signature, ...cause }) => ({
        signature,
        cause: { ...cause, members: cause.members.slice(0, MEMBERS_MOST) },
      }))
      await keepRunCauses(tx, id, causes ? CAUSES_VERSION : GIVEN_UP, kept)
      await notify(tx, 'triage')
    })
  }
  return ids.length
}
