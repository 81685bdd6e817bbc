/** What a run can be started with. */
import { expectedMs } from '@/core/history'
import { flatten, stagesOf } from '@/core/model'
import type { StartOptions } from '@/core/view-models'
import { seatsByEnvironment } from '@/db/agents'
import { historyOfCases } from '@/db/case-history'
import { namesOfTesters } from '@/db/members'
import { listApplications, listBuilds, listEnvironments } from '@/db/workspace'
import type { Context } from '../context'
import { loadLibrary } from '../definitions'

const CASES_OFFERED = 200

export async function startOptions(ctx: Context): Promise<StartOptions> {
  const [library, environments, seats, builds, applications, people] = await Promise.all([
    loadLibrary(ctx),
    listEnvironments(ctx.db),
    seatsByEnvironment(ctx.db, ctx.leaseMs),
    listBuilds(ctx.db),
    listApplications(ctx.db),
    namesOfTesters(ctx.db),
  ])
  const history = await historyOfCases(ctx.db, [...library.cases.keys()])
  return {
    suites: [...library.suites.values()].map((suite) => {
      const { items } = flatten(suite, library)
      const estimateMs = items.reduce(
        (sum, { caseKey }) => sum + expectedMs(history.get(caseKey)?.durations, library.case(caseKey)!),
        0,
      )
      return { key: suite.key, title: suite.title, caseRuns: items.length, estimateMs }
    }),
    cases:
      library.suites.size > 0
        ? []
        : library
            .allCases()
            .slice(0, CASES_OFFERED)
            .map(({ key, title }) => ({ key, title })),
    environments: environments.map(({ key, title, simulated }) => ({
      key,
      title,
      simulated,
      seats: seats.get(key) ?? 0,
    })),
    // a label has to be named, also where nobody counts builds: then the day is one
    builds: builds.length > 0 ? builds.map(({ label }) => label) : [new Date().toISOString().slice(0, 10)],
    stages: stagesOf(applications),
    people,
  }
}
