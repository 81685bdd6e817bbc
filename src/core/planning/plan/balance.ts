/** Assigns independent items (no order, no shared names, no joint work) to seats so that the makespan is
 * small. A seat does the items of one environment after the other, so its time is the sum of its items and
 * one switch for each environment but the first. */
import type { Budget } from '../../compute/budget'
import type { Random } from '../../execution/random'
import { durationOn, type Problem } from './problem'

/** Candidates to take items from the fullest seat: the emptiest seats, and some at random. */
const [EMPTIEST, AT_RANDOM] = [6, 4]
/** Swaps evaluated for a pair of seats at most; with many items a seat, a random sample of them is as good.
 */
const SWAPS_MOST = 1500

/** Moves and swaps between the seat that ends last and others, as long as it ends earlier by it (a hill
 * climb; kicked when it is stuck).
 * @param seatOf seat of each item, all placed; the beginning
 * @param goal no plan ends earlier: reached, the search is over
 * @returns seat of each item */
export function balance(
  problem: Problem,
  seatOf: Int32Array,
  goal: number,
  budget: Budget,
  random: Random,
): Int32Array {
  const loads = new Loads(problem, seatOf)
  let best = Int32Array.from(loads.seatOf)
  let bestEnd = loads.last()
  let stuck = 0
  while (bestEnd > goal && !budget.over) {
    const full = loads.fullest()
    const improved = loads.others(full, random).some((other) => loads.relieve(full, other, budget, random))
    if (loads.last() < bestEnd) {
      best = Int32Array.from(loads.seatOf)
      bestEnd = loads.last()
      stuck = 0
    } else if (!improved && ++stuck > 3) {
      loads.kick(random, budget)
      if (stuck > 40) {
        loads.reset(best)
        stuck = 4
      }
    }
  }
  return best
}

class Loads {
  seatOf: Int32Array
  private readonly itemsOn: number[][]
  private readonly work: Float64Array
  /** Number of items of each environment on a seat. */
  private readonly counts: Int32Array
  private readonly kinds: Int32Array

  constructor(
    private readonly problem: Problem,
    seatOf: Int32Array,
  ) {
    this.seatOf = new Int32Array(seatOf.length)
    this.itemsOn = problem.seats.map(() => [])
    this.work = new Float64Array(problem.seats.length)
    this.counts = new Int32Array(problem.seats.length * problem.environments)
    this.kinds = new Int32Array(problem.seats.length)
    this.reset(seatOf)
  }

  reset(seatOf: Int32Array): void {
    this.itemsOn.forEach((list) => (list.length = 0))
    this.work.fill(0)
    this.counts.fill(0)
    this.kinds.fill(0)
    this.seatOf = Int32Array.from(seatOf)
    seatOf.forEach((seat, i) => this.add(i, seat))
  }

  endOf(s: number): number {
    const n = this.itemsOn[s]!.length
    return this.end(s, this.work[s]!, n, this.kinds[s]!)
  }
  private end(s: number, work: number, n: number, kinds: number): number {
    return n === 0
      ? this.problem.now
      : this.problem.seats[s]!.from +
          work +
          (kinds - 1) * this.problem.other +
          (n - kinds) * this.problem.same
  }

  private duration = (i: number, s: number): number =>
    durationOn(this.problem.seats[s]!, this.problem.items[i]!.ms)

  fullest(): number {
    let full = 0
    for (let s = 1; s < this.work.length; s++) if (this.endOf(s) > this.endOf(full)) full = s
    return full
  }
  last = (): number => this.endOf(this.fullest())

  others(full: number, random: Random): number[] {
    const emptiest: { s: number; end: number }[] = []
    for (let s = 0; s < this.work.length; s++) {
      const end = this.endOf(s)
      if (s === full || (emptiest.length === EMPTIEST && end >= emptiest.at(-1)!.end)) continue
      const at = emptiest.findIndex((one) => one.end > end)
      emptiest.splice(at < 0 ? emptiest.length : at, 0, { s, end })
      emptiest.length = Math.min(emptiest.length, EMPTIEST)
    }
    const some = Array.from({ length: this.work.length > 1 ? AT_RANDOM : 0 }, () =>
      Math.floor(random() * this.work.length),
    ).filter((s) => s !== full)
    return [...emptiest.map(({ s }) => s), ...some]
  }

  /** The one move or swap that leaves the later of both seats earliest, if that is earlier than the first one
   * ends now. */
  relieve(from: number, to: number, budget: Budget, random: Random): boolean {
    const [there, here] = [this.itemsOn[to]!, this.itemsOn[from]!]
    let best = this.endOf(from) - 1e-9
    let move: [number, number] | undefined
    for (const i of here) {
      if (!this.problem.items[i]!.can[to]) continue
      const end = this.pairEnd(from, to, i, -1)
      if (end < best) [best, move] = [end, [i, -1]]
    }
    const pairs = here.length * there.length
    budget.spend((here.length + Math.min(pairs, SWAPS_MOST)) >> 2)
    const weigh = (i: number, j: number) => {
      if (!this.problem.items[i]!.can[to] || !this.problem.items[j]!.can[from]) return
      const end = this.pairEnd(from, to, i, j)
      if (end < best) [best, move] = [end, [i, j]]
    }
    if (pairs <= SWAPS_MOST) for (const i of here) for (const j of there) weigh(i, j)
    else
      for (let k = 0; k < SWAPS_MOST; k++)
        weigh(here[Math.floor(random() * here.length)]!, there[Math.floor(random() * there.length)]!)
    if (!move) return false
    this.exchange(from, to, ...move)
    return true
  }

  /** When the later of two seats would end if `i` went over and `j` (or nothing) came back. */
  private pairEnd(from: number, to: number, i: number, j: number): number {
    const { items, environments } = this.problem
    const [ei, ej] = [items[i]!.environment, j < 0 ? -1 : items[j]!.environment]
    let [workFrom, workTo] = [
      this.work[from]! - this.duration(i, from),
      this.work[to]! + this.duration(i, to),
    ]
    let [nFrom, nTo, kindsFrom, kindsTo] = [
      this.itemsOn[from]!.length - 1,
      this.itemsOn[to]!.length + 1,
      this.kinds[from]!,
      this.kinds[to]!,
    ]
    if (j >= 0) {
      workFrom += this.duration(j, from)
      workTo -= this.duration(j, to)
      nFrom++
      nTo--
    }
    if (ei !== ej) {
      if (this.counts[from * environments + ei] === 1) kindsFrom--
      if (this.counts[to * environments + ei] === 0) kindsTo++
      if (j >= 0) {
        if (this.counts[from * environments + ej] === 0) kindsFrom++
        if (this.counts[to * environments + ej] === 1) kindsTo--
      }
    }
    return Math.max(this.end(from, workFrom, nFrom, kindsFrom), this.end(to, workTo, nTo, kindsTo))
  }

  /** Perturbation: moves some items to random seats, to leave a local optimum. */
  kick(random: Random, budget: Budget): void {
    for (let k = 0; k < 3; k++) {
      const i = Math.floor(random() * this.problem.items.length)
      const { seats } = this.problem.items[i]!
      const to = seats[Math.floor(random() * seats.length)]!
      if (to !== this.seatOf[i]) this.exchange(this.seatOf[i]!, to, i, -1)
    }
    budget.spend(this.work.length)
  }

  private exchange(from: number, to: number, i: number, j: number): void {
    this.remove(i, from)
    this.add(i, to)
    if (j < 0) return
    this.remove(j, to)
    this.add(j, from)
  }
  private add(i: number, seat: number): void {
    const at = seat * this.problem.environments + this.problem.items[i]!.environment
    this.seatOf[i] = seat
    this.itemsOn[seat]!.push(i)
    this.work[seat]! += this.duration(i, seat)
    if (this.counts[at]!++ === 0) this.kinds[seat]!++
  }
  private remove(i: number, seat: number): void {
    const at = seat * this.problem.environments + this.problem.items[i]!.environment
    const list = this.itemsOn[seat]!
    list.splice(list.indexOf(i), 1)
    this.work[seat]! -= this.duration(i, seat)
    if (--this.counts[at]! === 0) this.kinds[seat]!--
  }
}
