/** What the carrying out of a step needs, and what it gives back. */
import { describeDuration, fill, fillDeep, type Resume, type RotationHow, type Scope, type Step, type Target } from '@/core/model'
import type { Failure, Work, WorkRule } from '@/core/execution'
import type { BrowserDriver, Found, Pace } from '../driver/port'
import { StepFault } from './fault'
import type { Gate } from './gate'
import type { AttemptLog } from './log'

/** How long a step may try, unless it says otherwise: a page may take longer to come than an element to appear. */
export const STEP_LIMIT_MS = 5000
export const OPEN_LIMIT_MS = 15_000
export const CALL_LIMIT_MS = 10_000
/** Roles of a joint case wait for each other so long. */
export const MEET_LIMIT_MS = 60_000

/** Asked about a failure where it happened. */
export type Rescued = { resume: Resume; rule: WorkRule }
export interface Rescuer {
  attend(failure: Failure, path: string, tag: string | undefined): Promise<Rescued | undefined>
}

/** The other roles of a joint case. */
export interface Companion {
  meet(point: string, limitMs: number): Promise<string>
  give(name: string, value: string): Promise<void>
  need(step: Step, limitMs: number): Promise<void>
  end(): Promise<void>
}

export type StepParts = {
  work: Work
  driver: BrowserDriver
  pace: Pace
  log: AttemptLog
  how: RotationHow
  scope: Scope
  signal: AbortSignal
  /** By the attempt's clock. */
  untilMs: number
  /** Path of the step at work: made-up values depend on it. */
  place: string
  /** Values read with `handoff: true`. */
  handoffs: Record<string, string>
  /** Tag of the step at work, or of the nearest one around it. */
  tag?: string | undefined
  /** The application that was opened last. */
  application?: string
  /** Puts failures right; absent within a recovery itself and in undo. */
  rescue?: Rescuer | undefined
  /** Waits while the attempt is paused. */
  gate?: Gate | undefined
  /** The other roles of a joint case; absent: there are none. */
  company?: Companion | undefined
}
export type Done = { found?: Found; note?: string }

export const left = ({ untilMs, pace }: StepParts) => Math.max(0, untilMs - pace.now())
export const limitOf = (parts: StepParts, step: Step, usualMs = STEP_LIMIT_MS) => Math.min(step.limitMs ?? usualMs, left(parts))
export const filledTarget = ({ scope }: StepParts, target: Target): Target => fillDeep(target, scope)
export const filledText = ({ scope }: StepParts, written: string): string => fill(written, scope)

export async function keep({ scope, log, handoffs, company }: StepParts, name: string, value: string, path: string, handoff: boolean): Promise<void> {
  scope.names[name] = value
  log.say({ type: 'value', path, name, value })
  if (!handoff) return
  handoffs[name] = value
  await company?.give(name, value)
}

/** "booking:/pay" as an address. @throws {StepFault} data: no such application */
export function addressOf(parts: StepParts, written: string): string {
  const { work } = parts
  const colon = written.indexOf(':')
  const base = work.applications[written.slice(0, colon)]
  if (!base) throw new StepFault({ kind: 'data', message: `there is no application “${written.slice(0, colon)}”` })
  return base.replace(/\/$/, '') + written.slice(colon + 1)
}

export const tooLong = ({ work }: StepParts) => new StepFault({ kind: 'time-limit', message: `The case took longer than ${describeDuration(work.limitMs)}` })
