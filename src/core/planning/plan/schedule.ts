/** From an order and a choice of seats to times: everything starts as early as its seat, what it follows and what it holds alone allow. */
import type { Problem } from './problem'

/** For each item its seat and times; seat -1: it is not placed. */
export type Schedule = { seatOf: Int32Array; start: Float64Array; end: Float64Array; switchMs: Float64Array; makespan: number; /** Items placed, by priority: the highest first. */ placed: number[]; /** How unevenly the seats are used: the sum of the squares of when each is free. */ unevenness: number }

/** Which schedule is better: more of the highest priority placed, then more of the next, then the earlier end, then the more even one. Below 0: `a` is. */
export function compare(a: Schedule, b: Schedule): number {
  for (let i = 0; i < a.placed.length; i++) if (a.placed[i] !== b.placed[i]) return b.placed[i]! - a.placed[i]!
  return a.makespan - b.makespan || a.unevenness - b.unevenness
}

/** Places units by turns. One decoder serves many calls: its tables are made once. */
export class Decoder {
  private readonly free: Float64Array
  private readonly environment: Int32Array
  private readonly heldUntil: Float64Array
  private readonly unitEnd: Float64Array
  private readonly priorities: number[]
  /** Windows that close: then not everything may fit. */
  private readonly closes: boolean
  private readonly durationOn: Map<number, number>[]

  constructor(private readonly problem: Problem) {
    const { seats, names, units, items } = problem
    this.free = new Float64Array(seats.length)
    this.environment = new Int32Array(seats.length)
    this.heldUntil = new Float64Array(names)
    this.unitEnd = new Float64Array(units.length)
    this.priorities = [...new Set(items.map(({ priority }) => priority))].sort((a, b) => b - a)
    this.closes = seats.some(({ until }) => until < Infinity)
    this.durationOn = items.map(({ seats: able, durations }) => new Map(able.map((s, i) => [s, durations[i]!])))
  }

  duration = (item: number, seat: number): number => this.durationOn[item]!.get(seat)!

  /** @param order units, each once; one that stands before what it follows is placed after it all the same
   * @param seatOf seat of each item; -1: the one on which it ends first */
  decode(order: ArrayLike<number>, seatOf: Int32Array): Schedule {
    const { seats, items, now } = this.problem
    seats.forEach(({ from }, s) => (this.free[s] = from))
    this.environment.fill(-1)
    this.heldUntil.fill(-Infinity)
    this.unitEnd.fill(-1)
    const schedule: Schedule = { seatOf: new Int32Array(items.length).fill(-1), start: new Float64Array(items.length), end: new Float64Array(items.length), switchMs: new Float64Array(items.length), makespan: now, placed: new Array<number>(this.priorities.length).fill(0), unevenness: 0 }
    for (let i = 0; i < order.length; i++) this.place(order[i]!, seatOf, schedule)
    schedule.makespan -= now
    for (let s = 0; s < seats.length; s++) schedule.unevenness += (this.free[s]! - now) ** 2
    return schedule
  }

  /** @returns false when the unit does not fit before its seats close, or follows one that does not */
  private place(u: number, wanted: Int32Array, schedule: Schedule): boolean {
    if (this.unitEnd[u]! !== -1) return this.unitEnd[u]! !== Infinity
    const { units, items } = this.problem
    const unit = units[u]!
    let ready = this.problem.now
    for (const before of unit.before) {
      if (!this.place(before, wanted, schedule)) return this.leaveOut(u)
      ready = Math.max(ready, this.unitEnd[before]!)
    }
    for (const i of unit.items) for (const name of items[i]!.exclusive) ready = Math.max(ready, this.heldUntil[name]!)
    if (unit.items.length === 1) {
      const [i] = unit.items as [number]
      const seat = wanted[i]! >= 0 ? wanted[i]! : this.bestSeat(i, ready)
      return seat >= 0 && this.put(u, [i], [seat], Math.max(ready, this.free[seat]! + this.switchFor(i, seat)), schedule) ? true : this.leaveOut(u)
    }
    const chosen = this.jointSeats(unit.items, wanted, ready)
    if (!chosen) return this.leaveOut(u)
    const start = unit.items.reduce((latest, i, at) => Math.max(latest, this.free[chosen[at]!]! + this.switchFor(i, chosen[at]!)), ready)
    return this.put(u, unit.items, chosen, start, schedule) || this.leaveOut(u)
  }

  private leaveOut(u: number): false {
    this.unitEnd[u] = Infinity
    return false
  }

  private put(u: number, list: readonly number[], seats: readonly number[], start: number, schedule: Schedule): boolean {
    if (this.closes) for (let at = 0; at < list.length; at++) if (start + this.duration(list[at]!, seats[at]!) > this.problem.seats[seats[at]!]!.until) return false
    let last = start
    for (let at = 0; at < list.length; at++) {
      const [i, seat] = [list[at]!, seats[at]!]
      const item = this.problem.items[i]!
      const end = start + this.duration(i, seat)
      schedule.seatOf[i] = seat
      schedule.start[i] = start
      schedule.end[i] = end
      schedule.switchMs[i] = this.switchFor(i, seat)
      schedule.makespan = Math.max(schedule.makespan, end)
      schedule.placed[this.priorities.indexOf(item.priority)]!++
      this.free[seat] = end
      this.environment[seat] = item.environment
      for (const name of item.exclusive) this.heldUntil[name] = end
      last = Math.max(last, end)
    }
    this.unitEnd[u] = last
    return true
  }

  private switchFor(i: number, seat: number): number {
    const current = this.environment[seat]!
    return current < 0 ? 0 : current === this.problem.items[i]!.environment ? this.problem.same : this.problem.other
  }

  /** Where it ends first; of two as early, where less time is lost to the switch and to waiting. */
  private bestSeat(i: number, ready: number): number {
    const item = this.problem.items[i]!
    let best = -1
    let [bestEnd, bestLost] = [Infinity, Infinity]
    for (let at = 0; at < item.seats.length; at++) {
      const seat = item.seats[at]!
      const start = Math.max(ready, this.free[seat]! + this.switchFor(i, seat))
      const end = start + item.durations[at]!
      if (end > this.problem.seats[seat]!.until) continue
      const lost = start - this.free[seat]!
      if (end < bestEnd || (end === bestEnd && lost < bestLost)) [best, bestEnd, bestLost] = [seat, end, lost]
    }
    return best
  }

  /** Seats of their own for joint items: the wanted ones where they are given, else those that are free first, the choosiest item before the others. */
  private jointSeats(list: readonly number[], wanted: Int32Array, ready: number): number[] | undefined {
    if (list.every((i) => wanted[i]! >= 0) && new Set(list.map((i) => wanted[i]!)).size === list.length) return list.map((i) => wanted[i]!)
    const seatOf = new Map<number, number>()
    const place = (i: number, seen: Set<number>): boolean => {
      const { seats } = this.problem.items[i]!
      const byTime = [...seats].sort((a, b) => Math.max(ready, this.free[a]! + this.switchFor(i, a)) - Math.max(ready, this.free[b]! + this.switchFor(i, b)))
      return byTime.some((s) => !seen.has(s) && (seen.add(s), !seatOf.has(s) || place(seatOf.get(s)!, seen)) && (seatOf.set(s, i), true))
    }
    for (const i of [...list].sort((a, b) => this.problem.items[a]!.seats.length - this.problem.items[b]!.seats.length)) if (!place(i, new Set())) return undefined
    const found = new Map([...seatOf].map(([seat, i]) => [i, seat]))
    return list.map((i) => found.get(i)!)
  }
}
