/** How many seats planned starts want over time: all of them up to the p50 of each, falling to none at its
 * p90. */
import type { RotaEntry } from './fixes'

type Corners = { start: number; flat: number; end: number; count: number }

/** Seats one start is likely to hold at an instant: all until `flat`, then falling in a straight line to none
 * at `end`. */
function seatsAt({ start, flat, end, count }: Corners, t: number): number {
  if (t < start || t >= end) return 0
  return t <= flat ? count : (count * (end - t)) / (end - flat)
}

/** Corners of the curve of one pool, in the order of time; between them it is straight. `from` and `to`:
 * instants in ms. */
export function loadCurve(
  entries: readonly Pick<RotaEntry, 'at' | 'p50Ms' | 'p90Ms' | 'seats'>[],
  pool: string,
  from: number,
  to: number,
): [at: number, seats: number][] {
  const corners = entries.flatMap(({ at, p50Ms, p90Ms, seats }) => {
    const start = Date.parse(at)
    const count = seats[pool] ?? 0
    return count === 0 || start + p90Ms <= from || start >= to
      ? []
      : [{ start, flat: start + Math.min(p50Ms, p90Ms), end: start + p90Ms, count }]
  })
  const moments = new Set([from, to])
  for (const { start, flat, end } of corners)
    for (const moment of [start - 1, start, flat, end]) if (moment > from && moment < to) moments.add(moment)
  const loadAt = (t: number) => corners.reduce((sum, one) => sum + seatsAt(one, t), 0)
  return [...moments].sort((a, b) => a - b).map((t) => [t, loadAt(t)])
}
