/** The optimal plan of a few items, by branch and bound. Items are placed in the order of their start: every
 * semi-active plan (in which nothing could start earlier) is one such order, and an optimal plan is among
 * those. */
import type { Budget } from '../../compute/budget'
import { durationOn, switchMs, type Problem } from './problem'

/** More items than this take longer than anybody waits. */
export const EXACT_MOST = 9
/** Cost of one node of the search, in placements of an item. */
const NODE_STEPS = 3

export type Choice = { order: number[]; seatOf: Int32Array }

/** @param upper makespan of a plan that places everything; one that ends earlier is looked for
 * @param least no plan ends earlier
 * @returns the best plan, or `undefined` when none is better than `upper`, or the budget ended before any was
 * found */
export function exactPlan(
  problem: Problem,
  upper: number,
  least: number,
  budget: Budget,
): Choice | undefined {
  const { seats, items, units, now } = problem
  const tail = tailsOf(problem)
  const free = Float64Array.from(seats, ({ from }) => from)
  const environment = new Int32Array(seats.length).fill(-1)
  const held = new Float64Array(problem.names).fill(-Infinity)
  const unitEnd = new Float64Array(units.length).fill(-1)
  const seatOf = new Int32Array(items.length).fill(-1)
  const order: number[] = []
  let best = upper + now
  let found: Choice | undefined

  const bound = (start: number, latest: number): number => {
    let most = latest
    let left = 0
    for (let u = 0; u < units.length; u++) {
      if (unitEnd[u]! >= 0) continue
      let ready = start
      for (const before of units[u]!.before)
        if (unitEnd[before]! >= 0) ready = Math.max(ready, unitEnd[before]!)
      for (const i of units[u]!.items) {
        let earliest = Infinity
        const item = items[i]!
        for (let at = 0; at < item.seats.length; at++) {
          const s = item.seats[at]!
          earliest = Math.min(
            earliest,
            Math.max(ready, free[s]! + switchMs(problem, environment[s]!, item.environment)),
          )
        }
        most = Math.max(most, earliest + tail[u]!)
        left += item.shortest
      }
    }
    return Math.max(most, filledTo(Float64Array.from(free, (at) => Math.max(at, start)).sort(), left))
  }

  const visit = (start: number, latest: number): void => {
    if (best <= least + now || !budget.spend(NODE_STEPS)) return
    if (order.length === units.length) {
      if (latest < best) {
        best = latest
        found = { order: [...order], seatOf: Int32Array.from(seatOf) }
      }
      return
    }
    if (bound(start, latest) >= best) return
    const options: { unit: number; seats: number[]; start: number }[] = []
    for (let u = 0; u < units.length; u++) {
      if (unitEnd[u]! >= 0 || units[u]!.before.some((before) => unitEnd[before]! < 0)) continue
      let ready = start
      for (const before of units[u]!.before) ready = Math.max(ready, unitEnd[before]!)
      for (const i of units[u]!.items)
        for (const name of items[i]!.exclusive) ready = Math.max(ready, held[name]!)
      for (const chosen of choicesOf(units[u]!.items)) {
        let begins = ready
        units[u]!.items.forEach(
          (i, at) => (begins = Math.max(begins, free[chosen[at]!]! + switchFor(i, chosen[at]!))),
        )
        if (begins + tail[u]! < best) options.push({ unit: u, seats: chosen, start: begins })
      }
    }
    options.sort((a, b) => a.start - b.start || tail[b.unit]! - tail[a.unit]!)
    for (const option of options) tryOption(option, latest)
  }

  const switchFor = (i: number, s: number) => switchMs(problem, environment[s]!, items[i]!.environment)

  /** Seats for joint items, each its own; of seats that are alike and unused only the first. */
  const choicesOf = (list: readonly number[]): number[][] => {
    const found: number[][] = []
    const pick = (at: number, chosen: number[]): void => {
      if (at === list.length) return void found.push([...chosen])
      const seen = new Set<string>()
      for (const s of items[list[at]!]!.seats) {
        if (chosen.includes(s)) continue
        const { agent, speed, from, until } = seats[s]!
        const alike = environment[s]! < 0 ? `${agent} ${speed} ${from} ${until}` : String(s)
        if (seen.has(alike)) continue
        seen.add(alike)
        chosen.push(s)
        pick(at + 1, chosen)
        chosen.pop()
      }
    }
    pick(0, [])
    return found
  }

  const tryOption = (
    { unit, seats: chosen, start }: { unit: number; seats: number[]; start: number },
    latest: number,
  ): void => {
    const list = units[unit]!.items
    const before = list.map((i, at) => ({
      free: free[chosen[at]!]!,
      environment: environment[chosen[at]!]!,
      held: items[i]!.exclusive.map((name) => held[name]!),
    }))
    const ends = list.map((i, at) => start + durationOn(seats[chosen[at]!]!, items[i]!.ms))
    if (ends.some((end, at) => end > seats[chosen[at]!]!.until || end >= best)) return
    list.forEach((i, at) => {
      free[chosen[at]!] = ends[at]!
      environment[chosen[at]!] = items[i]!.environment
      seatOf[i] = chosen[at]!
      for (const name of items[i]!.exclusive) held[name] = Math.max(held[name]!, ends[at]!)
    })
    unitEnd[unit] = Math.max(...ends)
    order.push(unit)
    visit(start, Math.max(latest, unitEnd[unit]!))
    order.pop()
    unitEnd[unit] = -1
    for (let at = list.length - 1; at >= 0; at--) {
      free[chosen[at]!] = before[at]!.free
      environment[chosen[at]!] = before[at]!.environment
      items[list[at]!]!.exclusive.forEach((name, k) => (held[name] = before[at]!.held[k]!))
    }
  }

  visit(now, now)
  return found
}

/** The time up to which seats that are free from `times` on (ascending) have to work to do this much. */
function filledTo(from: Float64Array, amount: number): number {
  let sum = 0
  for (let n = 1; n <= from.length; n++) {
    sum += from[n - 1]!
    const level = (sum + amount) / n
    if (n === from.length || level <= from[n]!) return level
  }
  return 0
}

/** Tail of a unit: the shortest time from its start to the end of everything that has to follow it. */
export function tailsOf({ units, items }: Problem): Float64Array {
  const tails = new Float64Array(units.length).fill(-1)
  const order: number[] = []
  const seen = new Uint8Array(units.length)
  for (let root = 0; root < units.length; root++) {
    const stack = seen[root] ? [] : [{ unit: root, edge: 0 }]
    seen[root] = 1
    while (stack.length > 0) {
      const top = stack.at(-1)!
      const next = units[top.unit]!.behind[top.edge++]
      if (next === undefined) order.push(stack.pop()!.unit)
      else if (!seen[next]) {
        seen[next] = 1
        stack.push({ unit: next, edge: 0 })
      }
    }
  }
  for (const u of order)
    tails[u] =
      Math.max(...units[u]!.items.map((i) => items[i]!.shortest)) +
      units[u]!.behind.reduce((most, next) => Math.max(most, tails[next]!), 0)
  return tails
}
