/** Screens that differ in the same way: the same parts became other ones, wherever they stand. */
import type { ScreenCheck } from './work'

/** Pixels by which sizes may differ: engines draw the same letters a little wider or narrower. */
const NEARLY = 2

/** Whether both differ, in parts of the same kinds and sizes, moved as far; or have both nothing to be
 * compared with. */
export function differAlike(a: ScreenCheck, b: ScreenCheck): boolean {
  if (a.name !== b.name || a.result !== b.result || a.result === 'same') return false
  const [ours, theirs] = [a.regions ?? [], b.regions ?? []]
  return (
    ours.length === theirs.length &&
    ours.every((region, i) => {
      const other = theirs[i]!
      const isNear = (x: number, y: number) => Math.abs(x - y) <= NEARLY
      return (
        region.kind === other.kind &&
        isNear(region.w, other.w) &&
        isNear(region.h, other.h) &&
        isNear(region.dx ?? 0, other.dx ?? 0) &&
        isNear(region.dy ?? 0, other.dy ?? 0)
      )
    })
  )
}
