/** What a rotation would come to if it started now: where its work goes, when it is done, and what stands in
 * the way. */
import type { Fault } from '../compute/fault'
import type { Clock } from '../compute/budget'
import { pausedMs, type Environment, type Pauses, type Rotation } from '../model'
import {
  forecastWithPlan,
  type BoundKind,
  type ForecastInput,
  type ForecastWork,
  type Lane,
} from '../planning'
import { laneOf, readLaneKey } from './lanes'
import { pickEnvironments, type Picked } from './where'

/** One thing that runs: a case, a row of it, or a repetition. `after`: places in the list of those that have
 * to be over first. */
export type OutlookItem = {
  case: string
  title: string
  after: number[]
  exclusive: string[]
  priority: number
  /** Done once: before everything, or after. */ phase?: 'before' | 'after'
  /** Of a joint case: the environment of each role, by that of the case run. */ roles?: {
    role: string
    on: Record<string, string>
  }[]
}
export type OutlookAgent = { name: string; pool: string; seats: number; environments: string[] }
/** All that an outlook is computed from; times in ms. `estimates`: by case, then by environment. */
export type OutlookBasis = {
  items: OutlookItem[]
  estimates: Record<string, Record<string, { p50Ms: number; p90Ms: number; failRate: number }>>
  environments: Environment[]
  agents: OutlookAgent[]
  /** How often each case waits, where waits are asked for: the estimates are without. */ pauses?: Record<
    string,
    Pauses
  >
}

export type OutlookRotation = Pick<Rotation, 'where' | 'retries'> & {
  how?: Pick<Rotation['how'], 'settleMs' | 'betweenMs'>
}
/** Times from the start on. */
export type Outlook = {
  picked: Picked
  caseRuns: number
  /** Seats that could take some of it, and how many the plan uses; by pool. */
  seats: number
  used: number
  usedByPool: Record<string, number>
  p50Ms: number
  p90Ms: number
  makespanMs: number
  boundMs: number
  bound: BoundKind
  /** What is held alone for the longest, by how many case runs. */
  heldAlone?: { name: string; ms: number; count: number }
  utilisation: number
  expectedRetries: number
  lanes: (Lane & { environments: string[] })[]
  /** What cannot be placed, those of one reason together. */
  unplaceable: {
    count: number
    titles: string[]
    environment: string
    reason: string
    /** Their ids in the plan: "place environment". */ work: string[]
  }[]
  risky: { title: string; environment: string; chance: number }[]
  faults: Fault[]
}

/** Nothing is paid for going on to another environment: each attempt gets a browser context of its own
 * anyway. */
const SWITCH_MS = { same: 0, other: 0 }
const [BUDGET_MS, DRAWS] = [120, 120]
const TITLES_MOST = 3
const RISKY_LEAST = 0.05

/** Deterministic for the same input. Never throws: what is wrong with the rotation is among the faults, and
 * then there are no lanes. */
export function outlook(
  rotation: OutlookRotation,
  basis: OutlookBasis,
  { clock, draws = DRAWS, budgetMs = BUDGET_MS }: { clock?: Clock; draws?: number; budgetMs?: number } = {},
): Outlook {
  const picked = pickEnvironments(rotation.where, basis.environments)
  const agents = agentsOf(rotation, basis)
  const faults = [...picked.faults, ...poolFaults(rotation, basis), ...laneFaults(rotation, basis)]
  const { input, names } = inputOf(rotation, basis, picked.keys)
  const serving = agents.filter(({ environments }) => environments.some((key) => picked.keys.includes(key)))
  const nothing: Outlook = {
    picked,
    caseRuns: input.work.length,
    seats: seatsOf(serving),
    used: 0,
    usedByPool: {},
    p50Ms: 0,
    p90Ms: 0,
    makespanMs: 0,
    boundMs: 0,
    bound: 'load',
    utilisation: 0,
    expectedRetries: 0,
    lanes: [],
    unplaceable: [],
    risky: [],
    faults,
  }
  if (input.work.length === 0) return nothing
  const { forecast, plan } = forecastWithPlan({ ...input, draws, budgetMs }, clock)
  const lanes = plan.lanes.filter(({ items }) => items.length > 0)
  const poolOf = new Map(agents.map(({ name, pool }) => [name, pool]))
  const usedByPool: Record<string, number> = {}
  for (const { agent } of lanes) usedByPool[poolOf.get(agent)!] = (usedByPool[poolOf.get(agent)!] ?? 0) + 1
  return {
    ...nothing,
    used: lanes.length,
    usedByPool,
    p50Ms: forecast.finishMs.p50,
    p90Ms: forecast.finishMs.p90,
    makespanMs: plan.makespanMs,
    boundMs: plan.boundMs,
    bound: plan.bound,
    ...heldAloneIn(input.work),
    utilisation: busyShare(lanes, plan.makespanMs),
    caseRuns: caseRunsIn(
      [
        ...lanes.flatMap(({ agent, items }) => items.map(({ work }) => ({ work, agent }))),
        ...plan.unplaceable,
      ],
      names,
    ),
    expectedRetries: forecast.expectedRetries,
    lanes: lanes.map((lane) => ({
      ...lane,
      environments: lane.items.map(({ work }) => names.get(baseOf(work, lane.agent))!.environment),
    })),
    unplaceable: byReason(plan.unplaceable, names),
    risky: forecast.risky
      .filter(({ retryChance }) => retryChance >= RISKY_LEAST)
      .map(({ work, retryChance }) => {
        const { title, environment } = nameOf(work, names)
        return { title, environment, chance: retryChance }
      }),
  }
}

function heldAloneIn(work: readonly ForecastWork[]): Pick<Outlook, 'heldAlone'> {
  const held = new Map<string, { name: string; ms: number; count: number }>()
  for (const { exclusive = [], ms } of work)
    for (const name of exclusive) {
      const known = held.get(name) ?? { name, ms: 0, count: 0 }
      held.set(name, { name, ms: known.ms + ms, count: known.count + 1 })
    }
  const [longest] = [...held.values()].sort((a, b) => b.ms - a.ms)
  return longest && longest.count > 1 ? { heldAlone: longest } : {}
}

/** Of the seats that are used: those of other pools do not count. */
const busyShare = (lanes: readonly Lane[], makespanMs: number): number =>
  makespanMs === 0
    ? 0
    : lanes.reduce(
        (sum, { items }) => sum + items.reduce((ms, { startMs, endMs }) => ms + endMs - startMs, 0),
        0,
      ) /
      (lanes.length * makespanMs)
const seatsOf = (agents: readonly OutlookAgent[]) => agents.reduce((sum, { seats }) => sum + seats, 0)
const agentsOf = ({ where: { pool } }: OutlookRotation, { agents }: OutlookBasis) =>
  pool === undefined ? agents : agents.filter((agent) => agent.pool === pool)

/** In `everywhere` there is one for each agent. */
const caseRunsIn = (
  pieces: readonly { work: string; agent?: string }[],
  names: ReadonlyMap<string, Name>,
): number =>
  new Set(
    pieces.map(
      ({ work, agent = '' }) =>
        `${nameOf(work, names).caseRun}${work.endsWith(`@${agent}`) ? work.slice(work.lastIndexOf('@')) : ''}`,
    ),
  ).size

type Name = {
  title: string
  environment: string
  /** Of the case run: a joint case has several pieces. */ caseRun: string
}

/** The planner's input for a rotation; ids are "place environment", with the role of a joint case behind. */
export function inputOf(
  { where, retries, how }: OutlookRotation,
  basis: OutlookBasis,
  keys: readonly string[],
): { input: ForecastInput; names: Map<string, Name> } {
  const agents = agentsOf({ where, retries }, basis).map(({ name, seats, environments }) => ({
    id: name,
    seats,
    environments,
  }))
  const names = new Map<string, Name>()
  const idOf = (place: number, environment: string, role?: string) =>
    `${place} ${environment}${role === undefined ? '' : ` ${role}`}`
  const idsOf = (place: number, environment: string) =>
    basis.items[place]!.roles?.map(({ role }) => idOf(place, environment, role)) ?? [idOf(place, environment)]
  const befores = basis.items.flatMap(({ phase }, i) => (phase === 'before' ? [i] : []))
  const work = basis.items.flatMap((item, i) =>
    (item.phase ? keys.slice(0, 1) : keys).flatMap((environment): ForecastWork[] => {
      const caseRun = idOf(i, environment)
      const { p50Ms, p90Ms, failRate } = basis.estimates[item.case]?.[environment] ?? {
        p50Ms: 0,
        p90Ms: 0,
        failRate: 0,
      }
      const waits = pausedMs(basis.pauses?.[item.case], how)
      const after =
        item.phase === 'before'
          ? []
          : [
              ...befores.map((b) => idOf(b, keys[0]!)),
              ...(item.phase === 'after' ? [] : item.after.flatMap((a) => idsOf(a, environment))),
            ]
      // What is done once is given to nobody by hand: any agent that can does it.
      const agentOf = () =>
        item.phase
          ? agents.find((one) => one.environments.includes(environment))?.id
          : laneOf(where.lanes, item.case, environment)
      const agent = where.spread === 'assigned' ? agentOf() : undefined
      const pieces = item.roles?.map(({ role, on }) => ({
        id: idOf(i, environment, role),
        environment: on[environment] ?? environment,
        together: caseRun,
      })) ?? [{ id: caseRun, environment }]
      return pieces.map((piece, n) => {
        names.set(piece.id, { title: item.title, environment: piece.environment, caseRun })
        // A name held alone is held by the case run: one of its pieces stands for all.
        return {
          ...piece,
          ms: p50Ms + waits,
          p90Ms: p90Ms + waits,
          failRate,
          exclusive: n === 0 ? item.exclusive : [],
          priority: item.priority,
          ...(after.length > 0 && { after }),
          ...(agent !== undefined && { agent }),
        }
      })
    }),
  )
  // What comes after everything follows all of it.
  const last = work.filter(({ id }) => basis.items[Number(id.split(' ')[0])]!.phase === 'after')
  if (last.length > 0)
    for (const one of last) one.after = work.filter((other) => !last.includes(other)).map(({ id }) => id)
  // An agent that is named for something and is not here leaves that unplaceable, with its name.
  const unknown = [
    ...new Set(work.flatMap(({ agent }) => (agent && !agents.some(({ id }) => id === agent) ? [agent] : []))),
  ].map((id) => ({ id, seats: 0, environments: [] }))
  return {
    input: { agents: [...agents, ...unknown], work, switchMs: SWITCH_MS, spread: where.spread, retries },
    names,
  }
}

/** In `everywhere` each piece is there once for every agent, under its own id. */
const baseOf = (work: string, agent: string) =>
  work.endsWith(`@${agent}`) ? work.slice(0, -agent.length - 1) : work
const nameOf = (work: string, names: ReadonlyMap<string, Name>): Name =>
  names.get(work) ?? names.get(work.slice(0, work.lastIndexOf('@')))!

function byReason(
  unplaceable: readonly { work: string; reason: string }[],
  names: ReadonlyMap<string, Name>,
): Outlook['unplaceable'] {
  const groups = new Map<string, Outlook['unplaceable'][number]>()
  for (const { work, reason } of unplaceable) {
    const { title, environment } = nameOf(work, names)
    const told = reasonInWords(reason, names)
    const id = `${environment}\n${told}`
    const group = groups.get(id) ?? { count: 0, titles: [], environment, reason: told, work: [] }
    groups.set(id, {
      ...group,
      count: group.count + 1,
      work: [...group.work, work],
      titles: group.titles.length < TITLES_MOST ? [...group.titles, title] : group.titles,
    })
  }
  return [...groups.values()].sort((a, b) => b.count - a.count)
}

/** The planner's reasons name pieces of work by their ids; people know them by their titles. */
const reasonInWords = (reason: string, names: ReadonlyMap<string, Name>): string =>
  reason.replace(/“([^”]*)”/g, (quoted, id: string) => {
    const known = names.get(id) ?? names.get(id.slice(0, id.lastIndexOf('@')))
    return known ? `“${known.title}”` : quoted
  })

function poolFaults({ where: { pool } }: OutlookRotation, { agents }: OutlookBasis): Fault[] {
  if (pool === undefined || agents.some((agent) => agent.pool === pool && agent.seats > 0)) return []
  const there = [...new Set(agents.map((agent) => agent.pool))]
  return [
    {
      path: 'where/pool',
      message:
        `the pool “${pool}” has no seats ` +
        `now${there.length > 0 ? `; ${there.join(', ')} ${there.length === 1 ? 'has' : 'have'}` : ''}`,
    },
  ]
}

const laneFaults = ({ where: { lanes } }: OutlookRotation, { items, agents }: OutlookBasis): Fault[] =>
  Object.entries(lanes).flatMap(([key, agent]): Fault[] => {
    const path = `where/lanes/${key}`
    const { case: testCase } = readLaneKey(key)
    if (!items.some((item) => item.case === testCase))
      return [{ path, message: `“${testCase}” is given to ${agent} and is not among what runs` }]
    return agents.some(({ name }) => name === agent)
      ? []
      : [{ path, message: `the agent “${agent}” is not here` }]
  })
