/** Where something goes when it is moved in a tree: paths into the file, as the editing of texts takes
 * them. */
import type { Path } from './edit'

export type Place = { list: Path; at: number }
/** A line of a tree as it is drawn. `holds`: the field its children stand in, when it may have any. */
export type TreeLine = { path: Path; holds?: string }

const parts = (path: Path): { list: Path; at: number } => ({
  list: path.slice(0, -1),
  at: path.at(-1) as number,
})
const same = (a: Path, b: Path) => a.length === b.length && a.every((part, i) => part === b[i])
/** The element that holds a list: `steps.2` for `steps.2.steps`; none for the outermost list. */
const holderOf = (list: Path): Path | undefined => (list.length > 1 ? list.slice(0, -1) : undefined)

export const before = (path: Path): Place => parts(path)
export const after = (path: Path): Place => ({ list: parts(path).list, at: parts(path).at + 1 })
export const firstIn = ({ path, holds }: Required<TreeLine>): Place => ({ list: [...path, holds], at: 0 })

/** One step up or down, in or out; `undefined` where there is no way. Up and down leave a list at its ends,
 * and never enter another one. */
export function stepPlace(
  way: 'up' | 'down' | 'in' | 'out',
  path: Path,
  lines: readonly TreeLine[],
): Place | undefined {
  const { list, at } = parts(path)
  const holder = holderOf(list)
  const siblings = lines.filter((line) => same(line.path.slice(0, -1), list))
  switch (way) {
    case 'up':
      return at > 0 ? { list, at: at - 1 } : holder && before(holder)
    case 'down':
      return at < siblings.length - 1 ? { list, at: at + 2 } : holder && after(holder)
    case 'out':
      return holder && after(holder)
    case 'in': {
      const above = siblings.find((line) => line.path.at(-1) === at - 1)
      if (!above?.holds) return undefined
      const inner = [...above.path, above.holds]
      return { list: inner, at: lines.filter((line) => same(line.path.slice(0, -1), inner)).length }
    }
  }
}

/** Does one path lead into the other, or is it the same? */
export const isWithin = (path: Path, above: Path): boolean =>
  path.length >= above.length && above.every((part, i) => path[i] === part)

/** Paths without those that go along because what holds them goes; in the order of the file. */
export function outermost(paths: readonly Path[]): Path[] {
  return paths
    .filter((path) => !paths.some((other) => other !== path && !same(other, path) && isWithin(path, other)))
    .sort(comparePaths)
}

export function comparePaths(a: Path, b: Path): number {
  for (let i = 0; i < Math.min(a.length, b.length); i++) {
    if (a[i] === b[i]) continue
    if (typeof a[i] === 'number' && typeof b[i] === 'number') return (a[i] as number) - (b[i] as number)
    return String(a[i]) < String(b[i]) ? -1 : 1
  }
  return a.length - b.length
}

/** Paths of the moved elements once they stand in their place: taking them out shifts what stood behind
 * them. */
export function pathsAfterMove(moved: readonly Path[], { list, at }: Place): Path[] {
  const gone = outermost(moved)
  /** How many of the moved stood before index `i` of a list. */
  const goneBefore = (holder: Path, i: number) =>
    gone.filter((path) => same(path.slice(0, -1), holder) && (path.at(-1) as number) < i).length
  const target = list.map((part, i) =>
    typeof part === 'number' ? part - goneBefore(list.slice(0, i), part) : part,
  )
  const first = at - goneBefore(list, at)
  return gone.map((_, i) => [...target, first + i])
}
