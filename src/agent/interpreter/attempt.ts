/** One attempt from start to end: entry state, steps, undo. */
import { fill, USUAL_HOW, type Resume, type Scope, type Step } from '@/core/model'
import { calculate, generate } from '@/core/model/generating'
import { outcomeOfFailure, type AttemptResult, type Failure, type Work } from '@/core/execution'
import { LiveSession } from '../live/session'
import type { LiveChannel } from '../live/channel'
import { OPEN_POLICY, type OutgoingPolicy } from '@/node/outgoing'
import type { BrowserDriver, Pace } from '../driver/port'
import { keepWhatIsThere } from './at-failure'
import { failureOf, GoOn, StepFault, Stopped } from './fault'
import { Rendezvous, type Meet } from './rendezvous'
import type { Gate } from './gate'
import { AttemptLog, type Sink } from './log'
import type { StepParts } from './parts'
import { Rescue } from './rescue'
import { maskerOf, veilOf } from './secrets'
import { secretsOfHandoffs, valuesOf } from './signed-in'
import { orderOf } from './stop-order'
import { StepRunner } from './steps'

/** `meet`: the way to the other roles of a joint case. */
export type AttemptPorts = {
  driver: BrowserDriver
  pace: Pace
  sink: Sink
  agent: string
  signal: AbortSignal
  gate?: Gate
  meet?: Meet
  outgoing?: OutgoingPolicy
  /** Opens the line to who steers it, of a live session. */
  live?: (() => LiveChannel) | undefined
  /** When a step begins: by when the case has to be over. */ onStep?: (untilMs: number) => void
}

/** Undo gets this long even when the case's time is up: what is left behind spoils the next case. */
const UNDO_MS = 20_000

/** Carries out an attempt. Never throws: whatever happens is the result. The driver is closed at the end. */
export async function runAttempt(
  work: Work,
  { driver, pace, sink, agent, signal, gate, meet, onStep, live, outgoing = OPEN_POLICY }: AttemptPorts,
): Promise<AttemptResult> {
  const how = work.how ?? USUAL_HOW
  const secrets = [
    ...Object.values(work.secrets),
    ...Object.values(work.databases),
    ...secretsOfHandoffs(work),
  ]
  const mask = maskerOf(secrets)
  const log = new AttemptLog(sink, pace, mask, how)
  const parts: StepParts = {
    work,
    driver,
    pace,
    log,
    how,
    mask,
    veil: veilOf(secrets),
    scope: { names: {}, row: {}, env: {}, run: {} },
    signal,
    outgoing,
    untilMs: work.limitMs,
    place: 'parameters',
    lastPath: 'main.0',
    handoffs: {},
    gate,
    onStep,
  }
  log.say({ type: 'started', agent, facts: driver.facts })
  parts.rescue = work.recovery && new Rescue(parts)
  parts.rendezvous = work.role !== undefined && meet ? new Rendezvous(parts, meet) : undefined
  if (live) parts.live = (runner) => new LiveSession(parts, runner, live()).serve()
  const undoParts = () => ({
    ...parts,
    live: undefined,
    rescue: undefined,
    gate: undefined,
    onStep: undefined,
    rendezvous: undefined,
    signal: new AbortController().signal,
    untilMs: pace.now() + UNDO_MS,
  })
  const { end, entry, steps } = await rounds(work, parts, undoParts)
  const { failure, stopped = false } = end
  if (failure) log.release()
  if (failure && !stopped) await keepWhatIsThere(parts, failure)
  if (!failure && !stopped && work.case.undo.length > 0) await parts.rendezvous?.end()
  const order = orderOf(signal)
  if (!end.leaves && (!stopped || order.undo)) await undo(work, entry, steps, new StepRunner(undoParts()))
  else log.say({ type: 'note', text: 'stopped without undo steps: what it made is still there' })
  const video = await driver.stopVideo().catch(() => undefined)
  if (video && (how.video === 'always' || failure)) {
    const hash = log.keep('video/webm', video.bytes)
    if (hash !== undefined) log.say({ type: 'evidence', kind: 'video', hash, startMs: video.startMs })
  }
  log.sayWhatIsMissing(driver, parts.lastPath)
  await driver.close()
  const ms = pace.now()
  const handoffs = Object.keys(parts.handoffs).length > 0 ? { handoffs: parts.handoffs } : {}
  if (stopped) {
    const because = end.because ?? order.because
    return {
      outcome: 'cancelled',
      ms,
      ...(because !== undefined && {
        failure: log.hide({
          kind: 'agent' as const,
          message: `Ended, for another role did not pass: ${because}`,
        }),
      }),
    }
  }
  if (!failure) return { outcome: 'passed', ms, ...handoffs }
  if (end.goOn === 'skip-case')
    return {
      outcome: 'skipped',
      failure: log.hide({ ...failure, message: `Skipped, ${end.because}: ${failure.message}` }),
      ms,
      ...handoffs,
    }
  return {
    outcome: outcomeOfFailure(failure.kind),
    failure: log.hide(failure),
    ms,
    ...handoffs,
    ...(end.goOn === 'stop-run' && {
      stopRun: log.hide(`${work.case.title}: ${failure.message}; ${end.because}`),
    }),
  }
}

/** From the beginning, and again from there each time a recovery rule says so. */
async function rounds(
  work: Work,
  parts: StepParts,
  undoParts: () => StepParts,
): Promise<{ end: End; entry: StepRunner; steps: StepRunner }> {
  for (let round = 1; ; round++) {
    const [entry, steps] = [new StepRunner(parts), new StepRunner(parts)]
    const end = await carryOut(work, parts, entry, steps)
    if (end.goOn !== 'case') return { end, entry, steps }
    await undo(work, entry, steps, new StepRunner(undoParts()))
    parts.log.say({ type: 'begun-again', round })
  }
}

type End = {
  failure?: Failure | undefined
  stopped?: boolean
  /** A person wants to look at what it made: nothing is undone. */
  leaves?: boolean
  goOn?: Exclude<Resume, 'step'>
  because?: string
}

/** Once from the entry state to the last step. */
async function carryOut(work: Work, parts: StepParts, entry: StepRunner, steps: StepRunner): Promise<End> {
  try {
    parts.scope = scopeOf(work, () => parts.place)
    await enter(work, entry)
    if (parts.live) {
      const { undo: isUndone, failure } = await parts.live(steps)
      return { leaves: !isUndone, failure }
    }
    await steps.runAll(stepsOf(work), 'main')
    return { failure: steps.softFailure }
  } catch (error) {
    if (error instanceof Stopped || parts.signal.aborted)
      return {
        stopped: true,
        ...(error instanceof Stopped && error.because !== undefined && { because: error.because }),
      }
    return {
      failure: failureOf(error),
      ...(error instanceof GoOn && { goOn: error.resume, because: error.because }),
    }
  }
}

const stepsOf = ({ case: { steps, roles = {} }, role }: Work): Step[] =>
  role === undefined ? steps : (roles[role]?.steps ?? [])

/** @throws {UnknownReference} when a parameter refers to something that is not there */
function scopeOf(work: Work, place: () => string): Scope {
  const { environment, row = {}, build, runId, seed, secrets, startedAt } = work
  const { key, title, browser, os, locale } = environment
  const base = {
    env: { key, title, browser, os, locale },
    run: { build, id: String(runId), seed: String(seed) },
    row,
    secret: secrets,
    calculate,
    generate: (expression: string) => generate(expression, seed, place(), startedAt),
  }
  const handed = valuesOf(work)
  const names: Record<string, string> = { ...handed }
  for (const [name, value] of Object.entries(work.parameters))
    names[name] = fill(value, {
      ...base,
      names: { ...handed },
      generate: (expression) => generate(expression, seed, name, startedAt),
    })
  return { ...base, names }
}

/** Brings about the entry state: a routine of that name. Not reaching it is a matter of data, not of the
 * case. */
async function enter(work: Work, steps: StepRunner): Promise<void> {
  const { entry } = work.case
  if (!entry) return
  const title = `Entry: ${entry.replaceAll('-', ' ')}`
  await steps
    .runOne({ verb: 'use', routine: entry, with: {} }, 'entry.0', { verb: '', object: title, detail: '' })
    .catch((error: unknown) => {
      if (error instanceof Stopped || error instanceof GoOn) throw error
      const { message, path } = failureOf(error)
      throw new StepFault({
        kind: 'data',
        message: `The entry state “${entry}” was not reached: ${message}`,
        ...(path && { path }),
      })
    })
}

/** Undo steps of a joint case are done once: by the first of its roles, by name. */
const doesUndo = ({ case: { roles = {} }, role }: Work): boolean =>
  role === undefined || role === Object.keys(roles).sort()[0]

/** The undo stack, from its top: what routines pushed, then the case's own steps, then what the entry state
 * pushed. Each one whatever the others did.
 * A step whose values were never read has nothing to undo. */
async function undo(work: Work, entry: StepRunner, main: StepRunner, runner: StepRunner): Promise<void> {
  const own = (doesUndo(work) ? work.case.undo : []).map((step) => ({ step, names: {} }))
  const stack = [...entry.undoStack, ...own, ...main.undoStack]
  // Numbered so that the case's own steps keep their places in the file, and the outline shows them as they
  // run.
  for (let i = stack.length - 1; i >= 0; i--)
    await runner.runUndo(stack[i]!, `undo.${i - entry.undoStack.length}`)
}
