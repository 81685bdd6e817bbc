/** What an outlook is computed from: the chosen work with its estimates, and the seats that are here. */
import {
  pausesOf,
  PRIORITIES,
  longestPart,
  type Environment,
  type FlatItem,
  type Step,
  type TestCase,
} from '@/core/model'
import { roleEnvironment, type OutlookBasis, type OutlookItem } from '@/core/rota'
import { listAgents } from '@/db/agents'
import { listEnvironments } from '@/db/workspace'
import type { Context } from '../context'
import type { Loaded } from '../definitions'
import { estimatesOf } from './estimates'
import { countSteps } from '@/core/history'

export type Around = { before: readonly Step[]; after: readonly Step[] }
const PHASE_TITLES = { before: 'Before all', after: 'After all' } as const
type Phase = keyof typeof PHASE_TITLES
/** No case has such a key. */
const phaseKey = (phase: Phase) => `${phase}:all`

/** Steps that are done once for all, as a case. */
export const phaseCase = (phase: Phase, steps: readonly Step[]): TestCase => ({
  kind: 'case',
  key: phaseKey(phase),
  title: PHASE_TITLES[phase],
  tags: [],
  priority: 'normal',
  requires: [],
  parameters: {},
  uses: [],
  needs: [],
  steps: [...steps],
  undo: [],
})

/** @param items in the order they will run */
export async function basisOf(
  ctx: Context,
  items: readonly FlatItem[],
  library: Pick<Loaded, 'case' | 'routines'>,
  environments: Environment[],
  around: Around = { before: [], after: [] },
): Promise<OutlookBasis> {
  const once = (['before', 'after'] as const)
    .filter((phase) => around[phase].length > 0)
    .map((phase) => [phase, phaseCase(phase, around[phase])] as const)
  const cases = [...new Set(items.map(({ caseKey }) => caseKey))].map((key) => library.case(key)!)
  const all = [...cases, ...once.map(([, testCase]) => testCase)]
  const pauses = Object.fromEntries(
    all.map((one) => [
      one.key,
      pausesOf(longestPart(one, countSteps), (routine) => library.routines.get(routine)?.steps),
    ]),
  )
  const hasRoles = cases.some(({ roles }) => roles)
  const [agents, estimateOf, known] = await Promise.all([
    listAgents(ctx.db, ctx.leaseMs),
    estimatesOf(ctx, all, environments, pauses),
    hasRoles ? listEnvironments(ctx.db) : [],
  ])
  const here = agents.filter(({ alive, draining }) => alive && !draining)
  const served = new Set(here.flatMap((agent) => agent.environments))
  const offset = once.some(([phase]) => phase === 'before') ? 1 : 0
  const holders = new Map<string, number[]>()
  items.forEach(({ scopes }, i) =>
    scopes.forEach((scope) => {
      const held = holders.get(scope)
      if (held) held.push(i + offset)
      else holders.set(scope, [i + offset])
    }),
  )
  const onceItem = (phase: Phase): OutlookItem[] =>
    once.flatMap(([one, { key, title }]) =>
      one === phase ? [{ case: key, title, after: [], exclusive: [], priority: 0, phase }] : [],
    )
  return {
    environments,
    pauses,
    items: [
      ...onceItem('before'),
      ...items.map(({ caseKey, title, after }): OutlookItem => {
        const testCase = library.case(caseKey)!
        const roles =
          testCase.roles &&
          rolesOf(
            testCase.roles,
            environments,
            known.map(({ facts }) => facts),
            served,
          )
        return {
          case: caseKey,
          title,
          after: [...new Set(after.flatMap((scope) => holders.get(scope) ?? []))],
          exclusive: testCase.uses,
          priority: PRIORITIES[testCase.priority],
          ...(roles && { roles }),
        }
      }),
      ...onceItem('after'),
    ],
    estimates: Object.fromEntries(
      all.map(({ key }) => [
        key,
        Object.fromEntries(
          environments.map((environment) => {
            const { p50Ms, p90Ms, failRate } = estimateOf(key, environment.key)
            return [environment.key, { p50Ms, p90Ms, failRate }]
          }),
        ),
      ]),
    ),
    agents: here.map(({ name, pool, seats, environments: keys }) => ({
      name,
      pool,
      seats,
      environments: keys,
    })),
  }
}

/** No environment has such a key: nobody can run there, and the plan says so with these words. */
const nowhere = (wanted: Readonly<Record<string, string>>) =>
  `an environment with ${Object.entries(wanted)
    .map(([name, value]) => `${name} ${value}`)
    .join(', ')}`

const rolesOf = (
  roles: NonNullable<TestCase['roles']>,
  environments: readonly Environment[],
  known: readonly Environment[],
  served: ReadonlySet<string>,
): NonNullable<OutlookItem['roles']> =>
  Object.entries(roles).map(([role, { environment: wanted }]) => ({
    role,
    on: Object.fromEntries(
      environments.map((own) => [own.key, roleEnvironment(wanted, own, known, served) ?? nowhere(wanted)]),
    ),
  }))
