import { CalculationFault, UnknownReference, type Resume } from '@/core/model'
import type { Failure } from '@/core/execution'
import { DriverFault } from '../driver/port'

/** A step did not go as it should. */
export class StepFault extends Error {
  /** Recovery rules were asked about it, where it happened. */
  attended = false
  constructor(readonly failure: Failure) {
    super(failure.message)
  }
}

/** A recovery rule says where the case goes on, and it is not here. `failure` stands when there is no such
 * place. */
export class GoOn extends Error {
  constructor(
    readonly resume: Exclude<Resume, 'step'>,
    readonly failure: Failure,
    readonly because: string,
  ) {
    super(failure.message)
  }
}

/** The attempt is to stop: cancelled by the server, not ours any more, or another role did not pass. */
export class Stopped extends Error {
  constructor(readonly because?: string) {
    super(because)
  }
}

/** Anything thrown while a step ran, as a failure. What we did not foresee is the fault of a script, ours or
 * the page's. */
export function failureOf(error: unknown): Failure {
  if (error instanceof StepFault || error instanceof GoOn) return error.failure
  if (error instanceof DriverFault) return { kind: error.kind, message: error.message }
  if (error instanceof UnknownReference) return { kind: 'data', message: error.message }
  if (error instanceof CalculationFault)
    return { kind: 'data', message: `A value cannot be calculated: ${error.message}` }
  return { kind: 'script', message: ((error as Error).message ?? String(error)).split('\n')[0]! }
}
