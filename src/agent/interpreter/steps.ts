/** Carries out steps one by one, and logs each with its words, its screens and how it ended. */
import {
  changesPage,
  describeStep,
  fillDeep,
  isOnScreen,
  targetsOf,
  type Condition,
  type Step,
  type StepOf,
  type Target,
  UnknownReference,
} from '@/core/model'
import { outcomeOfFailure, type Failure, type StepWords } from '@/core/execution'
import { doInBrowser, type BrowserStep } from './browser-steps'
import { call, query } from './data-steps'
import { failureOf, GoOn, StepFault, Stopped } from './fault'
import { concealSecrets } from './concealing'
import { poll } from './looking'
import { heldNote } from './targets'
import { doneByPerson } from './by-person'
import { filledIfItCan, valuesUsed, wordsOf } from './step-words'
import { judge, left, limitOf, MEET_LIMIT_MS, tooLong, type Done, type StepParts } from './parts'

/** A loop without a count ends here: a page that never changes must not hold a seat for ever. */
const REPEAT_MOST = 200
const NESTING_MOST = 25

const holdsCheck = (step: Step): boolean =>
  step.verb === 'check' || ('steps' in step && step.steps.some(holdsCheck))

type Nesting = StepOf<'use' | 'block' | 'if' | 'repeat'>
/** What was put on the undo stack: a step, and the values it has to undo with. */
type Undo = { step: Step; names: Record<string, string> }

export class StepRunner {
  /** The first soft check that did not hold, if any. */
  softFailure: Failure | undefined
  /** Undo steps of the routines that were used, in the order they were pushed. */
  readonly undoStack: Undo[] = []
  private nesting = 0

  constructor(private readonly parts: StepParts) {}

  /** A recovery rule may have it go on at the next check: that of these steps, or of those around them. */
  async runAll(steps: readonly Step[], prefix: string): Promise<void> {
    for (let i = 0; i < steps.length; i++) {
      try {
        await this.parts.halts?.before(steps[i]!, prefix)
        await this.runOne(steps[i]!, `${prefix}.${i}`)
      } catch (error) {
        const next =
          error instanceof GoOn && error.resume === 'check'
            ? steps.findIndex((step, j) => j > i && holdsCheck(step))
            : -1
        if (next < 0) throw error
        i = next - 1
      }
    }
  }

  /** A step; when it fails and a rule puts that right, once more, or on where the rule says.
   * @param words what the log calls the step; by default its own sentence, values filled in
   * @throws {StepFault} with the path of the innermost failing step; {GoOn}; {Stopped} */
  async runOne(step: Step, path: string, words?: StepWords): Promise<void> {
    const outer = this.parts.tag
    this.parts.tag = step.tag ?? outer
    try {
      for (;;) {
        const fault = await this.tryOne(step, path, words).then(
          () => undefined,
          (error: unknown) => error,
        )
        if (fault === undefined) return
        const { rescue, halts, tag } = this.parts
        if (!(fault instanceof StepFault) || fault.attended || !rescue) throw fault
        fault.attended = true
        const rule = halts && rescue.find(fault.failure, tag)
        if (rule && !(await halts.beforeRule(fault.failure, rule, step))) throw fault
        const rescued = await rescue.attend(fault.failure, path, tag)
        if (!rescued) throw fault
        const { resume } = rescued
        if (resume !== 'step' && !(resume === 'check' && step.verb === 'check'))
          throw new GoOn(resume, fault.failure, `the recovery rule ${rescued.rule.id} says so`)
      }
    } finally {
      this.parts.tag = outer
    }
  }

  private async tryOne(step: Step, path: string, words?: StepWords): Promise<void> {
    const {
      log,
      driver,
      pace,
      how: { betweenMs, settleMs },
    } = this.parts
    await this.whileOpen()
    if (this.parts.signal.aborted) throw new Stopped()
    const { rendezvous } = this.parts
    const start = pace.now()
    const outer = this.parts.place
    this.parts.place = path
    this.parts.lastPath = path
    this.parts.onStep?.(this.parts.untilMs)
    try {
      log.say({
        type: 'step-started',
        path,
        words: words ?? wordsOf(step, this.parts.scope),
        ...valuesUsed(step, this.parts.scope),
        ...(step.because && { because: step.because }),
      })
      if (step.off)
        return log.say({ type: 'step-ended', path, outcome: 'skipped', ms: 0, note: 'switched off' })
      if (start >= this.parts.untilMs) throw tooLong(this.parts)
      if (log.isFull)
        throw new StepFault({
          kind: 'data',
          message:
            'the log of this attempt is full; a loop that ends sooner, or smaller values, keep it short',
        })
      const screens = isOnScreen(step) && (step.capture ?? this.parts.how.screens) === 'always'
      if (screens && step.verb !== 'open') await log.screen(driver, path, 'before', false)
      if (rendezvous) await rendezvous.need(step, limitOf(this.parts, step, MEET_LIMIT_MS))
      await this.wait(betweenMs)
      const { found, note, isSkipped } = await this.carryOut(step, path)
      if (changesPage(step)) await this.wait(settleMs)
      if (changesPage(step)) await this.sayPage(path)
      if (screens) await log.screen(driver, path, 'after', changesPage(step))
      log.gather(driver, path)
      const said = note ?? (found && step.verb !== 'press' ? heldNote(step, found) : undefined)
      log.say({
        type: 'step-ended',
        path,
        outcome: isSkipped ? 'skipped' : 'passed',
        ms: pace.now() - start,
        ...(found?.box && { box: found.box }),
        ...(said && { note: said }),
      })
    } catch (error) {
      await this.fail(step, path, start, error)
    } finally {
      this.parts.place = outer
    }
  }

  /** Runs a step of undo. Faults are logged and go no further. */
  async runUndo({ step, names }: Undo, path: string): Promise<void> {
    Object.assign(this.parts.scope.names, names)
    try {
      fillDeep(step as unknown, this.parts.scope)
    } catch (error) {
      if (error instanceof UnknownReference) return this.passOver(step, path, error.reference)
      // a fault of another kind is the step's own
    }
    await this.runOne(step, path).catch(() => {})
  }

  private passOver(step: Step, path: string, reference: string): void {
    const { log } = this.parts
    log.say({ type: 'step-started', path, words: describeStep(step) })
    log.say({
      type: 'step-ended',
      path,
      outcome: 'skipped',
      ms: 0,
      note: `nothing to undo: \${${reference}} was never read`,
    })
  }

  /** Waits while the attempt is paused; that time is nobody's. */
  private async whileOpen(): Promise<void> {
    const { gate, pace, log, signal } = this.parts
    if (!gate?.isClosed) return
    const begunMs = pace.now()
    log.say({ type: 'note', text: 'paused' })
    await gate.pass(signal)
    log.say({ type: 'note', text: 'goes on' })
    this.parts.untilMs += pace.now() - begunMs
  }

  /** Says where the step led, if that is another page. */
  private async sayPage(path: string): Promise<void> {
    const { driver, log } = this.parts
    const url = await driver.url().catch(() => undefined)
    if (url === undefined || url === this.parts.pageUrl) return
    this.parts.pageUrl = url
    log.say({ type: 'page', path, url, title: await driver.title().catch(() => '') })
  }

  /** A wait of the run's, within what is left of the case's time. */
  private async wait(ms: number): Promise<void> {
    if (ms > 0) await this.parts.pace.pause(Math.min(ms, left(this.parts)))
  }

  private async fail(step: Step, path: string, start: number, error: unknown): Promise<void> {
    const { log, driver, pace, signal } = this.parts
    const ms = pace.now() - start
    if (error instanceof Stopped || signal.aborted) {
      log.say({ type: 'step-ended', path, outcome: 'skipped', ms, note: 'stopped' })
      throw error instanceof Stopped ? error : new Stopped()
    }
    if (error instanceof GoOn) {
      log.say({ type: 'step-ended', path, outcome: 'skipped', ms, note: 'left by a recovery rule' })
      throw error
    }
    const failure = failureOf(error)
    const below = failure.path !== undefined && failure.path !== path
    if (isOnScreen(step) && !below && (step.capture ?? this.parts.how.screens) !== 'never')
      await log.screen(driver, path, 'after', true).catch(() => {})
    await driver.settled?.()
    log.gather(driver, path)
    const [target] = targetsOf(step)
    const box =
      target && !below
        ? (await driver.look(filledIfItCan(target, this.parts.scope)).catch(() => undefined))?.found?.box
        : undefined
    const { path: _, ...own } = failure
    log.say({
      type: 'step-ended',
      path,
      outcome: outcomeOfFailure(failure.kind),
      ms,
      ...(!below && { failure: own }),
      ...(box && { box }),
    })
    const { tag, application } = this.parts
    const placed = {
      ...failure,
      path: failure.path ?? path,
      ...(!below && tag !== undefined && { tag }),
      ...(!below && application !== undefined && { application }),
    }
    if (step.verb === 'check' && step.soft && failure.kind === 'check') this.softFailure ??= placed
    else
      throw Object.assign(new StepFault(placed), { attended: error instanceof StepFault && error.attended })
  }

  private async carryOut(step: Step, path: string): Promise<Done> {
    switch (step.verb) {
      case 'call':
        return call(this.parts, step, path)
      case 'query':
        return query(this.parts, step, path)
      case 'note':
        return {}
      case 'meet':
        if (!this.parts.rendezvous)
          throw new StepFault({
            kind: 'script',
            message: `“meet ${step.point}” is for joint cases: there is nobody here to meet`,
          })
        return {
          note: await this.parts.rendezvous.meet(step.point, limitOf(this.parts, step, MEET_LIMIT_MS)),
        }
      case 'do':
        return doneByPerson(this.parts, step, path)
      case 'use':
      case 'block':
      case 'if':
      case 'repeat':
        return this.nest(step, path)
      default:
        await concealSecrets(this.parts, step)
        return doInBrowser(this.parts, step satisfies BrowserStep, path)
    }
  }

  private async nest(step: Nesting, path: string): Promise<Done> {
    if (this.nesting >= NESTING_MOST)
      throw new StepFault({
        kind: 'data',
        message: `steps are nested deeper than ${NESTING_MOST}; does a routine use itself?`,
      })
    // A limit of a step that holds others is one for all of them together.
    const { untilMs } = this.parts
    if (step.limitMs !== undefined)
      this.parts.untilMs = Math.min(untilMs, this.parts.pace.now() + step.limitMs)
    this.nesting++
    try {
      if (step.verb === 'block') await this.runAll(step.steps, path)
      else if (step.verb === 'use') await this.use(step, path)
      else if (step.verb === 'if') return await this.branch(step, path)
      else return await this.repeat(step, path)
      return {}
    } finally {
      this.nesting--
      this.parts.untilMs = untilMs
    }
  }

  /** A routine sees its own parameters and what was read so far; its parameters do not reach the caller. Its
   * undo steps keep the values it ended with. */
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
      const names = { ...scope.names }
      this.undoStack.push(...routine.undo.map((undo) => ({ step: undo, names })))
      for (const [name, value] of Object.entries(outer)) {
        if (value === undefined) delete scope.names[name]
        else scope.names[name] = value
      }
    }
  }

  private async branch(step: StepOf<'if'>, path: string): Promise<Done> {
    const holds = await this.isSo(step.condition)
    await this.runAll(holds ? step.steps : step.otherwise, path)
    return { note: holds ? 'it is so' : 'it is not so' }
  }

  private async repeat(step: StepOf<'repeat'>, path: string): Promise<Done> {
    const { whileVisible, until, waitMs = 0, times = REPEAT_MOST } = step
    const goesOn = async () =>
      (!whileVisible || (await this.isSo({ visible: whileVisible }))) && (!until || !(await this.isSo(until)))
    let done = 0
    while (done < times && (await goesOn())) {
      await this.runAll(step.steps, `${path}.${done++}`)
      if (until && waitMs > 0) await poll(this.parts, waitMs, () => this.isSo(until), Boolean)
    }
    const isCounted = step.times !== undefined && !until
    if (done >= times && !isCounted && (await goesOn()))
      throw until
        ? new StepFault({ kind: 'check', message: `not so after ${times} times` })
        : new StepFault({ kind: 'time-limit', message: `still so after ${times} times` })
    return { note: `${done} times` }
  }

  /** Whether a condition holds at this moment; nothing is waited for. */
  async isSo(written: Condition): Promise<boolean> {
    const condition = fillDeep(written, this.parts.scope)
    if ('value' in condition) return judge(this.parts, condition.value, condition.is).holds
    const isVisible = async (target: Target) => {
      const { count, states } = await this.parts.driver.look(target)
      return count > 0 && states.includes('visible')
    }
    return 'visible' in condition ? isVisible(condition.visible) : !(await isVisible(condition.hidden))
  }
}
