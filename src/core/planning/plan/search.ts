/** A good plan: several constructions, the best of them mended by moves as long as the budget lasts. */
import type { Budget } from '../../compute/budget'
import type { Random } from '../../execution/random'
import { balance } from './balance'
import { EXACT_MOST, exactPlan, tailsOf } from './exact'
import type { Problem } from './problem'
import { compare, Decoder, type Schedule } from './schedule'

/** A worse plan is gone on from when it is better than the one so many moves ago (late acceptance, Burke & Bykov 2017). */
const MEMORY = 60

/** @param goal a makespan that no plan is below */
export function search(problem: Problem, goal: number, budget: Budget, random: Random): Schedule {
  const decoder = new Decoder(problem)
  const free = new Int32Array(problem.items.length).fill(-1)
  const tails = tailsOf(problem)
  const decode = (order: ArrayLike<number>, seatOf: Int32Array): Schedule => {
    budget.spend(problem.items.length)
    return decoder.decode(order, seatOf)
  }
  let best: { order: Int32Array; schedule: Schedule } | undefined
  const consider = (order: Int32Array, seatOf: Int32Array): void => {
    const schedule = decode(order, seatOf)
    if (!best || compare(schedule, best.schedule) < 0) best = { order, schedule }
  }
  for (const order of orders(problem, tails)) consider(order, free)
  const loose = problem.units.every(({ items, before }) => items.length === 1 && before.length === 0) && problem.names === 0
  const allPlaced = () => best!.schedule.placed.reduce((sum, n) => sum + n, 0) === problem.items.length
  if (allPlaced() && problem.items.length > EXACT_MOST) {
    // What holds work together is forgotten for a moment: seats that are evenly full are a good beginning also with it.
    const even = balance(problem, best!.schedule.seatOf, problem.now + goal, loose ? budget : budget.share(0.25), random)
    consider(inBlocks(problem, even, tails), even)
    if (loose) return best!.schedule
  }
  if (problem.items.length <= EXACT_MOST && allPlaced()) {
    const choice = exactPlan(problem, best!.schedule.makespan, goal, budget)
    if (choice) consider(Int32Array.from(choice.order), choice.seatOf)
    return best!.schedule
  }
  return climb(problem, best!, { goal, budget, random, decode, decoder })
}

/** Orders to begin with: the longest way to the end first; the same by environment, so that seats change seldom; by priority, for when not all fits. */
function orders({ units, items }: Problem, tails: Float64Array): Int32Array[] {
  const all = Array.from(units, (_, u) => u)
  const urgency = (u: number) => tails[u]!
  const longest = (u: number) => Math.max(...units[u]!.items.map((i) => Math.min(...items[i]!.durations)))
  const priority = (u: number) => Math.max(...units[u]!.items.map((i) => items[i]!.priority))
  const choices = (u: number) => Math.min(...units[u]!.items.map((i) => items[i]!.seats.length))
  const environment = (u: number) => items[units[u]!.items[0]!]!.environment
  const by = (...keys: ((u: number) => number)[]) => Int32Array.from([...all].sort((a, b) => {
    for (const key of keys) if (key(a) !== key(b)) return key(a) - key(b)
    return a - b
  }))
  const negative = (key: (u: number) => number) => (u: number) => -key(u)
  return [by(negative(urgency), choices), by(choices, negative(urgency)), by(environment, negative(urgency)), by(negative(longest)), by(negative(priority), negative(urgency)), by(negative(priority), longest)]
}

/** An order in which each seat does one environment after the other, the most urgent first. */
function inBlocks({ units, items, seats }: Problem, seatOf: Int32Array, tails: Float64Array): Int32Array {
  const tailOf = (i: number) => tails[items[i]!.unit]!
  const urgency = new Map<string, number>()
  items.forEach((item, i) => {
    const key = `${seatOf[i]} ${item.environment}`
    urgency.set(key, Math.max(urgency.get(key) ?? 0, tailOf(i)))
  })
  const perSeat = seats.map((_, s) => items.flatMap((_item, i) => (seatOf[i] === s ? [i] : [])).sort((a, b) => {
    const [ea, eb] = [items[a]!.environment, items[b]!.environment]
    return ea === eb ? tailOf(b) - tailOf(a) || a - b : urgency.get(`${s} ${eb}`)! - urgency.get(`${s} ${ea}`)! || ea - eb
  }))
  const starts = new Float64Array(items.length)
  for (const list of perSeat) list.reduce((at, i) => ((starts[i] = at), at + items[i]!.durations[0]!), 0)
  const startOf = (u: number) => Math.min(...units[u]!.items.map((i) => starts[i]!))
  return Int32Array.from(Array.from(units, (_, u) => u).sort((a, b) => startOf(a) - startOf(b) || a - b))
}

type Tools = { goal: number; budget: Budget; random: Random; decode(order: ArrayLike<number>, seatOf: Int32Array): Schedule; decoder: Decoder }

/** Moves a unit to another place of the order, another seat, or exchanges two; goes on from what is not worse than some moves ago. */
function climb(problem: Problem, from: { order: Int32Array; schedule: Schedule }, { goal, budget, random, decode }: Tools): Schedule {
  const { units, items } = problem
  const n = units.length
  let order: Int32Array = Int32Array.from(Array.from(from.order).sort((a, b) => startOf(problem, from.schedule, a) - startOf(problem, from.schedule, b)))
  let current = decode(order, from.schedule.seatOf)
  if (compare(from.schedule, current) < 0) [order, current] = [from.order, from.schedule]
  let best = compare(current, from.schedule) < 0 ? current : from.schedule
  const memory = new Array<Schedule>(MEMORY).fill(current)
  for (let move = 0; !budget.over && n > 1 && (best.makespan > goal || unplaced(best, items.length)); move++) {
    const next = Int32Array.from(order)
    const seatOf = Int32Array.from(current.seatOf)
    const kind = random()
    const at = kind < 0.7 ? placeOfLate(problem, current, order, random) : Math.floor(random() * n)
    const u = order[at]!
    if (kind < 0.45) {
      for (const i of units[u]!.items) seatOf[i] = random() < 0.5 ? -1 : items[i]!.seats[Math.floor(random() * items[i]!.seats.length)]!
      shift(next, at, near(at, n, random))
    } else if (kind < 0.8) {
      const other = near(at, n, random)
      const v = order[other]!
      ;[next[at], next[other]] = [v, u]
      const [i, j] = [units[u]!.items[0]!, units[v]!.items[0]!]
      if (items[i]!.seats.includes(seatOf[j]!) && items[j]!.seats.includes(seatOf[i]!)) [seatOf[i], seatOf[j]] = [seatOf[j]!, seatOf[i]!]
    } else shift(next, at, near(at, n, random))
    const tried = decode(next, seatOf)
    const long = memory[move % MEMORY]!
    if (compare(tried, current) <= 0 || compare(tried, long) <= 0) [order, current] = [next, tried]
    memory[move % MEMORY] = current
    if (compare(current, best) < 0) best = current
  }
  return best
}

const unplaced = (schedule: Schedule, n: number) => schedule.placed.reduce((sum, count) => sum + count, 0) < n
const startOf = ({ units }: Problem, schedule: Schedule, u: number) => Math.min(...units[u]!.items.map((i) => (schedule.seatOf[i]! < 0 ? Infinity : schedule.start[i]!)))

/** A unit that ends late, or is not placed: of a few at random the latest. */
function placeOfLate({ units }: Problem, schedule: Schedule, order: Int32Array, random: Random): number {
  let [latest, place] = [-Infinity, 0]
  for (let k = 0; k < 4; k++) {
    const at = Math.floor(random() * order.length)
    const [i] = units[order[at]!]!.items
    const end = schedule.seatOf[i!]! < 0 ? Infinity : schedule.end[i!]!
    if (end > latest) [latest, place] = [end, at]
  }
  return place
}

/** Another place, mostly not far. */
function near(at: number, n: number, random: Random): number {
  const reach = random() < 0.3 ? n : Math.max(3, Math.ceil(n / 10))
  return Math.max(0, Math.min(n - 1, at + Math.floor((random() * 2 - 1) * reach)))
}

function shift(order: Int32Array, from: number, to: number): void {
  const u = order[from]!
  if (from < to) order.copyWithin(from, from + 1, to + 1)
  else order.copyWithin(to + 1, to, from)
  order[to] = u
}
