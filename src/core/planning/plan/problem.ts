/** A planning problem as numbers, without what cannot be planned at all. */
import { findPlace } from '../../execution/matching'
import { circlesOf } from './circles'
import { Faults } from '../../compute/fault'
import { SWITCH_MS, type PlanInput, type PlanWork, type Unplaceable } from './types'

export type Seat = { agent: number; number: number; speed: number; from: number; until: number }
export type Item = {
  id: string
  environment: number
  ms: number
  priority: number
  exclusive: number[]
  unit: number
  /** Seats that may do it, as a list and by seat; shared by all items that the same seats may do. */
  seats: readonly number[]
  can: Uint8Array
  /** What it takes on the quickest of them. */
  shortest: number
}
/** What starts at once: one item, or joint ones, each on a seat of its own. `before`, `behind`: units that
 * have to end first, and that wait for it. */
export type Unit = { items: number[]; before: number[]; behind: number[] }
export type Problem = {
  seats: Seat[]
  items: Item[]
  units: Unit[]
  same: number
  other: number
  now: number
  environments: number
  names: number
  unplaceable: Unplaceable[]
}

/** Work with its own id and the agent it is bound to, if any. */
type Given = PlanWork & { bound?: number; /** In the output, where it is not the id. */ follows: string[] }

/** @throws {BadInput} for ids that are there twice */
export function problemOf(input: PlanInput): Problem {
  requireUnique(input)
  const { agents, now = 0, spread } = input
  const seats = agents.flatMap((agent, a) =>
    Array.from({ length: agent.seats }, (_, i): Seat => ({
      agent: a,
      number: i + 1,
      speed: agent.speed ?? 1,
      from: Math.max(now, agent.from ?? now),
      until: agent.until ?? Infinity,
    })),
  )
  const environments = new Map<string, number>()
  const names = new Map<string, number>()
  const numberOf = (map: Map<string, number>, name: string) =>
    map.get(name) ?? (map.set(name, map.size), map.size - 1)
  const serves = agents.map(
    (agent) => new Set(agent.environments.map((name) => numberOf(environments, name))),
  )
  const problem: Problem = {
    seats,
    items: [],
    units: [],
    same: input.switchMs?.same ?? SWITCH_MS.same,
    other: input.switchMs?.other ?? SWITCH_MS.other,
    now,
    environments: 0,
    names: 0,
    unplaceable: [],
  }
  const out = new Map<string, string>()
  const able = ableSeats(seats, serves)
  const work: Given[] =
    spread === 'everywhere'
      ? everywhere(input, out)
      : input.work.map((one) => ({ ...one, follows: one.after ?? [], ...bound(input, one, out) }))
  for (const { id, environment, ms, priority = 0, exclusive = [], bound: agent } of work) {
    const env = numberOf(environments, environment)
    const all = able(env, agent)
    const list = all.list.every((s) => fits(seats[s]!, ms))
      ? all
      : groupOf(
          all.list.filter((s) => fits(seats[s]!, ms)),
          seats.length,
        )
    if (!out.has(id) && all.list.length === 0)
      out.set(
        id,
        agent === undefined
          ? `no agent serves the environment “${environment}”`
          : `agent “${agents[agent]!.id}” does not serve the environment “${environment}”`,
      )
    else if (!out.has(id) && list.list.length === 0)
      out.set(id, 'it is longer than any seat that could do it is open')
    problem.items.push({
      id,
      environment: env,
      ms,
      priority,
      exclusive: [...new Set(exclusive.map((name) => numberOf(names, name)))],
      seats: list.list,
      can: list.can,
      shortest: list.list.reduce((least, s) => Math.min(least, durationOn(seats[s]!, ms)), Infinity),
      unit: -1,
    })
  }
  problem.environments = environments.size
  problem.names = names.size
  buildUnits(problem, work, out)
  return withoutImpossible(problem, work, out)
}

/** What work of so many ms takes on a seat. */
export const durationOn = ({ speed }: Seat, ms: number): number => (speed === 1 ? ms : Math.ceil(ms / speed))
/** What a seat needs before an item of the environment `to`, after one of `from`; below 0: it had none
 * yet. */
export function switchMs({ same, other }: Pick<Problem, 'same' | 'other'>, from: number, to: number): number {
  if (from < 0) return 0
  return from === to ? same : other
}
const fits = (seat: Seat, ms: number): boolean =>
  seat.until === Infinity || seat.from + durationOn(seat, ms) <= seat.until

type SeatGroup = { list: number[]; can: Uint8Array }
function groupOf(list: number[], seats: number): SeatGroup {
  const can = new Uint8Array(seats)
  for (const s of list) can[s] = 1
  return { list, can }
}
/** Seats that serve an environment, of one agent or of all; made once for each. */
function ableSeats(
  seats: readonly Seat[],
  serves: readonly Set<number>[],
): (environment: number, agent: number | undefined) => SeatGroup {
  const known = new Map<string, SeatGroup>()
  return (environment, agent) => {
    const key = `${environment} ${agent}`
    const group =
      known.get(key) ??
      groupOf(
        seats.flatMap((seat, s) =>
          (agent === undefined || seat.agent === agent) && serves[seat.agent]!.has(environment) ? [s] : [],
        ),
        seats.length,
      )
    known.set(key, group)
    return group
  }
}

function requireUnique({ agents, work }: PlanInput): void {
  const faults = new Faults()
  const twice = (list: readonly { id: string }[], path: string) => {
    const seen = new Set<string>()
    list.forEach(({ id }, i) =>
      seen.has(id) ? faults.add(`${path}/${i}/id`, `“${id}” is there twice`) : seen.add(id),
    )
  }
  twice(agents, 'agents')
  twice(work, 'work')
  agents.forEach(
    ({ from, until }, i) =>
      from !== undefined &&
      typeof until === 'number' &&
      until < from &&
      faults.add(`agents/${i}/until`, 'it closes before it opens'),
  )
  faults.throwIfAny()
}

/** The agent a piece of work is bound to. In `sequence` it is nobody's in particular: all goes to one
 * seat. */
function bound(
  { agents, spread }: PlanInput,
  { id, agent }: PlanWork,
  out: Map<string, string>,
): { bound?: number } {
  if (spread === 'sequence') return {}
  if (agent === undefined) {
    if (spread === 'assigned') out.set(id, 'no agent is assigned to it')
    return {}
  }
  const found = agents.findIndex((one) => one.id === agent)
  if (found < 0) out.set(id, `its agent “${agent}” is not there`)
  return found < 0 ? {} : { bound: found }
}

/** Each piece of work once for every agent that serves its environment; what nobody serves keeps its own
 * id. */
function everywhere({ agents, work }: PlanInput, out: Map<string, string>): Given[] {
  const known = new Set(work.map(({ id }) => id))
  return work.flatMap((one): Given[] => {
    const able = agents.flatMap((agent, a) => (agent.environments.includes(one.environment) ? [a] : []))
    if (able.length === 0) return [{ ...one, follows: one.after ?? [] }]
    return able.map((a) => {
      const at = `@${agents[a]!.id}`
      const follows = (one.after ?? []).map((id) => (known.has(id) ? `${id}${at}` : id))
      const missing = follows.find(
        (id, i) =>
          known.has(one.after![i]!) &&
          !agents[a]!.environments.includes(work.find((other) => other.id === one.after![i])!.environment),
      )
      if (missing)
        out.set(`${one.id}${at}`, `it follows “${missing}”, which agent “${agents[a]!.id}” does not serve`)
      return {
        ...one,
        id: `${one.id}${at}`,
        bound: a,
        follows,
        ...(one.together !== undefined && { together: `${one.together}${at}` }),
      }
    })
  })
}

function buildUnits(problem: Problem, work: readonly Given[], out: Map<string, string>): void {
  const { items, units } = problem
  const joint = new Map<string, number>()
  work.forEach(({ together }, i) => {
    let unit = together === undefined ? undefined : joint.get(together)
    if (unit === undefined) {
      unit = units.length
      units.push({ items: [], before: [], behind: [] })
      if (together !== undefined) joint.set(together, unit)
    }
    units[unit]!.items.push(i)
    items[i]!.unit = unit
  })
  const placeOf = new Map(work.map(({ id }, i) => [id, i]))
  work.forEach(({ id, follows }, i) => {
    for (const other of new Set(follows)) {
      const before = placeOf.get(other)
      if (before === undefined) {
        if (!out.has(id)) out.set(id, `it follows “${other}”, which is not there`)
        continue
      }
      const [from, to] = [items[before]!.unit, items[i]!.unit]
      if (from === to)
        out.set(
          id,
          before === i
            ? `it follows itself: ${id} → ${id}`
            : `it follows “${other}”, which starts together with it`,
        )
      else if (!units[to]!.before.includes(from)) {
        units[to]!.before.push(from)
        units[from]!.behind.push(to)
      }
    }
  })
}

/** Leaves out what cannot be: circles, joint work without seats enough, and all that follows what is left
 * out. */
function withoutImpossible(problem: Problem, work: readonly Given[], out: Map<string, string>): Problem {
  const { items, units } = problem
  for (const unit of units) {
    const why = jointTrouble(problem, unit)
    if (why) for (const i of unit.items) if (!out.has(items[i]!.id)) out.set(items[i]!.id, why)
  }
  for (const circle of circlesOf(units)) {
    const ids = circle.map((u) => items[units[u]!.items[0]!]!.id)
    for (const u of circle)
      for (const i of units[u]!.items)
        if (!out.has(items[i]!.id))
          out.set(items[i]!.id, `it is in a circle: ${[...ids, ids[0]].join(' → ')}`)
  }
  // A joint piece that is out takes the others with it, and both take what follows.
  const queue = units.flatMap((unit, u) => (unit.items.some((i) => out.has(items[i]!.id)) ? [u] : []))
  const gone = new Set(queue)
  for (let u = queue.pop(); u !== undefined; u = queue.pop()) {
    const lost = units[u]!.items.find((i) => out.has(items[i]!.id))!
    for (const i of units[u]!.items)
      if (!out.has(items[i]!.id))
        out.set(items[i]!.id, `it is joint with “${items[lost]!.id}”, which cannot be placed`)
    for (const next of units[u]!.behind) {
      if (gone.has(next)) continue
      gone.add(next)
      queue.push(next)
      const follower =
        units[next]!.items.find((i) => work[i]!.follows.some((id) => out.has(id))) ?? units[next]!.items[0]!
      if (!out.has(items[follower]!.id))
        out.set(
          items[follower]!.id,
          `it follows “${work[follower]!.follows.find((id) => out.has(id)) ?? items[lost]!.id}”, which ` +
            'cannot be placed',
        )
    }
  }
  return keep(problem, work, out, gone)
}

function jointTrouble({ items, names }: Problem, unit: Unit): string | undefined {
  if (unit.items.length < 2) return undefined
  for (let name = 0; name < names; name++) {
    const holders = unit.items.filter((i) => items[i]!.exclusive.includes(name) && items[i]!.ms > 0)
    if (holders.length > 1)
      return (
        `“${items[holders[0]!]!.id}” and “${items[holders[1]!]!.id}” start together, and each wants the ` +
        'same for itself alone'
      )
  }
  const seatOf = new Map<number, number>()
  const placed = unit.items.filter((i) => findPlace(seatOf, i, (one) => items[one]!.seats)).length
  return placed < unit.items.length
    ? `its joint work needs ${unit.items.length} seats at once, and only ${placed} can serve it`
    : undefined
}

/** The problem without the units that are out, numbered anew. */
function keep(
  problem: Problem,
  work: readonly Given[],
  out: ReadonlyMap<string, string>,
  gone: ReadonlySet<number>,
): Problem {
  const unitNumber = new Map<number, number>()
  const itemNumber = new Map<number, number>()
  problem.units.forEach((_, u) => !gone.has(u) && unitNumber.set(u, unitNumber.size))
  const items = problem.items.flatMap((item, i) =>
    gone.has(item.unit)
      ? []
      : (itemNumber.set(i, itemNumber.size), [{ ...item, unit: unitNumber.get(item.unit)! }]),
  )
  const others = (list: number[]) => list.flatMap((u) => (unitNumber.has(u) ? [unitNumber.get(u)!] : []))
  const units = problem.units.flatMap((unit, u) =>
    gone.has(u)
      ? []
      : [
          {
            items: unit.items.map((i) => itemNumber.get(i)!),
            before: others(unit.before),
            behind: others(unit.behind),
          },
        ],
  )
  return {
    ...problem,
    items,
    units,
    unplaceable: work.flatMap(({ id }) => (out.has(id) ? [{ work: id, reason: out.get(id)! }] : [])),
  }
}
