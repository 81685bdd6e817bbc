/** A person steers a browser that tells nothing by itself: it is asked again and again for its picture, and
 * for what the person did. */
import { isDeepStrictEqual } from 'node:util'
import type { Box } from '@/core/execution'
import type { UploadFile } from '@/core/model'
import {
  DIALOG_EACH_MS,
  moved,
  TOLD_CHARS_MOST,
  type Input,
  type LiveBrowser,
  type LiveListeners,
  type Seen,
} from '../driver/live'
import { filesInPage } from '../driver/files'
import { factsInFrames } from '../driver/in-frames'
import { seldom } from '../driver/seldom'
import type { ScreenShot } from '../driver/port'
import type { Told } from './recording'
import type { Engine } from './engine'
import { LastDoing } from './last-doing'

/** Between two pictures: while something changes, and once nothing did for a while. */
const [BUSY_MS, IDLE_MS] = [10, 250]
const IDLE_AFTER_MS = 1500
/** Of the newest pictures the rate is the mean. */
const RATE_OF = 10

export class PolledLive<F, E> implements LiveBrowser {
  private closed = false
  private last: Uint8Array | undefined
  private changedAt = performance.now()
  /** How long the newest pictures took. */
  private readonly took: number[] = []
  private wake: (() => void) | undefined
  /** The documents that a list was opened in, and that a file was asked for in. */
  private readonly asking: { list?: F; files?: F } = {}
  private readonly lastDoing: LastDoing
  private readonly going: Promise<void>

  constructor(
    private readonly engine: Engine<F, E>,
    private readonly picture: () => Promise<ScreenShot | undefined>,
    private readonly listeners: LiveListeners,
  ) {
    engine.hearDialogs({
      ask: listeners.ask,
      dialog: seldom(DIALOG_EACH_MS, listeners.dialog),
    })
    const origin = async () => {
      const [top] = await engine.frames()
      return top === undefined ? '' : engine.run(top, 'origin')
    }
    this.lastDoing = new LastDoing({ origin, factsAt: (x, y) => this.factsAt(x, y) }, () => performance.now())
    this.going = this.go()
  }

  async input(order: Input): Promise<void> {
    // A page that has just come is listened to before anything is done there.
    if (LastDoing.leads(order)) await this.listen().catch(() => {})
    await this.lastDoing.before(order)
    await this.engine.input(order)
    this.touched()
  }

  async choose(values: readonly string[]): Promise<void> {
    const { list } = this.asking
    if (list !== undefined) await this.hear(await this.engine.run(list, 'chooseOpen', values), list)
    this.listeners.list(null)
    this.touched()
  }

  async give(files: readonly UploadFile[]): Promise<boolean> {
    const { files: frame } = this.asking
    delete this.asking.files
    const isTaken = frame !== undefined && (await this.engine.run(frame, 'giveFiles', filesInPage(files)))
    this.touched()
    return isTaken
  }

  async factsAt(x: number, y: number, w = 0, h = 0) {
    const { engine } = this
    return factsInFrames(await engine.frames(), x, y, {
      factsAt: (frame, left, top) => engine.run(frame, 'factsAt', left, top, w, h),
      viewBox: (frame) => engine.run(frame, 'viewBox'),
      rootOnPage: (frame) => this.rootOf(frame),
    })
  }

  shownWindow = () => this.engine.shownWindow()
  /** The window that is worked in is the one that is asked. */
  follow = async (): Promise<void> => this.touched()

  rate(): number {
    const mean = this.took.reduce((sum, ms) => sum + ms, 0) / Math.max(1, this.took.length)
    return mean === 0 ? 0 : Math.round(10_000 / mean) / 10
  }

  async close(): Promise<void> {
    this.closed = true
    this.wake?.()
    await this.going
    this.engine.hearDialogs(undefined)
  }

  /** Something may have changed: it is looked at once. */
  private touched(): void {
    this.changedAt = performance.now()
    this.wake?.()
  }

  private async go(): Promise<void> {
    while (!this.closed) {
      const begun = performance.now()
      // A page that is going away answers nothing for a moment.
      await this.listen().catch(() => {})
      const shot = await this.picture().catch(() => undefined)
      if (shot && !this.closed) this.show(shot, performance.now() - begun)
      const isIdle = performance.now() - this.changedAt > IDLE_AFTER_MS
      await new Promise<void>((resolve) => {
        const timer = setTimeout(resolve, isIdle ? IDLE_MS : BUSY_MS)
        this.wake = () => {
          clearTimeout(timer)
          resolve()
        }
      })
      this.wake = undefined
    }
  }

  private show({ bytes, width, height }: ScreenShot, ms: number): void {
    this.took.push(ms)
    if (this.took.length > RATE_OF) this.took.shift()
    if (this.last && isDeepStrictEqual(bytes, this.last)) return
    this.last = bytes
    this.changedAt = performance.now()
    this.listeners.frame(bytes, width, height)
  }

  private async listen(): Promise<void> {
    for (const frame of await this.engine.frames())
      for (const told of await this.engine.run(frame, 'takeTold').catch(() => []))
        await this.hear(told, frame)
    const lost = await this.lastDoing.lost()
    if (lost) this.listeners.seen(lost)
  }

  private async hear(json: string, frame: F): Promise<void> {
    if (typeof json !== 'string' || json.length > TOLD_CHARS_MOST) return
    const told = JSON.parse(json) as Told
    if ('event' in told) {
      if (told.carried && this.lastDoing.gaveAlready(told.event as Seen)) return
      this.lastDoing.told(told.event as Seen)
      this.listeners.seen(told.event as Seen)
    } else if ('files' in told) {
      this.asking.files = frame
      this.listeners.files(told.files.several)
    } else if (told.list === null) this.listeners.list(null)
    else {
      this.asking.list = frame
      const root = await this.rootOf(frame)
      this.listeners.list(root ? moved(told.list, root.x - told.root.x, root.y - told.root.y) : told.list)
    }
  }

  /** Where a document begins on the page. */
  private async rootOf(frame: F): Promise<Box | undefined> {
    const { engine } = this
    return engine
      .element(frame, 'css', { css: ':root' })
      .then((root) => engine.box(frame, root))
      .catch(() => undefined)
  }
}
