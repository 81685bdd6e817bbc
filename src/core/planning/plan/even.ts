/** Evens out what list scheduling left uneven: it gives items that others wait for to whichever seat is free,
 * so some seats end late. Items that nothing waits for change places between the seats that end last and the
 * others. */
import { durationOn, type Problem } from './problem'
import type { Budget } from '../../compute/budget'
import type { Schedule } from './schedule'

/** So many exchanges are weighed in the time of a step, as a power of two. */
const LOOKS_A_STEP = 4

/** @param schedule with all items placed
 * @param goal no plan ends earlier
 * @returns units in the order of their start, and the seat of each item; how it ends is to be decoded, as
 * what others wait for moves with it */
export function evened(
  problem: Problem,
  schedule: Schedule,
  goal: number,
  budget: Budget,
): { order: Int32Array; seatOf: Int32Array } {
  const change = new Evening(problem, schedule)
  while (change.lastEnd() > goal && change.relieveLast() && budget.spend(change.looked >> LOOKS_A_STEP)) {
    // each exchange makes the last seat end earlier
  }
  return change.result()
}

class Evening {
  private readonly ends: Float64Array
  private readonly seatOf: Int32Array
  /** By what the order is sorted: when each item starts, until it changes its place. */
  private readonly places: Float64Array
  /** Items that nothing waits for and that wait for nothing, by seat and environment. */
  private readonly loose: number[][]

  constructor(
    private readonly problem: Problem,
    { seatOf, start, end }: Schedule,
  ) {
    const { items, units, seats, environments } = problem
    this.seatOf = seatOf.slice()
    this.places = start.slice()
    this.ends = new Float64Array(seats.length)
    this.loose = Array.from({ length: seats.length * environments }, () => [])
    items.forEach((item, i) => {
      const seat = seatOf[i]!
      this.ends[seat] = Math.max(this.ends[seat]!, end[i]!)
      const { before, behind, items: joint } = units[item.unit]!
      if (before.length + behind.length + item.exclusive.length === 0 && joint.length === 1)
        this.loose[seat * environments + item.environment]!.push(i)
    })
  }

  lastEnd = (): number => this.ends[this.last()]!

  private last(): number {
    let last = 0
    for (let s = 1; s < this.ends.length; s++) if (this.ends[s]! > this.ends[last]!) last = s
    return last
  }

  /** Exchanges that were weighed for the last one. */
  looked = 0

  /** Of all items of the last seat that may go elsewhere, alone or for a shorter one of the same environment:
   * the exchange after which the later of both seats ends earliest.
   * @returns false when none helps */
  relieveLast(): boolean {
    const { items, seats, environments } = this.problem
    const from = this.last()
    let best = this.ends[from]! - 1
    this.looked = 0
    let chosen: { i: number; to: number; j: number } | undefined
    for (let e = 0; e < environments; e++)
      for (const i of this.loose[from * environments + e]!)
        for (let to = 0; to < seats.length; to++) {
          if (to === from || !items[i]!.can[to] || this.ends[to]! >= best) continue
          const there = this.loose[to * environments + e]!
          this.looked += there.length
          for (let at = -1; at < there.length; at++) {
            const j = there[at] ?? -1
            // alone it goes only where its environment is: there it costs no switch
            if (j < 0 ? there.length === 0 : !items[j]!.can[from]) continue
            const end = Math.max(
              this.ends[from]! - this.ms(i, from) + (j < 0 ? -this.problem.same : this.ms(j, from)),
              this.ends[to]! + this.ms(i, to) - (j < 0 ? -this.problem.same : this.ms(j, to)),
            )
            if (end < best) [best, chosen] = [end, { i, to, j }]
          }
        }
    if (!chosen) return false
    this.exchange(from, chosen)
    return true
  }

  private ms = (i: number, s: number): number => durationOn(this.problem.seats[s]!, this.problem.items[i]!.ms)

  private exchange(from: number, { i, to, j }: { i: number; to: number; j: number }): void {
    const { environments, items, same } = this.problem
    const e = items[i]!.environment
    const [here, there] = [this.loose[from * environments + e]!, this.loose[to * environments + e]!]
    this.ends[from]! += (j < 0 ? -same : this.ms(j, from)) - this.ms(i, from)
    this.ends[to]! += this.ms(i, to) - (j < 0 ? -same : this.ms(j, to))
    if (j < 0) this.places[i] = this.places[this.nearest(there, this.places[i]!)]!
    else [this.places[i], this.places[j]] = [this.places[j]!, this.places[i]!]
    here.splice(here.indexOf(i), 1, ...(j < 0 ? [] : [j]))
    if (j >= 0) there.splice(there.indexOf(j), 1)
    there.push(i)
    this.seatOf[i] = to
    if (j >= 0) this.seatOf[j] = from
  }

  private nearest = (list: readonly number[], place: number): number =>
    list.reduce((best, i) =>
      Math.abs(this.places[i]! - place) < Math.abs(this.places[best]! - place) ? i : best,
    )

  result(): { order: Int32Array; seatOf: Int32Array } {
    const { units } = this.problem
    const placeOf = Float64Array.from(units, ({ items }) => Math.min(...items.map((i) => this.places[i]!)))
    const order = Array.from(units, (_, u) => u).sort((a, b) => placeOf[a]! - placeOf[b]! || a - b)
    return { order: Int32Array.from(order), seatOf: this.seatOf }
  }
}
