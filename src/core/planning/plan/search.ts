/** A good plan: several construction heuristics, then local search from the best of them as long as the
 * budget lasts. */
import type { Budget } from '../../compute/budget'
import type { Random } from '../../execution/random'
import { balance } from './balance'
import { inEnvironmentBlocks } from './blocks'
import { dispatched } from './dispatch'
import { evened } from './even'
import { EXACT_MOST, exactPlan, tailsOf } from './exact'
import type { Problem } from './problem'
import { compare, copyOf, Decoder, type Cost, type Schedule } from './schedule'

/** A worse plan is gone on from when it is better than the one so many moves ago (late acceptance, Burke &
 * Bykov 2017). */
const MEMORY = 60

/** Moves without anything better, for each unit and at least, after which the search begins from the best
 * again, with this share of its units moved. With more units than that the budget is over before it pays. */
const [PATIENCE, PATIENCE_LEAST, SHAKEN_SHARE, SHAKEN_MOST] = [30, 300, 0.15, 40]

/** Slack over the best known end, when it is decided which items are urgent. */
const SLACKS = [0, 0.02, 0.1]
/** Of those that are tried afterwards. */
const SLACK_MOST = 0.03
/** Cost of one list schedule, in placements of an item. */
const DISPATCH_STEPS = 10
/** Items up to which single moves are tried. */
const CLIMBED_MOST = 400
/** Share of the items that another division puts elsewhere, before it is balanced. */
const MIXED_SHARE = 0.05
const SEARCHED_MOST = 1_000_000
/** The search stops within this share of the lower bound: the rest is less than the error of the estimates.
 */
const NEAR_ENOUGH = 1.0005

/** @param least a makespan that no plan is below */
export function search(problem: Problem, least: number, budget: Budget, random: Random): Schedule {
  const goal = problem.items.length <= EXACT_MOST ? least : Math.floor(least * NEAR_ENOUGH)
  const decoder = new Decoder(problem)
  const free = new Int32Array(problem.items.length).fill(-1)
  const tails = urgencies(problem)
  let best: { order: Int32Array; schedule: Schedule } | undefined
  const consider = (order: Int32Array, seatOf: Int32Array): void => {
    budget.spend(problem.items.length * (seatOf === free ? 1 + (problem.seats.length >> 3) : 2))
    const schedule = decoder.decode(order, seatOf)
    if (!best || compare(schedule, best.schedule) < 0) best = { order, schedule }
  }
  const loose =
    problem.units.every(({ items, before }) => items.length === 1 && before.length === 0) &&
    problem.names === 0
  // Choosing the best seat of each item costs items times seats: where that is much, or better beginnings
  // follow, only two orders are tried.
  const beginnings = orders(problem, tails)
  const isLarge =
    problem.items.length * problem.seats.length > SEARCHED_MOST ||
    (!loose && problem.items.length > CLIMBED_MOST)
  for (const order of isLarge ? beginnings.slice(0, 2) : beginnings) consider(order, free)
  const allPlaced = () => best!.schedule.placed.reduce((sum, n) => sum + n, 0) === problem.items.length
  if (allPlaced() && problem.items.length > EXACT_MOST) {
    // Constraints between items are ignored here: an assignment that balances the seats is a good start with
    // them, too.
    const part = loose ? 0.25 : 0.12
    const begin = [inEnvironmentBlocks(problem, problem.now + goal), best!.schedule.seatOf].map((seatOf) =>
      balance(problem, seatOf, problem.now + goal, budget.share(part), random),
    )
    const joint = problem.units.some(({ items }) => items.length > 1)
    const fromDivision = (division: Int32Array, slack: number): void => {
      budget.spend(problem.items.length * DISPATCH_STEPS)
      const { order, seatOf } = dispatched(problem, division, tails, problem.now + goal * (1 + slack))
      consider(order, seatOf)
      const next = evened(problem, decoder.decode(order, seatOf), problem.now + goal, budget)
      consider(next.order, next.seatOf)
    }
    for (const even of begin) {
      consider(inBlocks(problem, even, tails), even)
      if (!loose && !joint) for (const slack of SLACKS) if (!budget.over) fromDivision(even, slack)
    }
    // With many items a move tells little for what it costs: other divisions are tried instead.
    if (!loose && !joint && problem.items.length > CLIMBED_MOST)
      for (let round = 0; best!.schedule.makespan > goal && !budget.over; round++) {
        const division = mixed(problem, begin[round % begin.length]!, random)
        fromDivision(
          balance(problem, division, problem.now + goal, budget.share(0.1), random),
          random() * SLACK_MOST,
        )
      }
    if (loose) {
      const even = balance(problem, best!.schedule.seatOf, problem.now + goal, budget, random)
      consider(inBlocks(problem, even, tails), even)
      return best!.schedule
    }
  }
  if (problem.items.length <= EXACT_MOST && allPlaced()) {
    const choice = exactPlan(problem, best!.schedule.makespan, goal, budget)
    if (choice) consider(Int32Array.from(choice.order), choice.seatOf)
    return best!.schedule
  }
  return climb(problem, best!, { goal, budget, random, decoder })
}

/** A division with some of its items on other seats. */
function mixed({ items }: Problem, division: Int32Array, random: Random): Int32Array {
  return division.map((seat, i) => {
    const { seats } = items[i]!
    return random() < MIXED_SHARE ? seats[Math.floor(random() * seats.length)]! : seat
  })
}

/** Tail of a unit: the work that has to come after its start, either what follows it or what excludes it. */
function urgencies(problem: Problem): Float64Array {
  const tails = tailsOf(problem)
  const wanted = new Float64Array(problem.names)
  for (const { exclusive, shortest } of problem.items) for (const name of exclusive) wanted[name]! += shortest
  return tails.map((tail, u) =>
    problem.units[u]!.items.reduce(
      (most, i) => problem.items[i]!.exclusive.reduce((more, name) => Math.max(more, wanted[name]!), most),
      tail,
    ),
  )
}

/** Initial orders: longest tail first; the same within each environment, so that there are few switches; by
 * priority, for when not everything fits. */
function orders({ units, items }: Problem, tails: Float64Array): Int32Array[] {
  const all = Array.from(units, (_, u) => u)
  const urgency = (u: number) => tails[u]!
  const longest = (u: number) => Math.max(...units[u]!.items.map((i) => items[i]!.shortest))
  const priority = (u: number) => Math.max(...units[u]!.items.map((i) => items[i]!.priority))
  const choices = (u: number) => Math.min(...units[u]!.items.map((i) => items[i]!.seats.length))
  const environment = (u: number) => items[units[u]!.items[0]!]!.environment
  const by = (...keys: ((u: number) => number)[]) =>
    Int32Array.from(
      [...all].sort((a, b) => {
        for (const key of keys) if (key(a) !== key(b)) return key(a) - key(b)
        return a - b
      }),
    )
  const negative = (key: (u: number) => number) => (u: number) => -key(u)
  return [
    by(negative(urgency), choices),
    by(choices, negative(urgency)),
    by(environment, negative(urgency)),
    by(negative(longest)),
    by(negative(priority), negative(urgency)),
    by(negative(priority), longest),
  ]
}

/** An order in which each seat does one environment after the other, the most urgent first. */
function inBlocks(
  { units, items, seats, environments }: Problem,
  seatOf: Int32Array,
  tails: Float64Array,
): Int32Array {
  const tailOf = (i: number) => tails[items[i]!.unit]!
  const urgency = new Float64Array(seats.length * environments)
  items.forEach((item, i) => {
    const at = seatOf[i]! * environments + item.environment
    urgency[at] = Math.max(urgency[at]!, tailOf(i))
  })
  const perSeat = seats.map(() => [] as number[])
  seatOf.forEach((s, i) => perSeat[s]!.push(i))
  perSeat.forEach((list, s) =>
    list.sort((a, b) => {
      const [ea, eb] = [items[a]!.environment, items[b]!.environment]
      return ea === eb
        ? tailOf(b) - tailOf(a) || a - b
        : urgency[s * environments + eb]! - urgency[s * environments + ea]! || ea - eb
    }),
  )
  const starts = new Float64Array(items.length)
  for (const list of perSeat) {
    let at = 0
    for (const i of list) {
      starts[i] = at
      at += items[i]!.shortest
    }
  }
  const startOf = (u: number) => Math.min(...units[u]!.items.map((i) => starts[i]!))
  return Int32Array.from(Array.from(units, (_, u) => u).sort((a, b) => startOf(a) - startOf(b) || a - b))
}

type Tools = { goal: number; budget: Budget; random: Random; decoder: Decoder }

/** Moves a unit to another place of the order, another seat, or exchanges two; mostly units that the end
 * waits for. Goes on from what is not worse than some moves ago; when nothing better was found for long, from
 * the best with some units moved at random (iterated local search, Lourenço, Martin & Stützle 2003). */
function climb(
  problem: Problem,
  from: { order: Int32Array; schedule: Schedule },
  { goal, budget, random, decoder }: Tools,
): Schedule {
  const { units, items } = problem
  const n = units.length
  let order: Int32Array = Int32Array.from(
    Array.from(from.order).sort(
      (a, b) => startOf(problem, from.schedule, a) - startOf(problem, from.schedule, b),
    ),
  )
  let current = decoder.decode(order, from.schedule.seatOf)
  if (compare(from.schedule, current) < 0) [order, current] = [from.order, copyOf(from.schedule)]
  let best = copyOf(current)
  let spare: Schedule | undefined
  const memory = new Array<Cost>(MEMORY).fill(costOf(current))
  const next = new Int32Array(n)
  const seatOf = new Int32Array(items.length)
  const patience = n > SHAKEN_MOST ? Infinity : Math.max(PATIENCE_LEAST, PATIENCE * n)
  let stale = 0
  for (
    let move = 0;
    n > 1 && (best.makespan > goal || unplaced(best, items.length)) && budget.spend(n);
    move++
  ) {
    if (++stale > patience) {
      stale = 0
      order = shaken(problem, best, seatOf, random)
      current = decoder.decode(order, seatOf)
      memory.fill(costOf(current))
    }
    next.set(order)
    seatOf.set(current.seatOf)
    const u = random() < 0.75 ? critical(problem, current, random) : order[Math.floor(random() * n)]!
    const at = order.indexOf(u)
    const kind = random()
    if (kind < 0.5) {
      for (const i of units[u]!.items)
        seatOf[i] = random() < 0.5 ? -1 : items[i]!.seats[Math.floor(random() * items[i]!.seats.length)]!
      shift(next, at, near(at, n, random))
    } else if (kind < 0.8) {
      const other = near(at, n, random)
      const v = order[other]!
      ;[next[at], next[other]] = [v, u]
      const [i, j] = [units[u]!.items[0]!, units[v]!.items[0]!]
      if (seatOf[i]! >= 0 && seatOf[j]! >= 0 && items[i]!.can[seatOf[j]!] && items[j]!.can[seatOf[i]!])
        [seatOf[i], seatOf[j]] = [seatOf[j]!, seatOf[i]!]
    } else shift(next, at, Math.max(0, at - 1 - Math.floor(random() * Math.min(at, n / 4))))
    const tried = decoder.decode(next, seatOf, spare)
    spare = tried
    if (compare(tried, current) <= 0 || compare(tried, memory[move % MEMORY]!) <= 0) {
      ;[spare, current] = [current, tried]
      order = next.slice()
      if (compare(current, best) < 0) {
        best = copyOf(current)
        stale = 0
      }
    }
    memory[move % MEMORY] = costOf(current)
  }
  return best
}

/** The order of a schedule with some of its units moved, and those free of their seats.
 * @param seatOf where the seats are written to */
function shaken(problem: Problem, schedule: Schedule, seatOf: Int32Array, random: Random): Int32Array {
  const { units } = problem
  const order = Int32Array.from(
    Array.from(units, (_, u) => u).sort(
      (a, b) => startOf(problem, schedule, a) - startOf(problem, schedule, b),
    ),
  )
  seatOf.set(schedule.seatOf)
  const n = order.length
  for (let moved = Math.max(2, Math.round(n * SHAKEN_SHARE)); moved > 0; moved--) {
    const at = Math.floor(random() * n)
    for (const i of units[order[at]!]!.items) seatOf[i] = -1
    shift(order, at, near(at, n, random))
  }
  return order
}

const costOf = ({ makespan, placed, unevenness }: Cost): Cost => ({ makespan, placed, unevenness })
const unplaced = (schedule: Cost, n: number) => schedule.placed.reduce((sum, count) => sum + count, 0) < n
const startOf = ({ units }: Problem, schedule: Schedule, u: number) =>
  Math.min(...units[u]!.items.map((i) => (schedule.seatOf[i]! < 0 ? Infinity : schedule.start[i]!)))

/** A unit of the chain that the end waits for; while something is not placed, that now and then. */
function critical({ items }: Problem, schedule: Schedule, random: Random): number {
  if (unplaced(schedule, items.length) && random() < 0.5) {
    const out = items.flatMap((item, i) => (schedule.seatOf[i]! < 0 ? [item.unit] : []))
    return out[Math.floor(random() * out.length)]!
  }
  // A uniformly random one of the chain, without storing the chain (reservoir sampling).
  let chosen = schedule.last
  for (let i = schedule.last, n = 1; i >= 0; i = schedule.blockedBy[i]!, n++) if (random() * n < 1) chosen = i
  return chosen < 0 ? 0 : items[chosen]!.unit
}

/** Another position in the order, mostly a near one. */
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
