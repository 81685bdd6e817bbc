import { useMemo } from 'react'
import { align, differs, type AlignedRow, type OutlineLine } from '@/core/execution'
import type { AttemptViewModel } from '@/core/view-models'
import { useViewModel } from '../api'

export type Compared = {
  /** Of the attempt it is compared with; absent: there is none. */
  id: string | undefined
  title: string
  data: AttemptViewModel | undefined
  rows: AlignedRow[]
  /** The line of the other attempt that stands beside one of this. */
  lineOf(line: OutlineLine | undefined): OutlineLine | undefined
  /** The first line of this attempt that is not as it was then. */
  first: OutlineLine | undefined
}

/** What an attempt is compared with: the one that was chosen, the last good one, or where there is none the
 * newest other.
 * @param against id of the chosen one
 * @param isAsked somebody wants to compare; without it only the last good one is read */
export function useCompared(data: AttemptViewModel, against: string | null, isAsked: boolean): Compared {
  const id = against ?? data.lastGood?.attemptId ?? (isAsked ? data.others[0]?.attemptId : undefined)
  const read = useViewModel<AttemptViewModel>(`/api/attempts/${id ?? data.id}`, [], id ? undefined : data)
  const other = id === undefined ? undefined : read.data
  const rows = useMemo(() => (other ? align(other.lines, data.lines) : []), [other, data.lines])
  const beside = useMemo(() => {
    const lines = new Map<string, OutlineLine>()
    for (const { good, now } of rows)
      if (good !== undefined && now !== undefined) lines.set(data.lines[now]!.path, other!.lines[good]!)
    return lines
  }, [rows, data.lines, other])
  const first = rows.find((row) => row.now !== undefined && differs(row, other!.lines, data.lines))
  return {
    id,
    title: other ? `${other.runTitle}, build ${other.build}, ${other.environment.title}` : '',
    data: other,
    rows,
    lineOf: (line) => line && beside.get(line.path),
    first: first && data.lines[first.now!],
  }
}
