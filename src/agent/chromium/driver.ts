/** Chromium behind the port, through playwright-core. */
import type { BrowserContext, CDPSession, Locator, Page } from 'playwright-core'
import {
  type Clicking,
  type ElementState,
  type Environment,
  type NetworkChange,
  type Target,
  type UploadFile,
  type WayToGo,
} from '@/core/model'
import {
  DriverFault,
  SOURCE_MOST,
  type BrowserDriver,
  type Found,
  type Identity,
  type LogEntry,
  type Look,
  type Pace,
  type ScreenShot,
} from '../driver/port'
import { ask, askPage, type Answers, type Question } from './asking'
import { comeToRest } from './come-to-rest'
import { atOnce, boxAndAnswers, LOOK_MS, whyNot } from './element'
import { clickAt } from './clicking'
import { pictureOf, shrunk } from './picture'
import { chooseIn } from './choosing'
import { Concealing } from './concealing'
import { candidates, locate, type Located } from './locate'
import { identityIn } from './identity'
import { ChromiumLive } from './live'
import { Network } from './network'
import type { PageWatch } from './page-watch'
import type { VideoRecorder } from './video'
import { DIALOG_EACH_MS, type LiveListeners } from '../driver/live'
import { seldom } from '../driver/seldom'
import { bytesOfFile, filesInPage, mediaTypeOf, takesNoFiles } from '../driver/files'
import { firstStays, goOn } from '../driver/going'
import { reasonOf } from '../driver/reason'
import { sourceOfFrames } from '../driver/source'

/** After an action that leads elsewhere, the page gets this long to arrive before the next step looks for
 * itself. */
const ARRIVAL_MS = 3000
/** A page that follows the pointer sees it come. */
const DRAG_STEPS = 10

/** Width of the small live picture: twice the width it is shown at. */
const PEEK_WIDTH = 400

/** After a failed navigation the browser loads an error page of its own, a moment later. It is waited for:
 * otherwise it would cancel the next navigation. */
const SHOWS_ERROR_PAGE = /net::ERR_(?!ABORTED)/
const ERROR_PAGE_MS = 3000

const GONE: Look = { count: 0, text: '', value: '', states: ['hidden'] }

export class ChromiumDriver implements BrowserDriver {
  private readonly sessions = new WeakMap<Page, Promise<CDPSession>>()
  private rules: Network | undefined
  private readonly concealing = new Concealing((page) => this.cdp(page))
  readonly identity: Identity

  constructor(
    private readonly context: BrowserContext,
    private readonly environment: Environment,
    private readonly pace: Pace,
    private readonly video: VideoRecorder | undefined,
    private readonly watch: PageWatch,
    readonly facts: Record<string, string>,
  ) {
    this.identity = identityIn(context, () => this.page)
  }

  /** The window that is worked in; where that went away, the first that is left. */
  private get page(): Page {
    const { shown } = this.watch
    return shown.isClosed() ? (this.context.pages()[0] ?? shown) : shown
  }

  private async cdp(page = this.page): Promise<CDPSession> {
    const session = this.sessions.get(page) ?? this.context.newCDPSession(page)
    this.sessions.set(page, session)
    return session
  }

  async open(url: string, limitMs: number): Promise<void> {
    this.watch.arrivedWith = 200
    this.watch.dismissed = undefined
    await this.page.goto(url, { timeout: limitMs, waitUntil: 'load' }).catch(async (error: unknown) => {
      if (SHOWS_ERROR_PAGE.test((error as Error).message))
        await this.page
          .waitForURL(/^chrome-error:/, { timeout: ERROR_PAGE_MS, waitUntil: 'commit' })
          .catch(() => {})
      throw new DriverFault('page', `the page does not open: ${reasonOf(error)}`)
    })
    this.requireArrival()
  }

  async go(where: WayToGo, limitMs: number): Promise<void> {
    this.watch.arrivedWith = 200
    const how = { timeout: limitMs, waitUntil: 'load' } as const
    await goOn(where, this.url, {
      back: () => this.page.goBack(how),
      forward: () => this.page.goForward(how),
      reload: () => this.page.reload(how),
    })
    this.requireArrival()
  }

  async click(target: Target, limitMs: number, how: Clicking = {}): Promise<Found> {
    const click = async (locator: Locator, limit: number, [moves]: readonly [boolean]) => {
      const left = moves ? await comeToRest(locator, limit) : limit
      this.watch.arrivedWith = 200
      if (target.spot) await clickAt(this.page, target.spot, how)
      else
        await locator.click({
          timeout: left,
          ...(how.times !== undefined && { clickCount: how.times }),
          ...(how.button && { button: how.button }),
          ...(how.with && { modifiers: how.with }),
          ...(how.holdMs !== undefined && { delay: how.holdMs }),
        })
      await this.waitForPage()
      this.requireArrival()
    }
    return this.act(target, limitMs, click, [['isAnimated']])
  }

  async type(
    target: Target,
    text: string,
    limitMs: number,
    hide = false,
  ): Promise<Found & { masked: boolean }> {
    let masked = false
    const found = await this.act(
      target,
      limitMs,
      (locator, left, [{ type }]) => {
        masked = type === 'password'
        return locator.fill(text, { timeout: left })
      },
      [['kindOf'], ['hideField', hide ? text : null]],
    )
    return { ...found, masked }
  }

  async choose(
    target: Target,
    option: string,
    limitMs: number,
    also: readonly string[] = [],
  ): Promise<Found> {
    return this.act(
      target,
      limitMs,
      (locator, left, [choice]) => chooseIn(locator, choice, [option, ...also], left),
      [['choiceOf']],
    )
  }

  async press(key: string, target: Target | undefined, limitMs: number): Promise<Found | undefined> {
    if (target) return this.act(target, limitMs, (locator, left) => locator.press(key, { timeout: left }))
    await this.page.keyboard.press(key)
    await this.waitForPage()
    return undefined
  }

  hover = (target: Target, limitMs: number) =>
    this.act(target, limitMs, (locator, left) => locator.hover({ timeout: left }))

  async drag(from: Target, to: Target, limitMs: number): Promise<Found> {
    const { locator } = await locate(this.page, to, limitMs)
    return this.act(from, limitMs, (dragged, left) =>
      dragged.dragTo(locator, { timeout: left, steps: DRAG_STEPS }),
    )
  }

  upload = (target: Target, files: readonly UploadFile[], limitMs: number) =>
    this.act(target, limitMs, async (locator, left) => {
      if ((await locator.getAttribute('type', { timeout: left })) !== 'file') {
        const [taken] = await ask(locator, [['dropFiles', filesInPage(files)]], left)
        if (taken) return
        throw takesNoFiles(target)
      }
      await locator.setInputFiles(
        files.map((file) => ({ name: file.name, mimeType: mediaTypeOf(file), buffer: bytesOfFile(file) })),
        { timeout: left },
      )
    })

  scrollTo = (target: Target, limitMs: number) =>
    this.act(target, limitMs, (locator, left) => locator.scrollIntoViewIfNeeded({ timeout: left }))

  async scrollBy(by: number | undefined, within: Target | undefined, limitMs: number): Promise<boolean> {
    if (!within) return askPage(this.page.mainFrame(), 'scrollPage', by ?? null)
    const { locator } = await locate(this.page, within, limitMs)
    const [moved] = await ask(locator, [['scrollAt', by ?? null]], limitMs)
    return moved
  }

  windows = () =>
    Promise.all(
      this.context.pages().map(async (page) => ({
        title: await page.title().catch(() => ''),
        url: page.url(),
      })),
    )

  async showWindow(index: number, limitMs: number): Promise<void> {
    const page = this.context.pages()[index]
    if (!page) throw new DriverFault('page', 'this window is not there any more')
    this.watch.shown = page
    await this.concealing.in(page)
    await page.bringToFront()
    await page.waitForLoadState('load', { timeout: limitMs }).catch(() => {})
  }

  async closeWindow(limitMs: number): Promise<void> {
    const [first] = this.context.pages()
    const { page } = this
    if (!first || first === page) throw firstStays()
    await page.close()
    await this.showWindow(0, limitMs)
  }

  async answerDialog(accept: boolean, text: string | undefined): Promise<void> {
    this.watch.nextAnswer = { accept, text }
  }

  async attribute(target: Target, name: string): Promise<string | undefined> {
    const [first] = await candidates(this.page, target)
    if (first?.count !== 1) return undefined
    const [value] = await ask(first.locator, [['attribute', name]], LOOK_MS).catch(() => [null])
    return value ?? undefined
  }

  async look(target: Target): Promise<Look> {
    const [first] = await candidates(this.page, target)
    if (!first) return GONE
    if (first.count > 1)
      return { count: first.count, text: '', value: '', states: ['visible'], found: { way: first.way } }
    const seen = await boxAndAnswers(first, [['read']], LOOK_MS).catch(() => undefined)
    if (!seen) return GONE
    const {
      box,
      answers: [{ states, ...said }],
    } = seen
    return {
      count: 1,
      ...said,
      states: states as ElementState[],
      found: { way: first.way, ...(box && { box }) },
    }
  }

  url = async () => this.page.url()
  title = () => this.page.title().catch(() => '')
  downloads = async () => [...this.watch.files]
  downloaded = (name: string) => this.watch.downloaded(name)
  dialogs = async () => [...this.watch.dialogs]
  network = (change: NetworkChange) => (this.rules ??= new Network(this.context)).change(change)
  conceal = async (texts: readonly string[], origins: readonly string[]) =>
    this.concealing.conceal(this.page, texts, origins)
  source = () =>
    sourceOfFrames(this.page.frames().map((frame) => () => askPage(frame, 'source', SOURCE_MOST)))

  async screen(): Promise<ScreenShot | undefined> {
    const { width, height } = this.environment
    const bytes = await pictureOf(this.cdp(), 80)
    return bytes && { bytes, mime: 'image/jpeg', width, height }
  }

  async exact(): Promise<ScreenShot | undefined> {
    for (const frame of this.page.frames()) await askPage(frame, 'hideCaret').catch(() => {})
    const bytes = await pictureOf(this.cdp(), 'exact')
    const { width, height } = this.environment
    return bytes && { bytes, mime: 'image/png', width, height }
  }

  async peek(): Promise<Pick<ScreenShot, 'bytes' | 'mime'> | undefined> {
    const bytes = await pictureOf(this.cdp(), 60)
    return bytes && { bytes: await shrunk(bytes, PEEK_WIDTH), mime: 'image/jpeg' }
  }

  async openDialog(): Promise<string | undefined> {
    if (this.watch.dismissed !== undefined) return this.watch.dismissed
    return (await askPage(this.page.mainFrame(), 'openDialog').catch(() => null)) ?? undefined
  }

  get broken(): Promise<DriverFault> {
    return this.watch.broken
  }

  settled = () => this.watch.settled()
  takeLog(): LogEntry[] {
    return this.watch.log.take()
  }

  lost = () => this.watch.log.lost
  async live(listeners: LiveListeners): Promise<ChromiumLive> {
    const live = await ChromiumLive.open(this.context, () => this.page, this.environment, listeners)
    this.watch.onDialog = seldom(DIALOG_EACH_MS, listeners.dialog)
    this.watch.ask = listeners.ask
    return live
  }

  stopVideo = async () => this.video?.stop()

  async close(): Promise<void> {
    this.video?.discard()
    this.watch.isClosing = true
    await this.context.close().catch(() => {})
  }

  /** Finds, does, and says in our words why it could not.
   * @param questions asked about the element before */
  private async act<const Q extends readonly Question[] = []>(
    target: Target,
    limitMs: number,
    action: (locator: Locator, leftMs: number, answers: Answers<Q>) => Promise<unknown>,
    questions?: Q,
  ): Promise<Found> {
    const until = performance.now() + limitMs
    let located: Located | undefined
    try {
      const asked = questions ?? ([] as unknown as Q)
      const left = () => Math.max(500, until - performance.now())
      const quick = await atOnce(this.page, target, asked)
      located = quick?.located ?? (await locate(this.page, target, limitMs))
      const { box, answers } = quick ?? (await boxAndAnswers(located, asked, left()))
      await action(located.locator, left(), answers)
      return { way: located.way, ...(box && { box }) }
    } catch (error) {
      throw await whyNot(error, located, await this.openDialog())
    }
  }

  private async waitForPage(): Promise<void> {
    await this.page.waitForLoadState('load', { timeout: ARRIVAL_MS }).catch(() => {})
  }

  private requireArrival(): void {
    if (this.watch.arrivedWith >= 500)
      throw new DriverFault('page', `the page answers ${this.watch.arrivedWith}`)
  }
}
