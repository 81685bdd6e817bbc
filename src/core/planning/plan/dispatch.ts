/** List scheduling of an assignment: a seat that becomes free takes the first of its own items that can start
 * now, and never waits for one while another could start. When none of its own can, it takes one from the
 * seats with the most work left. */
import { durationOn, switchMs, type Problem } from './problem'

/** Towards the end many seats have nothing left of their own, and few of them can be of use: not all of them
 * look for work at each moment. */
const IDLE_LOOKED_AT = 12

/** @param division seat of each item; no joint work among them
 * @param urgency of a unit: what still has to come once it starts
 * @param end absolute, when all should be over: what has to start now to end by then goes before its
 * environment's turn
 * @returns units in the order of their start, and who did what in the end */
export function dispatched(
  problem: Problem,
  division: Int32Array,
  urgency: Float64Array,
  end: number,
): { order: Int32Array; seatOf: Int32Array } {
  const { items, units, seats, other, now } = problem
  const seatOf = division.slice()
  const queues = queuesOf(problem, seatOf, urgency)
  const left = Float64Array.from(queues, (queue, s) =>
    queue.reduce((sum, i) => sum + durationOn(seats[s]!, items[i]!.ms), 0),
  )
  const busyUntil = Float64Array.from(seats, ({ from }) => Math.max(now, from))
  const waiting = Int32Array.from(units, ({ before }) => before.length)
  const held = new Uint8Array(problem.names)
  const environment = new Int32Array(seats.length).fill(-1)
  const events = new Heap()
  seats.forEach((_, s) => events.push(busyUntil[s]!, s, -1))
  const idle = new Set<number>()
  const order: number[] = []

  const ready = (i: number) =>
    waiting[items[i]!.unit] === 0 && items[i]!.exclusive.every((name) => !held[name])
  const switchFor = (i: number, s: number) => switchMs(problem, environment[s]!, items[i]!.environment)
  /** Other items wait for these, so the first free seat takes an urgent one, whichever seat it is assigned
   * to. */
  const tied = new Set(
    items.flatMap((item, i) => (item.exclusive.length > 0 || units[item.unit]!.behind.length > 0 ? [i] : [])),
  )
  const choose = (s: number, at: number): number => {
    let [best, bestScore] = [-1, -Infinity]
    for (const i of tied) {
      const rest = urgency[items[i]!.unit]!
      if (at + other + rest < end || !items[i]!.can[s] || !ready(i) || at + switchFor(i, s) + rest < end)
        continue
      if (rest > bestScore) [best, bestScore] = [i, rest]
    }
    if (best >= 0) return best
    for (const i of queues[s]!) {
      if (!ready(i)) continue
      const score = (environment[s] === items[i]!.environment ? 1e15 : 0) + urgency[items[i]!.unit]!
      if (score > bestScore) [best, bestScore] = [i, score]
    }
    return best
  }
  /** Takes an item from the seat that would end last, if that seat ends earlier by it. */
  const takeOver = (s: number, at: number): number => {
    let from = -1
    for (let v = 0; v < seats.length; v++)
      if (
        v !== s &&
        queues[v]!.length > 0 &&
        (from < 0 || busyUntil[v]! + left[v]! > busyUntil[from]! + left[from]!)
      )
        from = v
    if (from < 0) return -1
    let [best, bestScore] = [-1, -Infinity]
    for (const i of queues[from]!) {
      if (
        !items[i]!.can[s] ||
        !ready(i) ||
        at + switchFor(i, s) + durationOn(seats[s]!, items[i]!.ms) + left[s]! >=
          busyUntil[from]! + left[from]!
      )
        continue
      const score = (environment[s] === items[i]!.environment ? 1e15 : 0) + urgency[items[i]!.unit]!
      if (score > bestScore) [best, bestScore] = [i, score]
    }
    return best
  }
  const tryStart = (s: number, at: number): boolean => {
    let i = choose(s, at)
    if (i < 0) i = takeOver(s, at)
    if (i < 0) return false
    const owner = seatOf[i]!
    tied.delete(i)
    queues[owner]!.splice(queues[owner]!.indexOf(i), 1)
    left[owner]! -= durationOn(seats[owner]!, items[i]!.ms)
    seatOf[i] = s
    busyUntil[s] = at + switchFor(i, s) + durationOn(seats[s]!, items[i]!.ms)
    order.push(items[i]!.unit)
    for (const name of items[i]!.exclusive) held[name] = 1
    events.push(busyUntil[s]!, s, i)
    environment[s] = items[i]!.environment
    return true
  }
  for (let event = events.pop(); event; event = events.pop()) {
    const at = event.at
    const free: number[] = []
    for (;;) {
      if (event.item >= 0) {
        for (const name of items[event.item]!.exclusive) held[name] = 0
        for (const next of units[items[event.item]!.unit]!.behind) waiting[next]!--
      }
      free.push(event.seat)
      if (events.first() !== at) break
      event = events.pop()!
    }
    for (const s of free) if (!tryStart(s, at)) idle.add(s)
    let looked = 0
    for (const s of idle)
      if ((queues[s]!.length > 0 || looked++ < IDLE_LOOKED_AT) && tryStart(s, at)) idle.delete(s)
  }
  return { order: Int32Array.from(order), seatOf }
}

function queuesOf({ seats, items }: Problem, seatOf: Int32Array, urgency: Float64Array): number[][] {
  const queues = seats.map(() => [] as number[])
  items.forEach((_, i) => queues[seatOf[i]!]!.push(i))
  for (const queue of queues)
    queue.sort((a, b) => urgency[items[b]!.unit]! - urgency[items[a]!.unit]! || a - b)
  return queues
}

/** Events by their time: a binary heap. */
class Heap {
  private readonly list: { at: number; seat: number; item: number }[] = []

  first = (): number | undefined => this.list[0]?.at

  push(at: number, seat: number, item: number): void {
    const { list } = this
    let place = list.push({ at, seat, item }) - 1
    while (place > 0) {
      const above = (place - 1) >> 1
      if (list[above]!.at <= list[place]!.at) break
      ;[list[above], list[place]] = [list[place]!, list[above]!]
      place = above
    }
  }

  pop(): { at: number; seat: number; item: number } | undefined {
    const { list } = this
    const top = list[0]
    const last = list.pop()
    if (!top || !last || list.length === 0) return top
    list[0] = last
    for (let place = 0; ;) {
      const [left, right] = [2 * place + 1, 2 * place + 2]
      let least = place
      if (left < list.length && list[left]!.at < list[least]!.at) least = left
      if (right < list.length && list[right]!.at < list[least]!.at) least = right
      if (least === place) return top
      ;[list[least], list[place]] = [list[place]!, list[least]!]
      place = least
    }
  }
}
