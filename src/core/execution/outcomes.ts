/** How things end, and what may follow what. */
import type { FailureKind } from '../model'
import { retryBarredBy, type Retries } from './retrying'
import type { OpenState } from './states'

export { FAILURE_KINDS, type FailureKind } from '../model'
export type { Retries } from './retrying'

export const OUTCOMES = ['passed', 'recovered', 'failed', 'errored', 'skipped', 'cancelled'] as const
export type Outcome = (typeof OUTCOMES)[number]

/** What a mark shows: an outcome, or the state of what has none yet. */
export type Mark = Outcome | OpenState

/** What ended an attempt. `path` is the step's path in the outline. */
export type Failure = {
  kind: FailureKind
  message: string
  path?: string
  expected?: string
  actual?: string
  /** Tag of the step, or of what it stands in; the application that was open. Recovery rules go by them. */
  tag?: string
  application?: string
}

/** What an attempt itself can end with; `recovered` is judged over all attempts of a case run. `skipped`: a
 * recovery rule says so. */
export type AttemptOutcome = 'passed' | 'failed' | 'errored' | 'cancelled' | 'skipped'

/** A check that did not hold is `failed`; whatever kept the case from being carried out is `errored`. */
export const outcomeOfFailure = (kind: FailureKind): 'failed' | 'errored' =>
  kind === 'check' ? 'failed' : 'errored'

/** A case run that took its agent down this often is not given out again: the next agent would go the same
 * way. */
export const AGENT_LOSSES_MOST = 2

/** `recovered`: a recovery rule was used in it. */
export type Ended = { outcome: AttemptOutcome; kind?: FailureKind; recovered?: boolean }
export type Decision =
  | { next: 'again'; usesRetry: boolean }
  | {
      next: 'ended'
      outcome: Outcome
      /** Why it ends now, where that is not seen from its failure. */ because?: string
    }

/** What follows the end of an attempt.
 * A lost agent is nobody's retry: the case run waits again until `AGENT_LOSSES_MOST`. A pass after a retry or
 * a recovery rule is `recovered`.
 * @param before the attempts that ended earlier, oldest first */
export function decide(last: Ended, before: readonly Ended[], retries: Retries): Decision {
  const lost = (attempt: Ended) => attempt.kind === 'agent'
  const used = before.filter((attempt) => !lost(attempt)).length
  if (last.outcome === 'cancelled' || last.outcome === 'skipped')
    return { next: 'ended', outcome: last.outcome }
  if (last.outcome === 'passed')
    return {
      next: 'ended',
      outcome: used > 0 || [...before, last].some(({ recovered }) => recovered) ? 'recovered' : 'passed',
    }
  if (lost(last)) {
    const losses = before.filter(lost).length + 1
    if (losses < AGENT_LOSSES_MOST) return { next: 'again', usesRetry: false }
    return {
      next: 'ended',
      outcome: 'errored',
      because: 'Its agent was lost with it twice, so it is not given out again',
    }
  }
  return retryBarredBy(used, last.kind, retries) === undefined
    ? { next: 'again', usesRetry: true }
    : { next: 'ended', outcome: last.outcome }
}

export type Counts = Record<Mark, number>
export const NO_COUNTS: Readonly<Counts> = {
  passed: 0,
  recovered: 0,
  failed: 0,
  errored: 0,
  skipped: 0,
  cancelled: 0,
  waiting: 0,
  claimed: 0,
  running: 0,
  paused: 0,
}

export const totalOf = (counts: Counts) => Object.values(counts).reduce((sum, n) => sum + n, 0)
export const endedOf = (counts: Counts) => OUTCOMES.reduce((sum, outcome) => sum + counts[outcome], 0)

/** "412 of 438 passed, 9 recovered, 17 failed": what is zero is not said. */
export function describeCounts(counts: Counts): string {
  const total = totalOf(counts)
  if (total === 0) return 'nothing to run'
  const parts = [`${counts.passed} of ${total} passed`]
  for (const mark of ['recovered', 'failed', 'errored', 'skipped', 'cancelled'] as const)
    if (counts[mark] > 0) parts.push(`${counts[mark]} ${mark}`)
  const open = total - endedOf(counts)
  if (open > 0) parts.push(`${open} to go`)
  return parts.join(', ')
}
