import { BadInput, type Fault } from '../compute/fault'
import { occurrences, type OccurrencesInput } from './occurrences'

/** What is wrong with the times of something that recurs; nothing is computed but that. */
export function timesFaults(
  times: Omit<OccurrencesInput, 'from' | 'to' | 'rule'> & { rule?: string | null },
): readonly Fault[] {
  try {
    occurrences({
      ...times,
      rule: times.rule ?? null,
      from: '2000-01-01T00:00:00Z',
      to: '2000-01-01T00:00:00Z',
    })
    return []
  } catch (error) {
    if (error instanceof BadInput) return error.faults
    throw error
  }
}
