import type { LineAnswer } from '@/core/execution'
import type { AttemptViewModel } from '@/core/view-models'
import { useViewModel } from '../api'
import { useBeside } from './useLog'

export type Compared = {
  /** Of the attempt it is compared with; absent: there is none. */
  id: string | undefined
  title: string
  data: AttemptViewModel | undefined
  /** The line of the other attempt that stands beside the selected one. */
  line: LineAnswer | undefined
  /** How many steps there are side by side, and how many of them differ. */
  total: number
  differing: number
  /** Path of the first line of this attempt that is not as it was then. */
  first: string | undefined
  /** Place of the selected line among those side by side. */
  place: { index: number; previous?: string; next?: string }
}

/** What an attempt is compared with: the one that was chosen, the last good one, or where there is none the
 * newest other.
 * @param against id of the chosen one
 * @param isAsked somebody wants to compare; without it only the last good one is read
 * @param path of the selected line */
export function useCompared(
  data: AttemptViewModel,
  against: string | null,
  isAsked: boolean,
  path: string | undefined,
): Compared {
  const id = against ?? data.lastGood?.attemptId ?? (isAsked ? data.others[0]?.attemptId : undefined)
  const read = useViewModel<AttemptViewModel>(`/api/attempts/${id ?? data.id}`, [], id ? undefined : data)
  const other = id === undefined ? undefined : read.data
  const { data: beside } = useBeside(data.id, id, path)
  return {
    id,
    title: other ? `${other.runTitle}, build ${other.build}, ${other.environment.title}` : '',
    data: other,
    line: id === undefined ? undefined : beside?.other,
    total: beside?.total ?? 0,
    differing: beside?.differing ?? 0,
    first: beside?.first,
    place: beside ?? { index: -1 },
  }
}
