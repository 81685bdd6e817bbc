/** Lower bounds of the makespan. Each kind is a bound by itself; the largest is given. */
import { durationOn, type Item, type Problem, type Seat } from './problem'
import type { BoundKind } from './types'

/** Up to this number of environments, every subset of them is looked at; beyond it only small subsets and the
 * whole set. */
const ENVIRONMENTS_MOST = 10

/** @param items those that are placed (by place in `problem.items`), with all they follow */
export function lowerBound(
  problem: Problem,
  items: readonly number[],
): { boundMs: number; bound: BoundKind } {
  if (items.length === 0) return { boundMs: 0, bound: 'load' }
  const { now } = problem
  const list = items.map((i) => problem.items[i]!)
  const load =
    loadBound(
      problem,
      list,
      problem.seats.map((seat) => ({ ...seat, from: now, until: Infinity })),
    ) - now
  const window = loadBound(problem, list, problem.seats) - now
  const bounds: [BoundKind, number][] = [
    ['load', load],
    ['single-item', list.reduce((most, item) => Math.max(most, earliestEnd(problem, item)), now) - now],
    ['exclusive', exclusiveBound(problem, list) - now],
    ['critical-path', criticalPath(problem, items) - now],
    ['window', window],
  ]
  // The first kind that reaches the largest value gives its name: simple kinds come first.
  const most = Math.max(...bounds.map(([, ms]) => ms))
  const [bound] = bounds.find(([, ms]) => ms === most)!
  return { boundMs: Math.max(0, Math.ceil(most - 1e-6)), bound }
}

const earliestEnd = ({ seats }: Problem, item: Item) =>
  item.seats.reduce((least, s) => Math.min(least, seats[s]!.from + durationOn(seats[s]!, item.ms)), Infinity)
const earliestFrom = ({ seats }: Problem, item: Item) =>
  item.seats.reduce((least, s) => Math.min(least, seats[s]!.from), Infinity)

/** Critical path: the longest chain of items that follow each other, each on its fastest seat. */
function criticalPath(problem: Problem, placed: readonly number[]): number {
  const { units, items } = problem
  const wanted = new Set(placed.map((i) => items[i]!.unit))
  const ends = new Float64Array(units.length).fill(-1)
  const endOf = (u: number): number => {
    if (ends[u]! >= 0) return ends[u]!
    const start = units[u]!.before.reduce((latest, before) => Math.max(latest, endOf(before)), problem.now)
    // Joint items start together: none before the last of them can.
    const joint = units[u]!.items.reduce(
      (latest, i) => Math.max(latest, earliestFrom(problem, items[i]!)),
      start,
    )
    return (ends[u] = Math.max(...units[u]!.items.map((i) => joint + items[i]!.shortest)))
  }
  return [...wanted].reduce((latest, u) => Math.max(latest, endOf(u)), problem.now)
}

/** Items that hold the same name exclude each other, so their times add up. */
function exclusiveBound(problem: Problem, list: readonly Item[]): number {
  const from = new Float64Array(problem.names).fill(Infinity)
  const work = new Float64Array(problem.names)
  for (const item of list) {
    for (const name of item.exclusive) {
      from[name] = Math.min(from[name]!, earliestFrom(problem, item))
      work[name]! += item.shortest
    }
  }
  return work.reduce((most, ms, name) => (ms > 0 ? Math.max(most, from[name]! + ms) : most), problem.now)
}

/** Capacity: the earliest end at which the seats that may do some of the work have time for it and for the
 * switches that cannot be avoided; for all the work, and for every set of environments. */
function loadBound(problem: Problem, list: readonly Item[], seats: readonly Seat[]): number {
  const groups = new Map<string, Group>()
  // most items share their list of seats: it is written out once
  const keys = new Map<readonly number[], string>()
  for (const item of list) {
    let key = keys.get(item.seats)
    if (key === undefined) keys.set(item.seats, (key = item.seats.join(',')))
    let group = groups.get(key)
    if (!group) groups.set(key, (group = { ms: 0, count: 0, environments: new Set(), seats: item.seats }))
    group.ms += item.ms
    group.count++
    group.environments.add(item.environment)
  }
  const all = [...groups.values()]
  return subsets(all.length).reduce(
    (most, chosen) =>
      Math.max(
        most,
        timeFor(
          problem,
          chosen.map((g) => all[g]!),
          seats,
        ),
      ),
    problem.now,
  )
}

/** Work that the same seats may do. */
type Group = { ms: number; count: number; environments: Set<number>; seats: readonly number[] }

function subsets(n: number): number[][] {
  if (n <= ENVIRONMENTS_MOST)
    return Array.from({ length: (1 << n) - 1 }, (_, bits) =>
      Array.from({ length: n }, (_, i) => i).filter((i) => (bits + 1) & (1 << i)),
    )
  const each = Array.from({ length: n }, (_, i) => i)
  return [...each.map((i) => [i]), each]
}

function timeFor(problem: Problem, groups: readonly Group[], every: readonly Seat[]): number {
  const seats = [...new Set(groups.flatMap((group) => group.seats))].map((s) => every[s]!)
  const [count, environments] = [
    groups.reduce((sum, group) => sum + group.count, 0),
    new Set(groups.flatMap((group) => [...group.environments])).size,
  ]
  const slowest = Math.min(...seats.map(({ speed }) => speed))
  // n items on s seats follow another one n - s times; e environments on s seats change e - s times. Only
  // what cannot be avoided counts.
  const [follows, changes] = [Math.max(0, count - seats.length), Math.max(0, environments - seats.length)]
  const cheap = Math.min(problem.same, problem.other)
  const switches = follows * cheap + Math.min(follows, changes) * Math.max(0, problem.other - cheap)
  const work = groups.reduce((sum, { ms }) => sum + ms, 0) + switches * slowest
  // Seats are wanted from the earliest on: the end is where their time adds up to the work.
  const moments = [...new Set(seats.flatMap(({ from, until }) => [from, until]))]
    .filter(Number.isFinite)
    .sort((a, b) => a - b)
  let done = 0
  for (let i = 0; i < moments.length; i++) {
    const at = moments[i]!
    const rate = seats.reduce(
      (sum, { from, until, speed }) => sum + (from <= at && at < until ? speed : 0),
      0,
    )
    const end = moments[i + 1] ?? Infinity
    if (rate > 0 && done + rate * (end - at) >= work) return at + (work - done) / rate
    done += rate === 0 ? 0 : rate * (end - at)
  }
  return moments.at(-1) ?? problem.now
}
