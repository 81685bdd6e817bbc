/** Schedule generation: from an order of the items and a seat for each to their times. Each starts as early
 * as its seat, its predecessors and its exclusive names allow. */
import { durationOn, switchMs, type Problem } from './problem'

/** How good a schedule is. `placed`: items placed, by priority, the highest first. `unevenness`: of the
 * seats, the sum of the squares of when each is free. */
export type Cost = { makespan: number; placed: number[]; unevenness: number }
/** For each item its seat and times; seat -1: it is not placed. `blockedBy`: the item whose end it had to
 * wait for, on its seat or by what ties them; -1: none. */
export type Schedule = Cost & {
  seatOf: Int32Array
  start: Float64Array
  end: Float64Array
  switchMs: Float64Array
  blockedBy: Int32Array
  /** The item that ends last. */ last: number
}

/** Which schedule is better: more of the highest priority placed, then more of the next, then the earlier
 * end, then the more even one. Below 0: `a` is. */
export function compare(a: Cost, b: Cost): number {
  for (let i = 0; i < a.placed.length; i++)
    if (a.placed[i] !== b.placed[i]) return b.placed[i]! - a.placed[i]!
  return a.makespan - b.makespan || a.unevenness - b.unevenness
}

export const copyOf = (schedule: Schedule): Schedule => ({
  ...schedule,
  placed: [...schedule.placed],
  seatOf: schedule.seatOf.slice(),
  start: schedule.start.slice(),
  end: schedule.end.slice(),
  switchMs: schedule.switchMs.slice(),
  blockedBy: schedule.blockedBy.slice(),
})

/** Turns orders into schedules. One decoder serves many calls: its tables are allocated once. */
export class Decoder {
  private readonly free: Float64Array
  private readonly environment: Int32Array
  private readonly heldUntil: Float64Array
  private readonly lastOn: Int32Array
  private readonly lastHolder: Int32Array
  private readonly unitLast: Int32Array
  private readonly unitEnd: Float64Array
  private readonly priorities: number[]
  /** Whether some seat closes at some time: then not everything may fit. */
  private readonly closes: boolean

  constructor(private readonly problem: Problem) {
    const { seats, names, units, items } = problem
    this.free = new Float64Array(seats.length)
    this.environment = new Int32Array(seats.length)
    this.heldUntil = new Float64Array(names)
    this.lastOn = new Int32Array(seats.length)
    this.lastHolder = new Int32Array(names)
    this.unitLast = new Int32Array(units.length)
    this.unitEnd = new Float64Array(units.length)
    this.priorities = [...new Set(items.map(({ priority }) => priority))].sort((a, b) => b - a)
    this.closes = seats.some(({ until }) => until < Infinity)
  }

  private duration = (item: number, seat: number): number =>
    durationOn(this.problem.seats[seat]!, this.problem.items[item]!.ms)

  /** @param order units, each once; one that stands before what it follows is placed after it all the same
   * @param seatOf seat of each item; -1: the one on which it ends first
   * @param into a schedule that nobody needs any more, to be written over */
  decode(order: ArrayLike<number>, seatOf: Int32Array, into?: Schedule): Schedule {
    const { seats, items, now } = this.problem
    for (let s = 0; s < seats.length; s++) this.free[s] = seats[s]!.from
    this.environment.fill(-1)
    this.lastOn.fill(-1)
    this.heldUntil.fill(-Infinity)
    this.unitEnd.fill(-1)
    const schedule: Schedule = into ?? {
      seatOf: new Int32Array(items.length),
      start: new Float64Array(items.length),
      end: new Float64Array(items.length),
      switchMs: new Float64Array(items.length),
      blockedBy: new Int32Array(items.length),
      last: -1,
      makespan: 0,
      placed: [],
      unevenness: 0,
    }
    schedule.seatOf.fill(-1)
    Object.assign(schedule, {
      last: -1,
      makespan: now,
      unevenness: 0,
      placed: new Array<number>(this.priorities.length).fill(0),
    })
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
    let by = -1
    for (const before of unit.before) {
      if (!this.place(before, wanted, schedule)) return this.leaveOut(u)
      if (this.unitEnd[before]! > ready) [ready, by] = [this.unitEnd[before]!, this.unitLast[before]!]
    }
    for (const i of unit.items)
      for (const name of items[i]!.exclusive)
        if (this.heldUntil[name]! > ready) [ready, by] = [this.heldUntil[name]!, this.lastHolder[name]!]
    if (unit.items.length === 1) {
      const i = unit.items[0]!
      const seat = wanted[i]! >= 0 ? wanted[i]! : this.bestSeat(i, ready)
      return seat >= 0 &&
        this.put(
          u,
          [i],
          [seat],
          Math.max(ready, this.free[seat]! + this.switchFor(i, seat)),
          ready,
          by,
          schedule,
        )
        ? true
        : this.leaveOut(u)
    }
    const chosen = this.jointSeats(unit.items, wanted, ready)
    if (!chosen) return this.leaveOut(u)
    const start = unit.items.reduce(
      (latest, i, at) => Math.max(latest, this.free[chosen[at]!]! + this.switchFor(i, chosen[at]!)),
      ready,
    )
    return this.put(u, unit.items, chosen, start, ready, by, schedule) || this.leaveOut(u)
  }

  private leaveOut(u: number): false {
    this.unitEnd[u] = Infinity
    return false
  }

  /** @param ready when what it follows and holds allows it; `by`: the item that decides that */
  private put(
    u: number,
    list: readonly number[],
    seats: readonly number[],
    start: number,
    ready: number,
    by: number,
    schedule: Schedule,
  ): boolean {
    if (this.closes)
      for (let at = 0; at < list.length; at++)
        if (start + this.duration(list[at]!, seats[at]!) > this.problem.seats[seats[at]!]!.until) return false
    let last = start
    for (let at = 0; at < list.length; at++) {
      const [i, seat] = [list[at]!, seats[at]!]
      const item = this.problem.items[i]!
      const end = start + this.duration(i, seat)
      schedule.seatOf[i] = seat
      schedule.start[i] = start
      schedule.end[i] = end
      schedule.switchMs[i] = this.switchFor(i, seat)
      schedule.blockedBy[i] = start > ready ? this.lastOn[seat]! : by
      if (end > schedule.makespan || schedule.last < 0)
        [schedule.makespan, schedule.last] = [Math.max(end, schedule.makespan), i]
      schedule.placed[this.priorities.indexOf(item.priority)]!++
      this.free[seat] = end
      this.environment[seat] = item.environment
      this.lastOn[seat] = i
      for (const name of item.exclusive)
        if (end >= this.heldUntil[name]!) [this.heldUntil[name], this.lastHolder[name]] = [end, i]
      if (end >= last) [last, this.unitLast[u]] = [end, i]
    }
    this.unitEnd[u] = last
    return true
  }

  private switchFor(i: number, seat: number): number {
    return switchMs(this.problem, this.environment[seat]!, this.problem.items[i]!.environment)
  }

  /** Where it ends first; of two as early, where less time is lost to the switch and to waiting. */
  private bestSeat(i: number, ready: number): number {
    const item = this.problem.items[i]!
    let best = -1
    let [bestEnd, bestLost] = [Infinity, Infinity]
    for (let at = 0; at < item.seats.length; at++) {
      const seat = item.seats[at]!
      const start = Math.max(ready, this.free[seat]! + this.switchFor(i, seat))
      const end = start + durationOn(this.problem.seats[seat]!, item.ms)
      if (end > this.problem.seats[seat]!.until) continue
      const lost = start - this.free[seat]!
      if (end < bestEnd || (end === bestEnd && lost < bestLost)) [best, bestEnd, bestLost] = [seat, end, lost]
    }
    return best
  }

  /** Seats of their own for joint items: the wanted ones where they are given, else those that are free
   * first, the choosiest item before the others. */
  private jointSeats(list: readonly number[], wanted: Int32Array, ready: number): number[] | undefined {
    if (list.every((i) => wanted[i]! >= 0) && new Set(list.map((i) => wanted[i]!)).size === list.length)
      return list.map((i) => wanted[i]!)
    const seatOf = new Map<number, number>()
    const place = (i: number, seen: Set<number>): boolean => {
      const { seats } = this.problem.items[i]!
      const byTime = [...seats].sort(
        (a, b) =>
          Math.max(ready, this.free[a]! + this.switchFor(i, a)) -
          Math.max(ready, this.free[b]! + this.switchFor(i, b)),
      )
      return byTime.some(
        (s) =>
          !seen.has(s) &&
          (seen.add(s), !seatOf.has(s) || place(seatOf.get(s)!, seen)) &&
          (seatOf.set(s, i), true),
      )
    }
    for (const i of [...list].sort(
      (a, b) => this.problem.items[a]!.seats.length - this.problem.items[b]!.seats.length,
    ))
      if (!place(i, new Set())) return undefined
    const found = new Map([...seatOf].map(([seat, i]) => [i, seat]))
    return list.map((i) => found.get(i)!)
  }
}
