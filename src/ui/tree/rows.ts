import type { Path } from '@/core/model'

/** One line of a tree over a file. `path` is its place in the file; `fixed` lines belong to another file and
 * stay where they are.
 * `group`: it is there to hold others, so what is dropped on it goes into it; into another line that can hold
 * some, a drop goes when it is moved to the right. */
export type TreeRow = {
  id: string
  path: Path
  depth: number
  holds?: string
  group?: boolean
  title: string
  fixed?: boolean
  dim?: boolean
}
export const idOf = (path: Path) => path.join('.')
