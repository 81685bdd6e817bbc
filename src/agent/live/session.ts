/** A live session: a person steers the browser of an attempt, and has it carry out steps as they go. */
import type { LiveOrder, LiveWord, RecordedEvent } from '@/core/live'
import type { UploadFile } from '@/core/model'
import { outcomeOfFailure, type Failure } from '@/core/execution'
import { openWithMemory, type Done, type LiveBrowser } from '../driver/live'
import { inTime, LATE } from '../driver/in-time'
import { DriverFault } from '../driver/port'
import { failureOf, GoOn, StepFault, Stopped } from '../interpreter/fault'
import { addressOf, type AskPerson, type Runner, type StepParts, type Verdict } from '../interpreter/parts'
import type { LiveChannel } from './channel'
import { Dialogs } from './dialogs'
import { sendDownload } from './downloads'
import { Halts } from './halts'
import { HandLog } from './hand-log'
import { Question } from './question'
import { isEvent, pickedBy, placeOf, reasonOf, stepsOf } from './told'

/** A person who asks for more time gets so much, up to a most from the beginning. */
const LONGER_MS = 10 * 60_000
const WHOLE_MOST_MS = 4 * 3_600_000
/** What changed is said so much later, all at once. */
const SAY_MS = 80
const STATE_MS = 1000
const OPEN_MS = 15_000
/** Of what is done at once. */
const ANSWER_MS = 3000
/** Orders that wait; then moves of the mouse are left out. */
const WAITING_MOST = 4

type Asked = Parameters<AskPerson>[0]
type StepsOrder = Extract<LiveOrder, { do: 'steps' }>

export class LiveSession {
  private readonly byHand: HandLog
  /** What was recorded since it was taken along, or thrown away. */
  private kept: RecordedEvent[] = []
  private recording = true
  private working = false
  private stopping = false
  private nextPath = 0
  private browser: LiveBrowser | undefined
  private end!: (how: { undo: boolean }) => void
  private readonly ended = new Promise<{ undo: boolean }>((resolve) => (this.end = resolve))
  /** Orders are carried out one after the other. */
  private turn: Promise<unknown> = Promise.resolve()
  /** What is done by hand while the steps wait for a person. */
  private handTurn: Promise<unknown> = Promise.resolve()
  private waiting = 0
  /** What was said last of where the browser is. */
  private state: Extract<LiveWord, { say: 'state' }> | undefined
  private asking = false
  private saying: NodeJS.Timeout | undefined
  private readonly begunMs: number
  private readonly dialogs: Dialogs
  /** A step that is for a person waits for their verdict. */
  private readonly judging: Question<Asked, Verdict>
  private readonly halts: Halts

  constructor(
    private readonly parts: StepParts,
    private readonly runner: Runner,
    private readonly channel: LiveChannel,
  ) {
    this.begunMs = parts.pace.now()
    this.byHand = new HandLog(parts, this.path)
    this.judging = new Question((asked) => this.say({ say: 'judge', asked }))
    this.halts = new Halts(
      (held) => this.say({ say: 'held', held }),
      (condition) => runner.isSo(condition),
      parts.work.routines,
    )
    parts.halts = this.halts
    parts.askPerson = (asked) => this.judging.ask(asked)
    this.dialogs = new Dialogs(this.say, (event, atMs) => this.note(event, atMs), parts.pace.now)
  }

  /** Until somebody ends it, its time is up, or the attempt is stopped.
   * @returns whether undo steps are wanted, and what was noticed to be wrong first
   * @throws {Stopped}; {StepFault} this browser cannot be steered, or went away */
  async serve(): Promise<{ undo: boolean; failure?: Failure }> {
    const { parts } = this
    const { driver, signal } = parts
    if (!driver.live)
      throw new StepFault({
        kind: 'agent',
        message: 'This browser cannot be steered live: choose another environment',
      })
    this.browser = await openWithMemory((listeners) => driver.live!(listeners), {
      frame: (jpeg, width, height) => this.channel.frame(jpeg, width, height),
      seen: (event) => this.note(event),
      list: (list) => this.say({ say: 'list', list }),
      files: (several) => this.say({ say: 'files', several }),
      // what steps are carried out for, they answer
      ask: async (dialog) => (this.working ? undefined : this.dialogs.ask(dialog)),
      dialog: (words, answer) => this.dialogs.sayAnswered(words, answer),
    })
    this.channel.onOrder = (order) => this.take(order)
    this.channel.onOpen = () => this.sayAll()
    this.sayAll()
    const ticking = setInterval(() => void this.tick(), STATE_MS)
    const stopped = new Promise<never>((_, reject) => {
      if (signal.aborted) reject(new Stopped())
      signal.addEventListener('abort', () => reject(new Stopped()), { once: true })
    })
    const broken = driver.broken?.then((fault) => {
      throw fault
    })
    try {
      const ended = await Promise.race([this.ended, stopped, ...(broken ? [broken] : [])])
      return { ...ended, ...(this.byHand.wrong && { failure: this.byHand.wrong }) }
    } finally {
      clearInterval(ticking)
      clearTimeout(this.saying)
      parts.askPerson = undefined
      parts.halts = undefined
      await this.byHand.write(true)
      await inTime(this.browser.close(), ANSWER_MS).catch(() => {})
      this.channel.close()
    }
  }

  /** Nobody hears a secret, whatever it stands in. */
  private say = (word: LiveWord): void => this.channel.say(this.parts.log.hide(word))

  private take(order: LiveOrder): void {
    if (order.do === 'stop') {
      this.stopping = true
      this.judging.take({ is: 'skipped', note: 'stopped', by: 'who steers' })
      this.halts.take('stop')
      return
    }
    if (order.do === 'verdict') return void this.judging.take({ by: 'a person', ...order })
    if (order.do === 'go-on') return void this.halts.take(order)
    if (order.do === 'end') return this.end({ undo: order.undo })
    if (order.do === 'longer') return this.longer()
    if (order.do === 'dialog' && this.dialogs.question.take(order)) return
    const isInput = order.do === 'mouse' || order.do === 'wheel' || order.do === 'key' || order.do === 'text'
    // the steps have the browser, but where one is for a person; or a dialog has it
    const isByHand = this.working && this.waits
    if (isInput && ((this.working && !isByHand) || this.dialogs.question.isOpen)) return
    if (isInput && !(order.do === 'mouse' && order.type === 'move')) this.dialogs.begin()
    // a browser that is slower than the mouse sees where it came to
    if (order.do === 'mouse' && order.type === 'move' && this.waiting >= WAITING_MOST) return
    this.waiting++
    const done = (isByHand ? this.handTurn : this.turn)
      .then(() => this.carryOut(order))
      .catch((error: unknown) => this.say({ say: 'problem', message: reasonOf(error) }))
      .finally(() => this.waiting--)
    if (isByHand) this.handTurn = done
    else this.turn = done
  }

  private async carryOut(order: LiveOrder): Promise<void> {
    const browser = this.browser!
    const { driver } = this.parts
    switch (order.do) {
      case 'mouse':
      case 'wheel':
      case 'key':
      case 'text':
        return this.answered(browser.input(order))
      case 'choose':
        return this.answered(browser.choose(order.values))
      case 'open':
        await driver.open(addressOf(this.parts, order.address), OPEN_MS)
        return this.note({ kind: 'open', address: order.address })
      case 'go':
        await driver.go(order.to, OPEN_MS)
        return this.note({ kind: 'go', to: order.to })
      case 'tab':
        await driver.showWindow(order.index, OPEN_MS)
        await browser.follow()
        return this.sayState()
      case 'files':
        if (await this.answered(browser.give(order.files))) this.noteFiles(order.files)
        return
      case 'dialog':
        await driver.answerDialog(order.answer === 'accept', order.text)
        return this.note({
          kind: 'dialog',
          answer: order.answer,
          ...(order.text !== undefined && { text: order.text }),
        })
      case 'record':
        this.recording = order.on
        return this.sayState()
      case 'forget':
        this.kept = []
        return this.sayRecorded()
      case 'pick':
        return this.say({ say: 'picked', facts: await pickedBy(order, driver, browser, this.answered) })
      case 'locate': {
        const { count, found } = await driver.look(order.target)
        return this.say({ say: 'located', count, box: found?.box ?? null })
      }
      case 'set':
        if (!Object.hasOwn(this.parts.scope.names, order.name)) return
        this.parts.scope.names[order.name] = order.value
        this.parts.log.say({ type: 'note', text: `by hand: ${order.name} is “${order.value}” from now on` })
        return this.sayState()
      case 'row': {
        const { index, values = {} } = order
        this.parts.scope.row = values
        this.parts.log.say({ type: 'note', text: `by hand: row ${index} from now on` })
        return this.sayState()
      }
      case 'remark':
        return this.byHand.remark(order.text, order.wrong, order.by ?? 'a person')
      case 'take':
        return sendDownload(driver, order.name, this.parts.log, this.channel.say)
      case 'steps':
        return this.play(order)
    }
  }

  /** A page that stopped answers nothing: who steers it is told, and can still end it. One with a dialog
   * waits for a person.
   * @throws {DriverFault} page */
  private readonly answered = async <T>(work: Promise<T>): Promise<T> => {
    for (;;) {
      const answer = await inTime(work, ANSWER_MS)
      if (answer !== LATE) return answer
      if (!this.dialogs.question.isOpen)
        throw new DriverFault('page', 'The page does not answer: it may be busy, or have stopped')
    }
  }

  /** Steps one after the other, up to one that fails. */
  private async play({ steps, pauseMs = 0 }: StepsOrder): Promise<void> {
    this.working = true
    this.stopping = false
    this.halts.begin(steps)
    await this.byHand.write(true)
    await this.sayState()
    try {
      for (const [i, one] of steps.entries()) {
        if (this.stopping) return
        // who begins at a step means that one
        if (i > 0 && ((await this.halts.isAt(one.step)) || this.halts.isLeft))
          return this.say({ say: 'stopped', id: one.id })
        if (i > 0) await this.parts.pace.pause(pauseMs)
        if (!(await this.playOne(one))) return
      }
    } finally {
      this.working = false
      await this.browser!.follow()
      await this.sayState()
    }
  }

  private async playOne({ id, step }: StepsOrder['steps'][number]): Promise<boolean> {
    const begun = this.parts.pace.now()
    const said = (mark: Extract<LiveWord, { say: 'step' }>['mark']) => ({
      say: 'step' as const,
      id,
      mark,
      ms: this.parts.pace.now() - begun,
    })
    this.say({ say: 'step', id, mark: 'running' })
    try {
      await this.runner.runOne(step, this.path())
      this.say(said('passed'))
      return true
    } catch (error) {
      if (error instanceof Stopped) throw error
      const failure = error instanceof GoOn ? error.failure : failureOf(error)
      this.say({ ...said(outcomeOfFailure(failure.kind)), failure })
      return false
    }
  }

  /** A person has the browser while steps wait for them. */
  private get waits(): boolean {
    return this.judging.isOpen || this.halts.isOpen
  }

  private path = (): string => `main.${this.nextPath++}`

  private note(event: Done, atMs = this.parts.pace.now()): void {
    const whole = { ...event, atMs: Math.round(atMs) } as RecordedEvent
    if (this.working || this.byHand.isFull || !isEvent(whole)) return
    const hidden = this.parts.log.hide(whole)
    this.byHand.add(hidden)
    if (this.recording) this.kept.push(hidden)
    if (this.byHand.isFull)
      this.say({ say: 'problem', message: 'This session has recorded all it can: begin another one' })
    clearTimeout(this.saying)
    this.saying = setTimeout(() => {
      this.sayRecorded()
      void this.byHand.write(false)
    }, SAY_MS)
  }

  /** The field they were given to is the one that was clicked last; a page may have opened the choice by
   * itself. */
  private noteFiles(files: UploadFile[]): void {
    const element = this.byHand.fileField
    if (element) return this.note({ kind: 'files', element, files })
    this.say({
      say: 'problem',
      message: 'The file was given, but which field took it cannot be told: add an upload step by hand',
    })
  }

  private sayRecorded(): void {
    this.say({ say: 'recorded', steps: stepsOf(this.kept) })
  }

  private longer(): void {
    const { parts } = this
    const most = this.begunMs + WHOLE_MOST_MS
    parts.untilMs = Math.min(most, Math.max(parts.untilMs, parts.pace.now()) + LONGER_MS)
    parts.onStep?.(parts.untilMs)
    void this.sayState()
  }

  private async tick(): Promise<void> {
    if (this.leftMs() <= 0) {
      this.parts.log.say({ type: 'note', text: 'the time of the session was up' })
      return this.end({ undo: true })
    }
    // a page that steps work on, or that does not answer, is not asked once more
    const isBusy = this.working && !this.waits
    if (isBusy || this.asking || this.dialogs.question.isOpen) {
      if (this.state) this.say({ ...this.state, working: this.working, leftMs: this.leftMs() })
      return
    }
    this.asking = true
    await this.browser?.follow().catch(() => {})
    await this.sayState().catch(() => {})
    this.asking = false
  }

  private leftMs = () => Math.max(0, this.parts.untilMs - this.parts.pace.now())

  private sayAll(): void {
    void this.sayState().catch(() => {})
    this.sayRecorded()
    this.dialogs.question.sayOpen()
    this.judging.sayOpen()
    this.halts.sayOpen()
  }

  private async sayState(): Promise<void> {
    const seen = await placeOf(this.parts, this.browser)
    const { recording, working } = this
    this.state = { say: 'state', ...seen, recording, working, leftMs: this.leftMs() }
    this.say(this.state)
  }
}
