/** What people do and say by hand, in the log of a live session: as steps, with their screens. */
import type { Failure } from '@/core/execution'
import type { RecordedEvent } from '@/core/live'
import { describeStep } from '@/core/model'
import type { StepParts } from '../interpreter/parts'
import { stepsOf } from './told'

/** Events of one session: more is no person. */
const EVENTS_MOST = 3000

export class HandLog {
  private readonly events: RecordedEvent[] = []
  /** What was noticed to be wrong first: the session did not pass then. */
  wrong: Failure | undefined
  /** Steps of them that are in the log, by when and what: one may turn out to be none later, and is no step
   * of the recording then. */
  private readonly logged = new Set<string>()

  /** @param path of the next step of the log */
  constructor(
    private readonly parts: Pick<StepParts, 'log' | 'driver' | 'pace'>,
    private readonly path: () => string,
  ) {}

  get isFull(): boolean {
    return this.events.length >= EVENTS_MOST
  }

  add(event: RecordedEvent): void {
    this.events.push(event)
  }

  /** The file field that was clicked last. */
  get fileField() {
    const asked = this.events.findLast((event) => event.kind === 'click' && event.element.type === 'file')
    return asked?.kind === 'click' ? asked.element : undefined
  }

  /** @param whole the newest step, too: nothing changes it any more */
  async write(whole: boolean): Promise<void> {
    const { log, driver } = this.parts
    const steps = stepsOf(this.events)
    const upTo = whole ? steps.length : steps.length - 1
    for (const { step, atMs } of steps.slice(0, upTo)) {
      const said = describeStep(step)
      const key = [atMs, said.verb, said.object].join(' ')
      if (this.logged.has(key)) continue
      this.logged.add(key)
      const path = this.path()
      const words = { ...said, verb: `by hand: ${said.verb}` }
      log.say({ type: 'step-started', path, words }, atMs)
      await log.screen(driver, path, 'after', true).catch(() => {})
      log.gather(driver, path)
      log.say({ type: 'step-ended', path, outcome: 'passed', ms: 0 })
    }
  }

  /** What somebody noticed, with the screen of the moment. @param wrong a failure, to draft a defect from */
  async remark(text: string, wrong: boolean, by: string): Promise<void> {
    const { log, driver } = this.parts
    await this.write(true)
    const path = this.path()
    const words = { verb: wrong ? 'noticed' : 'noted', object: text, detail: `by ${by}` }
    log.say({ type: 'step-started', path, words: log.hide(words) })
    await log.screen(driver, path, 'after', true).catch(() => {})
    log.gather(driver, path)
    if (wrong) this.wrong ??= { kind: 'check', message: log.hide(text), path }
    log.say({
      type: 'step-ended',
      path,
      outcome: wrong ? 'failed' : 'passed',
      ms: 0,
      ...(wrong && { failure: { kind: 'check', message: log.hide(text) } }),
    })
  }
}
