import type { Path } from '@/core/model'

/** One line of a tree over a file. `path` is its place in the file; `fixed` lines belong to another file and stay where they are. */
export type TreeRow = { id: string; path: Path; depth: number; holds?: string; title: string; fixed?: boolean; dim?: boolean }
export const idOf = (path: Path) => path.join('.')
