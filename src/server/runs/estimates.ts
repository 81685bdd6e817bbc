import { estimate, type Estimate } from '@/core/planning'
import { countSteps } from '@/core/history'
import { pausedMs, longestPart, type Environment, type Pauses, type TestCase } from '@/core/model'
import { pastCaseRuns } from '@/db/case-history'
import type { Context } from '../context'

export type CaseEstimate = Estimate & {
  /** Share of its attempts there that failed; with few of them, drawn towards a small one. */
  failRate: number
}

/** A case of which nothing is known is taken to fail as if it had failed so many times in so many
 * attempts. */
const [FAILED_BEFORE, TRIED_BEFORE] = [0.2, 10]

/** What each case is expected to take on each environment, by its key and the environment's, without the
 * waits that its rotation asks for: those of past runs are taken off.
 * One query, whatever their number. */
export async function estimatesOf(
  ctx: Pick<Context, 'db' | 'now'>,
  cases: readonly TestCase[],
  environments: readonly Pick<Environment, 'key'>[],
  pauses: Readonly<Record<string, Pauses>>,
): Promise<(caseKey: string, environment: string) => CaseEstimate> {
  const past = await pastCaseRuns(
    ctx.db,
    cases.map(({ key }) => key),
    ctx.now,
  )
  const wanted = cases.flatMap((one) =>
    environments.map(({ key }) => ({
      case: one.key,
      environment: key,
      steps: countSteps(longestPart(one, countSteps)),
    })),
  )
  const tries = new Map<string, { failed: number; all: number }>()
  for (const { case: key, environment, outcome, attempts } of past.runs) {
    const known = tries.get(`${key}\n${environment}`) ?? { failed: 0, all: 0 }
    const failed = outcome === 'failed' || outcome === 'errored' ? attempts : attempts - 1
    tries.set(`${key}\n${environment}`, { failed: known.failed + failed, all: known.all + attempts })
  }
  const found = new Map(
    estimate({
      history: past.runs.map((run) => ({
        ...run,
        ms: Math.max(1, run.ms - pausedMs(pauses[run.case], run)),
      })),
      wanted,
      now: past.now,
    }).map((one) => {
      const { failed, all } = tries.get(`${one.case}\n${one.environment}`) ?? { failed: 0, all: 0 }
      return [
        `${one.case}\n${one.environment}`,
        { ...one, failRate: (failed + FAILED_BEFORE) / (all + TRIED_BEFORE) },
      ] as const
    }),
  )
  return (caseKey, environment) => found.get(`${caseKey}\n${environment}`)!
}
