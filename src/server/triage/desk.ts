/** The causes of the runs of some days: what there is to decide. */
import { overRuns } from '@/core/triage'
import { TRIAGE_DAYS, type TriageGroup, type TriageViewModel } from '@/core/view-models'
import { decidedWithin } from '@/db/decisions'
import { causesOfRuns, runsToLookAt } from '@/db/run-causes'
import type { Context } from '../context'
import { CAUSES_VERSION } from './keep'
import { withDecisions } from './run-causes'

const DAY_MS = 86_400_000
const WEEK_MS = 7 * DAY_MS
const [CAUSES_MOST, PENDING_MOST] = [5000, 100]

/** @param asked of an address; what is none of them is taken for the usual one */
export const readDays = (asked: string | null): number =>
  TRIAGE_DAYS.find((days) => String(days) === asked) ?? TRIAGE_DAYS[0]

export async function triageViewModel(ctx: Context, days: number): Promise<TriageViewModel> {
  const [kept, pending, lately] = await Promise.all([
    causesOfRuns(ctx.db, ctx.now, days * DAY_MS, CAUSES_MOST),
    runsToLookAt(ctx.db, ctx.now, [CAUSES_VERSION], days * DAY_MS, PENDING_MOST),
    decidedWithin(ctx.db, ctx.now, WEEK_MS),
  ])
  const newest = kept[0]?.build
  const groups = overRuns(kept).map((found): Omit<TriageGroup, 'decision'> => {
    const [{ signature, cause }] = found
    const runs = found.map((one) => ({
      id: one.runId,
      title: one.title,
      build: one.build,
      failures: one.cause.failures,
      endedAt: one.endedAt.toISOString(),
    }))
    return {
      ...cause,
      signature,
      runs,
      failures: runs.reduce((sum, { failures }) => sum + failures, 0),
      // another run of the build may know what the newest one cannot: whether it failed with the one before
      isNew: found.some(({ build, cause: own }) => build === runs[0]!.build && own.isNew),
      isCurrent: runs[0]!.build === newest,
    }
  })
  return {
    days,
    groups: await withDecisions(ctx, groups, ({ runs }) => runs[0]!.build),
    pending: pending.length,
    lately,
  }
}
