/** What people say of the steps of a guided case run, and what that makes of it. */
import type { AttemptResult, Failure, NumberedEvent, StepOutcome } from '../execution'
import type { PersonsVerdict } from '../live'
import type { GuidedStep } from './sheet'

/** What a person recorded while they worked: `startMs` in worked time. */
export type GuidedVideo = { hash: string; startMs: number }
export type GuidedPicture = { hash: string; width: number; height: number }
/** `atMs`: worked time when it was given, from the beginning. */
export type GuidedVerdict = {
  path: string
  is: PersonsVerdict
  note: string
  atMs: number
  pictures: GuidedPicture[]
}

/** How a step ended, by what was said of it. */
export type SaidEnd = { outcome: StepOutcome; note?: string; failure?: Omit<Failure, 'path'> }

/** The one meaning of a verdict, in the log and for the outcome.
 * @param by whose it is @param expected what should have been seen */
export function endBy(
  { is, note: written }: Pick<GuidedVerdict, 'is' | 'note'>,
  by: string,
  expected?: string,
): SaidEnd {
  const note = written.trim()
  const said = note === '' ? '' : `: ${note}`
  switch (is) {
    case 'passed':
      return { outcome: 'passed', note: `seen by ${by}${said}` }
    case 'skipped':
      return { outcome: 'skipped', note: `passed over by ${by}${said}` }
    case 'failed':
      return {
        outcome: 'failed',
        failure: {
          kind: 'check',
          // What was seen stands beside what was expected.
          message: `${by} saw that it is not so${expected === undefined ? said : ''}`,
          ...(expected !== undefined && { expected, actual: note || 'something else' }),
        },
      }
    case 'cannot':
      return { outcome: 'errored', failure: { kind: 'script', message: `${by} could not do it${said}` } }
  }
}

export const isJudged = ({ kind }: GuidedStep): boolean => kind !== 'group'

/** How far it is. `bad`: something was not so, or could not be done: what is left may stay undone. */
export function standOf(
  steps: readonly GuidedStep[],
  verdicts: readonly Pick<GuidedVerdict, 'path' | 'is'>[],
): { judged: number; of: number; bad: boolean; next: string | undefined } {
  const said = new Map(verdicts.map(({ path, is }) => [path, is]))
  const asked = steps.filter(isJudged)
  return {
    judged: asked.filter(({ path }) => said.has(path)).length,
    of: asked.length,
    bad: verdicts.some(({ is }) => is === 'failed' || is === 'cannot'),
    next: asked.find(({ path }) => !said.has(path))?.path,
  }
}

/** The result: the first step that was not so decides, then the first that could not be done; all passed over
 * is skipped.
 * @returns `undefined` while steps are left and nothing was bad */
export function concluded(
  steps: readonly GuidedStep[],
  verdicts: readonly GuidedVerdict[],
  by: string,
): AttemptResult | undefined {
  const { judged, of, bad } = standOf(steps, verdicts)
  if (!bad && judged < of) return undefined
  const ordered = inOrder(steps, verdicts)
  const ms = Math.max(0, ...verdicts.map(({ atMs }) => atMs))
  const decisive = (['failed', 'cannot'] as const)
    .map((is) => ordered.find(([, verdict]) => verdict.is === is))
    .find((found) => found !== undefined)
  if (decisive) {
    const [step, verdict] = decisive
    const { failure } = endBy(verdict, by, step.expected)
    const outcome = verdict.is === 'failed' ? 'failed' : 'errored'
    return { outcome, ms, failure: { ...failure!, path: step.path } }
  }
  const isSkipped = of > 0 && verdicts.every(({ is }) => is === 'skipped')
  return { outcome: isSkipped ? 'skipped' : 'passed', ms }
}

/** Verdicts with their steps, in the order of the steps; of several for a step the last, of unknown steps
 * none. */
function inOrder(
  steps: readonly GuidedStep[],
  verdicts: readonly GuidedVerdict[],
): (readonly [GuidedStep, GuidedVerdict])[] {
  const said = new Map(verdicts.map((verdict) => [verdict.path, verdict]))
  return steps.flatMap((step) => {
    const verdict = isJudged(step) ? said.get(step.path) : undefined
    return verdict ? [[step, verdict] as const] : []
  })
}

const WORSE: Record<StepOutcome, number> = { skipped: 0, passed: 1, errored: 2, failed: 3 }

/** The log of it, as that of any attempt: groups begin with their first step and end with their last, as the
 * worst one in them did.
 * @param facts of the system the person worked on
 * @param video none where nothing was recorded */
export function logOf(
  steps: readonly GuidedStep[],
  verdicts: readonly GuidedVerdict[],
  by: string,
  facts: Readonly<Record<string, string>>,
  video: GuidedVideo | null,
): NumberedEvent[] {
  const events: NumberedEvent[] = [{ no: 1, atMs: 0, type: 'started', agent: by, facts: { ...facts } }]
  type Unnumbered<T> = T extends unknown ? Omit<T, 'no'> : never
  const say = (event: Unnumbered<NumberedEvent>) =>
    events.push({ ...event, no: events.length + 1 } as NumberedEvent)
  const open: { step: GuidedStep; from: number; worst: StepOutcome }[] = []
  let clock = 0
  const closeTo = (path: string) => {
    while (open.length > 0 && !path.startsWith(`${open.at(-1)!.step.path}.`)) {
      const { step, from, worst } = open.pop()!
      say({ type: 'step-ended', atMs: clock, path: step.path, outcome: worst, ms: clock - from })
      note(worst)
    }
  }
  const note = (outcome: StepOutcome) => {
    const holder = open.at(-1)
    if (holder && WORSE[outcome] > WORSE[holder.worst]) holder.worst = outcome
  }
  const groups = steps.filter(({ kind }) => kind === 'group')
  for (const [step, verdict] of inOrder(steps, verdicts)) {
    closeTo(step.path)
    for (const group of groups)
      if (step.path.startsWith(`${group.path}.`) && !open.some((one) => one.step === group)) {
        say({ type: 'step-started', atMs: clock, path: group.path, words: group.words })
        open.push({ step: group, from: clock, worst: 'skipped' })
      }
    const from = clock
    clock = Math.max(clock, Math.round(verdict.atMs))
    say({ type: 'step-started', atMs: from, path: step.path, words: step.words, ...because(step) })
    const { outcome, ...end } = endBy(verdict, by, step.expected)
    for (const { hash, width, height } of verdict.pictures.slice(-1))
      say({ type: 'screen', atMs: clock, path: step.path, phase: 'after', hash, width, height })
    for (const { hash, width, height } of verdict.pictures.slice(0, -1).slice(-1))
      say({ type: 'screen', atMs: clock, path: step.path, phase: 'before', hash, width, height })
    say({ type: 'step-ended', atMs: clock, path: step.path, outcome, ms: clock - from, ...end })
    note(outcome)
  }
  closeTo('')
  if (video) say({ type: 'evidence', atMs: clock, kind: 'video', ...video })
  return events
}

const because = ({ because: why }: GuidedStep) => (why === undefined ? {} : { because: why })
