/** What a guided run may be: people are its seats, and the plan deals its cases to them. */
import { guessedMs, guidedSteps } from '@/core/guided'
import type { FlatItem } from '@/core/model'
import type { OutlookBasis } from '@/core/rota'
import { namesOfTesters } from '@/db/members'
import type { NewCaseRun } from '@/db/runs'
import type { Context } from '../context'
import type { Loaded } from '../definitions'
import { Problem } from '../http/problems'

/** Who takes part, by name, and on which environments; absent: on all of the run. */
export type GuidedBy = { person: string; environments?: string[] }[]

/** The basis of a plan with people as its seats: each does one thing at a time.
 * @throws {Problem} BODY_INVALID: a joint case, or somebody who may not run anything */
export async function basisOfPeople(
  ctx: Pick<Context, 'db'>,
  guided: GuidedBy,
  basis: OutlookBasis,
  items: readonly FlatItem[],
  { case: caseOf, routines }: Pick<Loaded, 'case' | 'routines'>,
): Promise<OutlookBasis> {
  const may = await namesOfTesters(ctx.db)
  for (const { person } of guided) {
    if (!may.includes(person))
      throw new Problem('BODY_INVALID', `${person} is nobody who may carry out cases here.`)
  }
  const joint = items.find(({ caseKey }) => Object.keys(caseOf(caseKey)?.roles ?? {}).length > 0)
  if (joint)
    throw new Problem(
      'BODY_INVALID',
      `“${joint.title}” has roles that play at the same time: one person cannot. Leave it out.`,
    )
  const [first] = basis.environments
  const effort = (key: string) =>
    guessedMs(
      guidedSteps(caseOf(key)!, routines, {
        parameters: {},
        row: {},
        environment: first!,
        build: '',
        runId: 0,
      }),
    )
  return {
    ...basis,
    pauses: {},
    estimates: Object.fromEntries(
      Object.entries(basis.estimates).map(([key, byEnvironment]) => {
        const ms = effort(key)
        const estimate = { p50Ms: ms, p90Ms: 2 * ms, failRate: 0 }
        return [key, Object.fromEntries(Object.keys(byEnvironment).map((one) => [one, estimate]))]
      }),
    ),
    agents: guided.map(({ person, environments }) => ({
      name: person,
      pool: 'people',
      seats: 1,
      environments: environments ?? basis.environments.map(({ key }) => key),
    })),
  }
}

/** Each case run is for whom the plan has it. */
export const forPeople = (caseRuns: readonly NewCaseRun[]): NewCaseRun[] =>
  caseRuns.map((caseRun) => ({ ...caseRun, agent: caseRun.laneAgent ?? '' }))
