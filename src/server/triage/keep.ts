/** Tells the failures of runs apart, while they go on and once they have ended: in the worker, so that nobody
 * waits for it. */
import { SIGNATURE_VERSION } from '@/core/triage'
import { notify } from '@/db/notify'
import { rulesMark } from '@/db/merges'
import { keepRunCauses, openRunsToLookAt, runsToLookAt } from '@/db/run-causes'
import type { Context } from '../context'
import { causesInWords, lookAtRun } from './run-causes'

/** Of signatures, and of what failures are taken to say. */
const CAUSES_VERSION = `${SIGNATURE_VERSION}.7`

/** Of what is kept now: what people take for one, and set apart, is in it, too. */
export const causesVersion = async ({ db }: Pick<Context, 'db'>): Promise<string> =>
  `${CAUSES_VERSION}.${await rulesMark(db)}`
const givenUp = (version: string) => `${version} given up`
const ofOpen = (version: string) => `${version} while it goes on`
/** What ended before is looked at by nobody. */
const KEPT_WITHIN_MS = 14 * 86_400_000
const RUNS_AT_ONCE = 5
/** Of a cause so many failures are named. */
const MEMBERS_MOST = 24

/** @returns of how many runs; call again while there are some */
export async function keepCauses(ctx: Context): Promise<number> {
  const version = await causesVersion(ctx)
  const versions = [version, ofOpen(version), givenUp(version)]
  const ended = await runsToLookAt(ctx.db, ctx.now, [version, givenUp(version)], KEPT_WITHIN_MS, RUNS_AT_ONCE)
  const open = await openRunsToLookAt(ctx.db, versions, RUNS_AT_ONCE)
  const failuresOf = new Map(open.map(({ id, failures }) => [id, failures]))
  const ids = [...failuresOf.keys(), ...ended]
  for (const id of ids) {
    // a run that cannot be looked at keeps nobody from the others; Triage counts it as not looked at
    const looked = await lookAtRun(ctx, id).catch(() => undefined)
    await ctx.db.transaction(async (tx) => {
      const causes = (looked ? causesInWords(looked) : []).map(({ signature, ...cause }) => ({
        signature,
        cause: { ...cause, members: cause.members.slice(0, MEMBERS_MOST) },
      }))
      await keepRunCauses(tx, id, {
        version: versionOf(looked, version),
        of: failuresOf.get(id) ?? 0,
        causes,
      })
      await notify(tx, 'triage')
    })
  }
  return ids.length
}

/** What was seen while it went on is looked at anew when it has ended. */
function versionOf(looked: { isOpen: boolean } | undefined, version: string): string {
  if (!looked) return givenUp(version)
  return looked.isOpen ? ofOpen(version) : version
}
