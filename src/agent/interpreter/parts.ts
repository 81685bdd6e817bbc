/** What the carrying out of a step needs, and what it gives back. */
import {
  describeDuration,
  fill,
  fillDeep,
  match,
  type Matcher,
  type Resume,
  type RotationHow,
  type Scope,
  type Step,
  type Target,
  type Condition,
} from '@/core/model'
import type { Failure, Work, WorkRule } from '@/core/execution'
import type { PersonsVerdict } from '@/core/live'
import type { OutgoingPolicy } from '@/node/outgoing'
import type { BrowserDriver, Found, Pace } from '../driver/port'
import { StepFault } from './fault'
import type { Gate } from './gate'
import type { AttemptLog } from './log'
import type { Masker } from './secrets'

/** How long a step may try, unless it says otherwise: a page may take longer to come than an element to
 * appear. */
export const STEP_LIMIT_MS = 5000
export const OPEN_LIMIT_MS = 15_000
export const CALL_LIMIT_MS = 10_000
/** Characters of a value that is handed on. */
const HANDOFF_CHARS = 20_000
/** Roles of a joint case wait for each other so long. */
export const MEET_LIMIT_MS = 60_000

/** Asked about a failure where it happened. */
export type Rescued = { resume: Resume; rule: WorkRule }
export interface Rescuer {
  attend(failure: Failure, path: string, tag: string | undefined): Promise<Rescued | undefined>
  /** What would put it right, in words. */
  find(failure: Failure, tag: string | undefined): string | undefined
}

/** The other roles of a joint case. */
export interface Companion {
  meet(point: string, limitMs: number): Promise<string>
  give(name: string, value: string): Promise<void>
  need(step: Step, limitMs: number): Promise<void>
  end(): Promise<void>
}

/** Carries out a step. @throws as StepRunner does */
export interface Runner {
  runOne(step: Step, path: string): Promise<void>
  isSo(condition: Condition): Promise<boolean>
}

export type StepParts = {
  work: Work
  driver: BrowserDriver
  pace: Pace
  log: AttemptLog
  how: RotationHow
  scope: Scope
  /** Takes secrets out, for whoever reads. */
  mask: Masker
  /** Takes them out for comparing: each has its own sign. */
  veil: Masker
  signal: AbortSignal
  /** Where `call` and `query` may connect to. */
  outgoing: OutgoingPolicy
  /** By the attempt's clock. */
  untilMs: number
  /** Where the page was last said to be. */
  pageUrl?: string | undefined
  /** Path of the step at work: made-up values depend on it. */
  place: string
  /** Path of the step that was begun last. */
  lastPath: string
  /** Told when a step begins, with the time by which the case has to be over: what watches over it goes by
   * that. */
  onStep?: ((untilMs: number) => void) | undefined
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
  /** A person steers, and says what is carried out; absent: the steps of the case are. */
  live?: ((runner: Runner) => Promise<{ undo: boolean; failure?: Failure }>) | undefined
  /** Is asked before each step within another, and of a recovery; may hold them as long as it likes.
   * @throws {StepFault} it is not to go on */
  halts?: Halting | undefined
  /** A person is there who does what is for people; absent: nobody is. */
  askPerson?: AskPerson | undefined
  /** The other roles of a joint case; absent: there are none. */
  rendezvous?: Companion | undefined
}
export interface Halting {
  /** @param within path of the step that holds it */
  before(step: Step, within: string): Promise<void>
  /** @returns whether the rule is to put it right */
  beforeRule(failure: Failure, rule: string, step: Step): Promise<boolean>
}
/** What a person said of a step that is for people. `by`: their name. */
export type Verdict = { is: PersonsVerdict; note: string; by: string }
export type AskPerson = (asked: { words: string; expected?: string }) => Promise<Verdict>
export type Done = { found?: Found; note?: string; /** It was passed over. */ isSkipped?: boolean }

export const left = ({ untilMs, pace }: StepParts) => Math.max(0, untilMs - pace.now())
export const limitOf = (parts: StepParts, step: Step, usualMs = STEP_LIMIT_MS) =>
  Math.min(step.limitMs ?? usualMs, left(parts))
export const filledTarget = ({ scope }: StepParts, target: Target): Target => fillDeep(target, scope)
export const filledText = ({ scope }: StepParts, written: string): string => fill(written, scope)

/** Compares as anybody may see it: with secrets taken out of both sides, so that no check tells a letter of
 * one, or whether it is more or less than something. Whole secrets are still the same as themselves. */
export const judge = (
  { mask, veil }: StepParts,
  actual: string,
  matcher: Matcher,
): ReturnType<typeof match> => ({
  holds: match(veil(actual), veil(matcher)).holds,
  expected: match('', mask(matcher)).expected,
})
/** Whether a text holds a secret, by whatever name it came there. */
export const holdsSecret = ({ mask }: StepParts, text: string): boolean => mask(text) !== text

export async function keep(
  { scope, log, handoffs, rendezvous }: StepParts,
  name: string,
  value: string,
  path: string,
  handoff: boolean,
): Promise<void> {
  scope.names[name] = value
  log.say({ type: 'value', path, name, value })
  if (!handoff) return
  if (value.length > HANDOFF_CHARS)
    throw new StepFault({
      kind: 'data',
      message:
        `“${name}” has ${value.length.toLocaleString('en')} characters; at most ` +
        `${HANDOFF_CHARS.toLocaleString('en')} are handed on`,
    })
  handoffs[name] = value
  await rendezvous?.give(name, value)
}

/** "booking:/pay" as an address. What stands behind the colon never leads to another host
 * ("booking:@elsewhere/").
 * @throws {StepFault} data: no such application, or it leads away from it */
export function addressOf(parts: StepParts, written: string): string {
  const { work } = parts
  const colon = written.indexOf(':')
  const base = work.applications[written.slice(0, colon)]
  if (!base)
    throw new StepFault({ kind: 'data', message: `there is no application “${written.slice(0, colon)}”` })
  const address = base.replace(/\/$/, '') + written.slice(colon + 1)
  if (!URL.canParse(address) || new URL(address).origin !== new URL(base).origin)
    throw new StepFault({
      kind: 'data',
      message: `“${written}” leads away from the application; begin with / after the colon`,
    })
  return address
}

export const tooLong = ({ work }: StepParts) =>
  new StepFault({
    kind: 'time-limit',
    message: `The case took longer than ${describeDuration(work.limitMs)}`,
  })
