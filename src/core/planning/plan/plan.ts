import { Budget, type Clock } from '../../compute/budget'
import { randomFrom } from '../../execution/random'
import { lowerBound } from './bound'
import { durationOn, problemOf, type Problem } from './problem'
import { Decoder, compare, type Schedule } from './schedule'
import { search } from './search'
import type { PlanInput, PlanOutput } from './types'

const BUDGET_MS = 1000
/** Placements of one item in a millisecond; measured so that on a slow machine the steps are used up before
 * the clock runs out. */
const STEPS_PER_MS = 1000
/** The rest of the time is for what comes around the search. */
const SEARCH_SHARE = 0.9

/** Which seat does what, and when. Deterministic for a seed. What cannot be done is named with its reason;
 * the rest is planned.
 * @throws {BadInput} for ids that are there twice */
export function plan(input: PlanInput, clock?: Clock): PlanOutput {
  const budget = new Budget((input.budgetMs ?? BUDGET_MS) * SEARCH_SHARE, STEPS_PER_MS, clock)
  const problem = problemOf(input)
  const random = randomFrom(input.seed ?? 1)
  if (problem.seats.length === 0 || problem.items.length === 0)
    return answer(input, problem, undefined, budget)
  const [used, schedule] =
    input.spread === 'sequence'
      ? onOneSeat(problem, budget, random)
      : [problem, search(problem, boundOf(problem), budget, random)]
  return answer(input, used, byPriority(used, schedule), budget)
}

const boundOf = (problem: Problem) =>
  lowerBound(
    problem,
    problem.items.map((_, i) => i),
  ).boundMs

/** `sequence`: the seat that can do the most items, and of those the one that ends first. Equal seats are
 * tried once. */
function onOneSeat(problem: Problem, budget: Budget, random: () => number): [Problem, Schedule] {
  const seen = new Set<string>()
  const candidates = problem.seats.flatMap((seat, s) => {
    if (seen.has(String(seat.agent))) return []
    seen.add(String(seat.agent))
    return [only(problem, s)]
  })
  const quick = candidates.map((candidate) => ({
    candidate,
    schedule:
      candidate.items.length > 0
        ? new Decoder(candidate).decode(
            candidate.units.map((_, u) => u),
            new Int32Array(candidate.items.length).fill(-1),
          )
        : undefined,
  }))
  quick.sort(
    (a, b) =>
      b.candidate.items.length - a.candidate.items.length ||
      (a.schedule && b.schedule ? compare(a.schedule, b.schedule) : 0),
  )
  const most = quick[0]!.candidate.items.length
  let best: [Problem, Schedule] | undefined
  const contenders = quick.filter(({ candidate }) => candidate.items.length === most).slice(0, 3)
  for (const { candidate } of contenders) {
    if (candidate.items.length === 0) continue
    const schedule = search(candidate, boundOf(candidate), budget.share(1 / contenders.length), random)
    if (!best || compare(schedule, best[1]) < 0) best = [candidate, schedule]
  }
  return (
    best ?? [
      only(problem, 0),
      new Decoder({ ...problem, items: [], units: [] }).decode([], new Int32Array(0)),
    ]
  )
}

/** The problem with one seat; what it cannot do, joint work, and what follows those, is out. */
function only(problem: Problem, seat: number): Problem {
  const agent = problem.seats[seat]!
  const out = new Map<number, string>()
  const visit = (u: number, reason: string): void => {
    if (out.has(u)) return
    out.set(u, reason)
    for (const next of problem.units[u]!.behind)
      visit(next, `it follows “${problem.items[problem.units[u]!.items[0]!]!.id}”, which cannot be placed`)
  }
  problem.units.forEach((unit, u) => {
    if (unit.items.length > 1)
      visit(u, `it is joint work, which needs ${unit.items.length} seats at once; in sequence there is one`)
    else if (!problem.items[unit.items[0]!]!.can[seat])
      visit(u, 'the one agent that does most of it does not serve its environment')
  })
  const unitNumber = new Map(problem.units.flatMap((_, u) => (out.has(u) ? [] : [u])).map((u, n) => [u, n]))
  const kept = problem.items.flatMap((item, i) => (out.has(item.unit) ? [] : [i]))
  const itemNumber = new Map(kept.map((i, n) => [i, n]))
  const [seats, can] = [[0], Uint8Array.of(1)]
  return {
    ...problem,
    seats: [agent],
    items: kept.map((i) => ({
      ...problem.items[i]!,
      seats,
      can,
      shortest: durationOn(agent, problem.items[i]!.ms),
      unit: unitNumber.get(problem.items[i]!.unit)!,
    })),
    units: problem.units.flatMap((unit, u) =>
      out.has(u)
        ? []
        : [
            {
              items: unit.items.map((i) => itemNumber.get(i)!),
              before: unit.before.map((b) => unitNumber.get(b)!),
              behind: unit.behind.flatMap((b) => (unitNumber.has(b) ? [unitNumber.get(b)!] : [])),
            },
          ],
    ),
    unplaceable: [
      ...problem.unplaceable,
      ...problem.items.flatMap(({ id, unit }) =>
        out.has(unit) ? [{ work: id, reason: out.get(unit)! }] : [],
      ),
    ],
  }
}

/** Of work that can change places without changing anything else, the higher priority goes first. */
function byPriority(problem: Problem, schedule: Schedule): Schedule {
  const { items, units } = problem
  const groups = new Map<string, number[]>()
  items.forEach((item, i) => {
    const { before, behind, items: list } = units[item.unit]!
    if (
      schedule.seatOf[i]! < 0 ||
      before.length > 0 ||
      behind.length > 0 ||
      list.length > 1 ||
      item.exclusive.length > 0
    )
      return
    const key = `${schedule.seatOf[i]} ${item.environment} ${item.ms}`
    groups.set(key, [...(groups.get(key) ?? []), i])
  })
  const { start, end, switchMs } = schedule
  const [starts, ends, switches] = [
    Float64Array.from(start),
    Float64Array.from(end),
    Float64Array.from(switchMs),
  ]
  for (const group of groups.values()) {
    const slots = [...group].sort((a, b) => start[a]! - start[b]!)
    const wanted = [...group].sort((a, b) => items[b]!.priority - items[a]!.priority || start[a]! - start[b]!)
    wanted.forEach(
      (i, at) =>
        ([starts[i], ends[i], switches[i]] = [start[slots[at]!]!, end[slots[at]!]!, switchMs[slots[at]!]!]),
    )
  }
  return { ...schedule, start: starts, end: ends, switchMs: switches }
}

function answer(
  input: PlanInput,
  problem: Problem,
  schedule: Schedule | undefined,
  budget: Budget,
): PlanOutput {
  const { items, seats } = problem
  const placed = items.flatMap((_, i) => (schedule && schedule.seatOf[i]! >= 0 ? [i] : []))
  const lanes = input.agents.flatMap((agent, a) =>
    Array.from({ length: agent.seats }, (_, n) => ({ agent: agent.id, seat: n + 1, a })),
  )
  const itemsOn = new Map<string, number[]>()
  for (const i of placed) {
    const seat = seats[schedule!.seatOf[i]!]!
    const key = `${seat.agent} ${seat.number}`
    itemsOn.set(key, [...(itemsOn.get(key) ?? []), i])
  }
  const makespanMs = schedule?.makespan ?? 0
  const working = placed.reduce((sum, i) => sum + schedule!.end[i]! - schedule!.start[i]!, 0)
  const left = schedule
    ? items.flatMap((item, i) =>
        schedule.seatOf[i]! < 0 ? [{ work: item.id, reason: reasonLeft(problem, schedule, i) }] : [],
      )
    : items.map(({ id }) => ({ work: id, reason: 'there is no seat' }))
  return {
    lanes: lanes.map(({ agent, seat, a }) => ({
      agent,
      seat,
      items: (itemsOn.get(`${a} ${seat}`) ?? [])
        .sort((x, y) => schedule!.start[x]! - schedule!.start[y]! || schedule!.end[x]! - schedule!.end[y]!)
        .map((i) => ({
          work: items[i]!.id,
          startMs: schedule!.start[i]!,
          endMs: schedule!.end[i]!,
          switchMs: schedule!.switchMs[i]!,
        })),
    })),
    makespanMs,
    ...lowerBound(problem, placed),
    utilisation: makespanMs > 0 ? working / (lanes.length * makespanMs) : 0,
    unplaceable: [...problem.unplaceable, ...left],
    ...(budget.cut && { cut: true as const }),
  }
}

function reasonLeft({ units, items }: Problem, { seatOf }: Schedule, i: number): string {
  const before = units[items[i]!.unit]!.before.flatMap((u) => units[u]!.items).find(
    (other) => seatOf[other]! < 0,
  )
  return before === undefined
    ? 'it does not fit before the seats that could do it close'
    : `it follows “${items[before]!.id}”, which cannot be placed`
}
