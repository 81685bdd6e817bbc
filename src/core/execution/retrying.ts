/** Whether a case run is tried once more: the one rule for dispatch, for `recover` and for the forecast. */
import type { FailureKind } from '../model'

/** How often a failed or errored case run may be tried again, and on which kinds; absent: all. */
export type Retries = { case: number; on?: readonly FailureKind[] }

/** @param tries how often it was tried again so far; attempts that an agent lost are not counted
 * @param kind of the failure; absent: not known, and then any kind will do
 * @returns what is in the way, or `undefined` when it is tried again */
export function retryBarredBy(
  tries: number,
  kind: FailureKind | undefined,
  { case: most, on }: Retries,
): 'kind' | 'number' | undefined {
  if (on && kind !== undefined && !on.includes(kind)) return 'kind'
  return tries < most ? undefined : 'number'
}
