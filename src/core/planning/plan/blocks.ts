/** Constructs an assignment with few switches of environment: the items of one environment after the other
 * are put on seats up to a given level, on the seats that had the environment last first. */
import { durationOn, switchMs, type Problem } from './problem'

/** @param level when seats should end, absolute
 * @returns a seat for each item, whatever the level: what does not fit goes where it ends first */
export function inEnvironmentBlocks(problem: Problem, level: number): Int32Array {
  const { seats, items } = problem
  const seatOf = new Int32Array(items.length).fill(-1)
  const end = Float64Array.from(seats, ({ from }) => from)
  const last = new Int32Array(seats.length).fill(-1)
  const groups = new Map<string, number[]>()
  items.forEach((item, i) => {
    const key = `${item.environment} ${item.seats[0]} ${item.seats.length}`
    groups.set(key, [...(groups.get(key) ?? []), i])
  })
  const work = (list: readonly number[]) => list.reduce((sum, i) => sum + items[i]!.ms, 0)
  const put = (i: number, s: number): void => {
    seatOf[i] = s
    end[s] =
      end[s]! + switchMs(problem, last[s]!, items[i]!.environment) + durationOn(seats[s]!, items[i]!.ms)
    last[s] = items[i]!.environment
  }
  // Environments with the fewest seats first, then those with the most work: otherwise their seats are full.
  const order = [...groups.values()].sort(
    (a, b) => items[a[0]!]!.seats.length - items[b[0]!]!.seats.length || work(b) - work(a),
  )
  for (const group of order) {
    let left = group.sort((a, b) => items[b]!.ms - items[a]!.ms)
    const { seats: able, environment } = items[left[0]!]!
    const cost = (s: number) => switchMs(problem, last[s]!, environment)
    const tried = new Set<number>()
    while (left.length > 0) {
      // The seat with the most room: empty seats take most of the work, and the rest fills a half-full one.
      const next = able.reduce(
        (best, s) => (!tried.has(s) && (best < 0 || end[s]! + cost(s) < end[best]! + cost(best)) ? s : best),
        -1,
      )
      if (next < 0) break
      tried.add(next)
      const rest: number[] = []
      for (const i of left) {
        if (end[next]! + cost(next) + durationOn(seats[next]!, items[i]!.ms) <= level) put(i, next)
        else rest.push(i)
      }
      left = rest
    }
    for (const i of left)
      put(
        i,
        able.reduce((best, s) => (end[s]! + cost(s) < end[best]! + cost(best) ? s : best), able[0]!),
      )
  }
  return seatOf
}
