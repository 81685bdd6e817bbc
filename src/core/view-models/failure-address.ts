/** Where a failure of a run is read, and drafted into a defect. */
import type { RunCauseViewModel } from './triage-types'

type Failure = Pick<RunCauseViewModel['members'][number], 'id' | 'attemptId'>

/** Of an attempt its log; of a result that was taken in what its file says, beside the grid of the run. */
export const addressOfFailure = ({ id, attemptId }: Failure, runId: number): string =>
  attemptId === null ? `/runs/${runId}?cell=${id}` : `/attempts/${attemptId}`

export const addressOfDraft = (failure: Failure, runId: number): string =>
  `${addressOfFailure(failure, runId)}${failure.attemptId === null ? '&' : '?'}draft=1`
