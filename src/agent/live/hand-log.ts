/** What people do and say by hand, in the log of a live session: as steps, with their screens. */
import type { RecordedEvent } from '@/core/live'
import { describeStep } from '@/core/model'
import type { StepParts } from '../interpreter/parts'
import { stepsOf } from './told'

/** Events of one session: more is no person. */
const EVENTS_MOST = 3000

export class HandLog {
  private readonly events: RecordedEvent[] = []
  /** How many steps of them are in the log. */
  private logged = 0

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
    while (this.logged < upTo) {
      const { step, atMs } = steps[this.logged++]!
      const path = this.path()
      const words = { ...describeStep(step), verb: `by hand: ${describeStep(step).verb}` }
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
    log.say({
      type: 'step-ended',
      path,
      outcome: wrong ? 'failed' : 'passed',
      ms: 0,
      ...(wrong && { failure: { kind: 'check', message: log.hide(text) } }),
    })
  }
}
