/** How the work on failures went over some weeks. */
import { measuresOf, reliabilityOf, WEEK_MS } from '@/core/triage'
import { MEASURED_WEEKS, type MeasuresViewModel } from '@/core/view-models'
import { newestProposed } from '@/db/decisions'
import { titlesOf } from '@/db/definitions'
import { causesSince, decisionsSince, defectsSince, rotationRunsSince } from '@/db/measures'
import type { Context } from '../context'

const PROPOSED_MOST = 1000

/** @param asked of an address; what is none of them is taken for the usual one */
export const readWeeks = (asked: string | null): number =>
  MEASURED_WEEKS.find((weeks) => String(weeks) === asked) ?? MEASURED_WEEKS[0]

export async function measuresViewModel(
  { db, now }: Pick<Context, 'db' | 'now'>,
  weeks: number,
): Promise<MeasuresViewModel> {
  const ms = weeks * WEEK_MS
  const [decisions, found, defects, runs, proposed, titles] = await Promise.all([
    decisionsSince(db, now, ms),
    causesSince(db, now, ms),
    defectsSince(db, now, ms),
    rotationRunsSince(db, now, ms),
    newestProposed(db, PROPOSED_MOST),
    titlesOf(db, 'rotation'),
  ])
  const until = (now.moment ?? new Date()).toISOString()
  const since = Date.parse(until) - ms
  const { of, right } = reliabilityOf(proposed.filter(({ decidedAt }) => decidedAt.getTime() > since))
  return {
    ...measuresOf({ until, weeks, decisions, found, defects, runs }),
    proposals: { of, right },
    titles,
  }
}
