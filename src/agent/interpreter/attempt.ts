/** One attempt from start to end: entry state, steps, undo. */
import { fill, type Scope } from '@/core/model'
import { outcomeOfFailure, type AttemptResult, type Failure, type Work } from '@/core/execution'
import type { BrowserDriver, Pace } from '../driver/port'
import { failureOf, StepFault, Stopped } from './fault'
import { AttemptLog, type Sink } from './log'
import { StepRunner } from './steps'

export type AttemptPorts = { driver: BrowserDriver; pace: Pace; sink: Sink; agent: string; signal: AbortSignal }

/** Undo gets this long even when the case's time is up: what is left behind spoils the next case. */
const UNDO_MS = 20_000

/** Carries out an attempt. Never throws: whatever happens is the result. The driver is closed at the end. */
export async function runAttempt(work: Work, { driver, pace, sink, agent, signal }: AttemptPorts): Promise<AttemptResult> {
  const log = new AttemptLog(sink, pace)
  const scope = scopeOf(work)
  log.say({ type: 'started', agent, facts: driver.facts })
  const steps = new StepRunner({ work, driver, pace, log, scope, signal, untilMs: work.limitMs })
  let failure: Failure | undefined
  let stopped = false
  try {
    await enter(work, steps)
    await steps.runAll(work.case.steps, 'main')
    failure = steps.softFailure
  } catch (error) {
    if (error instanceof Stopped || signal.aborted) stopped = true
    else failure = error instanceof StepFault ? error.failure : failureOf(error)
  }
  if (failure && !stopped) await keepSource(driver, log, failure)
  await undo(work, new StepRunner({ work, driver, pace, log, scope, signal: new AbortController().signal, untilMs: pace.now() + UNDO_MS }))
  const video = await driver.stopVideo().catch(() => undefined)
  if (video) log.say({ type: 'evidence', kind: 'video', hash: log.keep('video/webm', video.bytes), startMs: video.startMs })
  await driver.close()
  const ms = pace.now()
  if (stopped) return { outcome: 'cancelled', ms }
  return failure ? { outcome: outcomeOfFailure(failure.kind), failure, ms } : { outcome: 'passed', ms }
}

function scopeOf(work: Work): Scope {
  const { environment, row = {}, build, runId, seed } = work
  const { key, title, browser, os, locale } = environment
  const base = { env: { key, title, browser, os, locale }, run: { build, id: String(runId), seed: String(seed) }, row }
  const names: Record<string, string> = {}
  for (const [name, value] of Object.entries(work.parameters)) names[name] = fill(value, { ...base, names: {} })
  return { ...base, names }
}

/** Brings about the entry state: a routine of that name. Not reaching it is a matter of data, not of the case. */
async function enter(work: Work, steps: StepRunner): Promise<void> {
  const { entry } = work.case
  if (!entry) return
  const title = `Entry: ${entry.replaceAll('-', ' ')}`
  await steps.runOne({ verb: 'use', routine: entry, with: {} }, 'entry.0', { verb: '', object: title, detail: '' }).catch((error: unknown) => {
    if (error instanceof Stopped) throw error
    const { message, path } = failureOf(error)
    throw new StepFault({ kind: 'data', message: `The entry state “${entry}” was not reached: ${message}`, ...(path && { path }) })
  })
}

/** In reverse order, each one whatever the others did. A step whose values were never read has nothing to undo. */
async function undo(work: Work, steps: StepRunner): Promise<void> {
  for (let i = work.case.undo.length - 1; i >= 0; i--) await steps.runUndo(work.case.undo[i]!, `undo.${i}`)
}

async function keepSource(driver: BrowserDriver, log: AttemptLog, failure: Failure): Promise<void> {
  const source = await driver.source().catch(() => undefined)
  if (source) log.say({ type: 'evidence', kind: 'page-source', hash: log.keep('text/plain', Buffer.from(source)), ...(failure.path && { path: failure.path }) })
}

