/** Carries out steps one by one, and logs each with its words, its screens and how it ended. */
import { describeDuration, describeStep, fill, fillDeep, match, type ElementState, type Scope, type Step, type StepOf, type Target, UnknownReference } from '@/core/model'
import { outcomeOfFailure, type Failure, type StepWords, type Work } from '@/core/execution'
import type { BrowserDriver, Found, Look, Pace } from '../driver/port'
import { failureOf, StepFault, Stopped } from './fault'
import { ask, checkAnswer, valueAt } from './http'
import type { AttemptLog } from './log'

/** How long a step may try, unless it says otherwise: a page may take longer to come than an element to appear. */
const STEP_LIMIT_MS = 5000
const OPEN_LIMIT_MS = 15_000
const CALL_LIMIT_MS = 10_000
const POLL_MS = 80
/** A loop without a count ends here: a page that never changes must not hold a seat for ever. */
const REPEAT_MOST = 200
const NESTING_MOST = 25

type Parts = { work: Work; driver: BrowserDriver; pace: Pace; log: AttemptLog; scope: Scope; signal: AbortSignal; untilMs: number }
/** Verbs that change the page. */
const ACTS: Partial<Record<Step['verb'], boolean>> = { open: true, click: true, type: true, choose: true, press: true }

type Done = { found?: Found; note?: string }

/** Steps that only hold others take no screens of their own; calls have nothing to do with the screen. */
const HAS_SCREEN: Record<Step['verb'], boolean> = { open: true, click: true, type: true, choose: true, press: true, wait: true, read: true, check: true, call: false, use: false, block: false, if: false, repeat: false }

export class StepRunner {
  /** The first soft check that did not hold, if any. */
  softFailure: Failure | undefined
  private nesting = 0

  constructor(private readonly parts: Parts) {}

  async runAll(steps: readonly Step[], prefix: string): Promise<void> {
    for (const [i, step] of steps.entries()) await this.runOne(step, `${prefix}.${i}`)
  }

  /** @param words what the log calls the step; by default its own sentence, values filled in
   * @throws {StepFault} with the path of the innermost failing step; {Stopped} */
  async runOne(step: Step, path: string, words?: StepWords): Promise<void> {
    const { log, driver, pace } = this.parts
    if (this.parts.signal.aborted) throw new Stopped()
    const start = pace.now()
    const spoken = words ?? this.words(step)
    log.say({ type: 'step-started', path, words: spoken, ...this.valuesUsed(step) })
    if (step.off) return log.say({ type: 'step-ended', path, outcome: 'skipped', ms: 0, note: 'switched off' })
    try {
      if (start >= this.parts.untilMs) throw this.tooLong()
      if (HAS_SCREEN[step.verb] && step.verb !== 'open') await log.screen(driver, path, 'before', false)
      const { found, note } = await this.carryOut(step, path)
      if (HAS_SCREEN[step.verb]) await log.screen(driver, path, 'after', ACTS[step.verb] ?? false)
      log.gather(driver, path)
      const held = found && step.verb !== 'press' ? heldNote(step, found) : undefined
      log.say({ type: 'step-ended', path, outcome: 'passed', ms: pace.now() - start, ...(found?.box && { box: found.box }), ...((note ?? held) && { note: note ?? held }) })
    } catch (error) {
      await this.fail(step, path, start, error)
    }
  }

  /** Runs a step of undo. Faults are logged and go no further. */
  async runUndo(step: Step, path: string): Promise<void> {
    try {
      fillDeep(step as unknown, this.parts.scope)
    } catch (error) {
      if (!(error instanceof UnknownReference)) throw error
      this.parts.log.say({ type: 'step-started', path, words: describeStep(step) })
      return this.parts.log.say({ type: 'step-ended', path, outcome: 'skipped', ms: 0, note: `nothing to undo: \${${error.reference}} was never read` })
    }
    await this.runOne(step, path).catch(() => {})
  }

  private async fail(step: Step, path: string, start: number, error: unknown): Promise<void> {
    const { log, driver, pace, signal } = this.parts
    const ms = pace.now() - start
    if (error instanceof Stopped || signal.aborted) {
      log.say({ type: 'step-ended', path, outcome: 'skipped', ms, note: 'stopped' })
      throw new Stopped()
    }
    const failure = failureOf(error)
    const below = failure.path !== undefined && failure.path !== path
    if (HAS_SCREEN[step.verb] && !below) await log.screen(driver, path, 'after', true).catch(() => {})
    log.gather(driver, path)
    const target = targetOf(step)
    const box = target && !below ? (await driver.look(this.filled(target)).catch(() => undefined))?.found?.box : undefined
    const { path: _, ...own } = failure
    log.say({ type: 'step-ended', path, outcome: outcomeOfFailure(failure.kind), ms, ...(!below && { failure: own }), ...(box && { box }) })
    const placed = { ...failure, path: failure.path ?? path }
    if (step.verb === 'check' && step.soft && failure.kind === 'check') this.softFailure ??= placed
    else throw new StepFault(placed)
  }

  private async carryOut(step: Step, path: string): Promise<Done> {
    const { driver, scope, pace } = this.parts
    const value = (written: string) => fill(written, scope)
    const target = (written: Target) => fillDeep(written, scope)
    switch (step.verb) {
      case 'open':
        await driver.open(this.address(value(step.address)), this.limit(step, OPEN_LIMIT_MS))
        return {}
      case 'click':
        return { found: await driver.click(target(step.on), this.limit(step)) }
      case 'type':
        return { found: await driver.type(target(step.in), value(step.value), this.limit(step)) }
      case 'choose':
        return { found: await driver.choose(target(step.in), value(step.value), this.limit(step)) }
      case 'press':
        return { found: await driver.press(step.key, step.on && target(step.on), this.limit(step)) }
      case 'wait':
        if (!step.for) {
          await pace.pause(Math.min(step.timeMs ?? 0, this.left()))
          return {}
        }
        return { found: await this.waitFor(target(step.for), step.state, this.limit(step)) }
      case 'read':
        return this.read(step, path)
      case 'check':
        return this.check(step)
      case 'call':
        return this.call(step, path)
      default:
        return this.nest(step, path)
    }
  }

  private async nest(step: StepOf<'use' | 'block' | 'if' | 'repeat'>, path: string): Promise<Done> {
    if (this.nesting >= NESTING_MOST) throw new StepFault({ kind: 'data', message: `steps are nested deeper than ${NESTING_MOST}; does a routine use itself?` })
    this.nesting++
    try {
      if (step.verb === 'block') await this.runAll(step.steps, path)
      else if (step.verb === 'use') await this.use(step, path)
      else if (step.verb === 'if') return await this.branch(step, path)
      else return await this.repeat(step, path)
      return {}
    } finally {
      this.nesting--
    }
  }

  /** A routine sees its own parameters and what was read so far; its parameters do not reach the caller. */
  private async use(step: StepOf<'use'>, path: string): Promise<void> {
    const routine = this.parts.work.routines.find(({ key }) => key === step.routine)
    if (!routine) throw new StepFault({ kind: 'data', message: `the routine “${step.routine}” is not there` })
    const { scope } = this.parts
    const given = fillDeep({ ...routine.parameters, ...step.with }, scope)
    const outer = Object.fromEntries(Object.keys(given).map((name) => [name, scope.names[name]]))
    Object.assign(scope.names, given)
    try {
      await this.runAll(routine.steps, path)
    } finally {
      for (const [name, value] of Object.entries(outer)) {
        if (value === undefined) delete scope.names[name]
        else scope.names[name] = value
      }
    }
  }

  private async branch(step: StepOf<'if'>, path: string): Promise<Done> {
    const { count, states } = await this.parts.driver.look(fillDeep(step.target, this.parts.scope))
    const visible = count > 0 && states.includes('visible')
    const holds = visible === step.visible
    await this.runAll(holds ? step.steps : step.otherwise, path)
    return { note: holds ? 'it is so' : 'it is not so' }
  }

  private async repeat(step: StepOf<'repeat'>, path: string): Promise<Done> {
    const { driver, scope } = this.parts
    let done = 0
    const goesOn = async () => {
      if (done >= (step.times ?? REPEAT_MOST)) return false
      return !step.whileVisible || (await driver.look(fillDeep(step.whileVisible, scope))).states.includes('visible')
    }
    while (await goesOn()) await this.runAll(step.steps, `${path}.${done++}`)
    if (!step.times && done >= REPEAT_MOST) throw new StepFault({ kind: 'time-limit', message: `still so after ${REPEAT_MOST} times` })
    return { note: `${done} times` }
  }

  private async waitFor(target: Target, state: ElementState, limitMs: number): Promise<Found | undefined> {
    const { look, holds } = await this.poll(target, limitMs, (seen) => (state === 'hidden' ? seen.count === 0 || seen.states.includes('hidden') : seen.count === 1 && seen.states.includes(state)))
    if (holds) return look.found
    const dialog = await this.parts.driver.openDialog()
    if (dialog) throw new StepFault({ kind: 'dialog', message: `a dialog “${dialog}” is open over the page` })
    throw new StepFault({ kind: 'target', message: `waited ${describeDuration(limitMs)}, it is not ${state}` })
  }

  private async read(step: StepOf<'read'>, path: string): Promise<Done> {
    const { look, holds } = await this.poll(fillDeep(step.of, this.parts.scope), this.limit(step), (seen) => seen.count === 1)
    if (!holds) throw this.notThere(look)
    const value = (look.value || look.text).replace(/\s+/g, ' ').trim()
    this.keep(step.as, value, path)
    return { ...(look.found && { found: look.found }) }
  }

  private async check(step: StepOf<'check'>): Promise<Done> {
    const { driver, scope } = this.parts
    const matcher = fillDeep(step.matcher ?? {}, scope)
    const limitMs = this.limit(step)
    if (step.subject === 'url') {
      const { url, holds } = await this.pollUrl((now) => match(now, matcher).holds, limitMs)
      if (!holds) throw new StepFault({ kind: 'check', message: 'The address is not what was expected', expected: match('', matcher).expected, actual: url })
      return {}
    }
    const actualOf = (seen: Look) => (step.subject === 'count' ? String(seen.count) : step.subject === 'value' ? seen.value : step.subject === 'state' ? seen.states.join(', ') : seen.text)
    const isThere = (seen: Look) => step.subject === 'count' || seen.count === 1 || (step.subject === 'state' && step.state === 'hidden')
    const isRight = (seen: Look) => (step.subject === 'state' ? seen.states.includes(step.state!) : match(actualOf(seen), matcher).holds)
    const { look, holds } = await this.poll(fillDeep(step.of!, scope), limitMs, (seen) => isThere(seen) && isRight(seen))
    if (holds) return { ...(look.found && { found: look.found }) }
    if (!isThere(look)) {
      const dialog = await driver.openDialog()
      throw dialog ? new StepFault({ kind: 'dialog', message: `a dialog “${dialog}” is open over the page` }) : this.notThere(look)
    }
    const expected = step.subject === 'state' ? step.state! : match('', matcher).expected
    throw new StepFault({ kind: 'check', message: `The ${step.subject} is not what was expected`, expected, actual: actualOf(look).replace(/\s+/g, ' ').trim() })
  }

  private async call(step: StepOf<'call'>, path: string): Promise<Done> {
    const { scope, pace, log } = this.parts
    const url = this.address(fill(step.url, scope))
    const start = pace.now()
    const answer = await ask(step.method, url, step.body === undefined ? undefined : fillDeep(step.body, scope), this.limit(step, CALL_LIMIT_MS))
    log.say({ type: 'request', path, method: step.method, url, status: answer.status, ms: pace.now() - start })
    checkAnswer(step, answer, scope)
    for (const [name, at] of Object.entries(step.read)) this.keep(name, valueAt(answer, at), path)
    return { note: `answered ${answer.status}` }
  }

  private keep(name: string, value: string, path: string) {
    this.parts.scope.names[name] = value
    this.parts.log.say({ type: 'value', path, name, value })
  }

  private async poll(target: Target, limitMs: number, right: (look: Look) => boolean): Promise<{ look: Look; holds: boolean }> {
    const { driver, pace, signal } = this.parts
    const until = pace.now() + limitMs
    for (;;) {
      const look = await driver.look(target)
      if (right(look)) return { look, holds: true }
      if (signal.aborted) throw new Stopped()
      if (pace.now() >= until) return { look, holds: false }
      await pace.pause(POLL_MS)
    }
  }

  private async pollUrl(right: (url: string) => boolean, limitMs: number): Promise<{ url: string; holds: boolean }> {
    const until = this.parts.pace.now() + limitMs
    for (;;) {
      const url = await this.parts.driver.url()
      if (right(url) || this.parts.pace.now() >= until) return { url, holds: right(url) }
      await this.parts.pace.pause(POLL_MS)
    }
  }

  private address(written: string): string {
    const colon = written.indexOf(':')
    const base = this.parts.work.applications[written.slice(0, colon)]
    if (!base) throw new StepFault({ kind: 'data', message: `there is no application “${written.slice(0, colon)}”` })
    return base.replace(/\/$/, '') + written.slice(colon + 1)
  }

  private words(step: Step): StepWords {
    const words = describeStep(step)
    // A typed value is never put into words here: whether its field hides it is known only once it is found.
    if (step.verb === 'type') return isSecretTarget(step.in) ? { ...words, detail: '••••' } : this.filled(words)
    return this.filled(words)
  }

  private filled<T>(written: T): T {
    try {
      return fillDeep(written, this.parts.scope)
    } catch {
      return written // the step itself will fail on the missing value, and say so
    }
  }

  private valuesUsed(step: Step): { values?: Record<string, string> } {
    if (step.verb === 'type' && isSecretTarget(step.in)) return {}
    const values: Record<string, string> = {}
    const { steps: _, ...own } = step as Step & { steps?: unknown }
    for (const [, reference] of JSON.stringify(own).matchAll(/\$\{([^}]+)\}/g)) {
      try {
        values[reference!] = fill(`\${${reference}}`, this.parts.scope)
      } catch {} // named by the step's own failure
    }
    return Object.keys(values).length > 0 ? { values } : {}
  }

  private left = () => Math.max(0, this.parts.untilMs - this.parts.pace.now())
  private limit(step: Step, usualMs = STEP_LIMIT_MS): number {
    return Math.min(step.limitMs ?? usualMs, this.left())
  }
  private tooLong = () => new StepFault({ kind: 'time-limit', message: `The case took longer than ${describeDuration(this.parts.work.limitMs)}` })
  private notThere = (look: Look) => new StepFault({ kind: 'target', message: look.count === 0 ? 'it is not on the page' : `${look.count} elements match, one was expected` })
}

/** Fields whose name says that they are secret; the driver masks what the page itself hides. */
const isSecretTarget = ({ label = '', name = '', testId = '' }: Target) => /password|security code|secret|pin\b/i.test(`${label} ${name} ${testId}`)

const targetOf = (step: Step): Target | undefined => ('on' in step ? step.on : 'in' in step ? step.in : 'of' in step ? step.of : undefined)

/** When a target gives several ways and not the first one held, the log says which did. */
function heldNote(step: Step, found: Found): string | undefined {
  const target = targetOf(step)
  const ways = target ? Object.keys(target).filter((way) => way !== 'name') : []
  return ways.length > 1 && found.way !== firstWay(ways) ? `found by ${found.way}; ${firstWay(ways)} finds it no more` : undefined
}
const firstWay = (ways: string[]) => ['testId', 'role', 'label', 'placeholder', 'text', 'css'].find((way) => ways.includes(way))
