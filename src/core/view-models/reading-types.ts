import type { AlignedRow, LineAnswer, LineRow, OutlineWindow } from '../execution'
import type { AttemptViewModel } from './run-types'

/** An attempt, the line of it that is shown first, and the lines around that. */
export type ReaderStart = {
  attempt: AttemptViewModel
  first: { path: string; answer: LineAnswer; around: OutlineWindow } | undefined
}
/** Lines that are read at once. */
export const LINES_PAGE = 200

/** A step of both attempts, side by side. */
export type BesideRow = Omit<AlignedRow, 'good' | 'now'> & { differs: boolean; then?: LineRow; now?: LineRow }
/** A window of two attempts, step beside step. */
export type BesideAnswer = {
  total: number
  differing: number
  from: number
  rows: BesideRow[]
  /** Path of the first line of now that is not as it was then. */
  first?: string
  /** Place among the rows of the line that was asked for, and paths of the lines of now around it. */
  index: number
  previous?: string
  next?: string
  /** The line of then that stands beside it. */
  other?: LineAnswer
}
