/** Where bars of the day strip stand, and which of their names have room: none lies on another, on a bar or
 * on the line of the present. */

/** Places and widths in percent of the strip. */
export type Bar = { left: number; width: number; title: string }
/** `labelPx`: room for its name; absent: there is none. */
export type Laid<T> = T & Bar & { row: 0 | 1; labelPx?: number }

const LEAST_WIDTH = 0.7
const GAP = 0.15
/** In percent: what is nearer stands in the same pixel. */
const SAME_PLACE = 0.01
/** Pixels of a character of the names, about. */
const CHARACTER_PX = 5.8
const [NAME_MOST_PX, NAME_LEAST_PX, NAME_GAP_PX] = [150, 44, 6]

/** Bars that would lie on each other take the second row; names stand below those of the first.
 * @param now of the line of the present, in percent
 * @param stripPx width of the strip */
export function layStrip<T>(bars: readonly (T & Bar)[], now: number, stripPx: number): Laid<T>[] {
  const ends = [-Infinity, -Infinity]
  const laid = bars
    .map((bar) => ({ ...bar, width: Math.max(bar.width, LEAST_WIDTH) }))
    .sort((a, b) => a.left - b.left)
    .map((bar) => {
      const row = bar.left >= ends[0]! || ends[0]! <= ends[1]! ? (0 as const) : (1 as const)
      ends[row] = bar.left + bar.width + GAP
      return { ...bar, row }
    })
  return laid.map((bar) => {
    const labelPx = bar.row === 0 ? roomFor(bar, laid, now, stripPx) : undefined
    return { ...bar, ...(labelPx !== undefined && { labelPx }) }
  })
}

function roomFor(
  bar: Bar,
  bars: readonly (Bar & { row: 0 | 1 })[],
  now: number,
  stripPx: number,
): number | undefined {
  if (bar.left < 0) return undefined
  const ends = bars.flatMap((other) => {
    if (other === bar) return []
    const isBelow = other.row === 1 && other.left + other.width > bar.left
    return isBelow || (other.row === 0 && other.left >= bar.left) ? [Math.max(bar.left, other.left)] : []
  })
  if (now >= bar.left - SAME_PLACE) ends.push(Math.max(now, bar.left))
  const room = ((Math.min(100, ...ends) - bar.left) / 100) * stripPx - NAME_GAP_PX
  const wanted = Math.min(NAME_MOST_PX, bar.title.length * CHARACTER_PX)
  return room >= Math.min(wanted, NAME_LEAST_PX) ? Math.min(room, NAME_MOST_PX) : undefined
}
