/** A Chromium that a person steers: pictures by the browser's own screencast, input through the protocol, and
 * what the person does told by a script that runs beside those of the page. */
import type { BrowserContext, CDPSession, FileChooser, Frame, Page } from 'playwright-core'
import type { Environment, HeldKey, UploadFile } from '@/core/model'
import {
  moved,
  TOLD_CHARS_MOST,
  type Input,
  type LiveBrowser,
  type LiveListeners,
  type Seen,
} from '../driver/live'
import type { LiveList } from '@/core/live'
import { bytesOfFile, mediaTypeOf } from '../driver/files'
import { factsInFrames, type FrameAsking } from '../driver/in-frames'
import { pageScript } from '../page/script'
import { askPage } from './asking'
import { isTouched } from './conditions'

const WORLD = 'oak-live'
const BINDING = 'oakTells'
const QUALITY = 72
/** At most so many pictures a second go on: nobody sees more. */
const FRAMES_MOST = 28
const FRAME_MS = 1000 / FRAMES_MOST
const FILES_MS = 3000

/** `speaker`: the document that said something last; only there a list can be open. */
type Watched = { page: Page; session: CDPSession; speaker?: Speaker }
type Speaker = { session: CDPSession; context: number; frame: string | undefined }

export class ChromiumLive implements LiveBrowser {
  private readonly watched = new Map<Page, Promise<Watched>>()
  private readonly ofFrames = new WeakMap<Frame, CDPSession>()
  private shown: Page | undefined
  private lastStamp = -1
  /** The newest picture that did not go on yet, and when the last did. */
  private waiting: Buffer | undefined
  private sending: NodeJS.Timeout | undefined
  private lastSent = 0
  /** A finger is on the view. */
  private isDown = false
  /** What asked for files last. */
  private asks: FileChooser | undefined

  private constructor(
    private readonly context: BrowserContext,
    private readonly pageNow: () => Page,
    private readonly environment: Environment,
    private readonly listeners: LiveListeners,
  ) {}

  /** @param pageNow the window that is worked in */
  static async open(
    context: BrowserContext,
    pageNow: () => Page,
    environment: Environment,
    listeners: LiveListeners,
  ): Promise<ChromiumLive> {
    const live = new ChromiumLive(context, pageNow, environment, listeners)
    context.on('page', (page) => void live.watch(page).catch(() => {}))
    for (const page of context.pages()) await live.watch(page)
    await live.follow()
    return live
  }

  async follow(): Promise<void> {
    const page = this.pageNow()
    if (page === this.shown) return
    const before = this.shown && this.watched.get(this.shown)
    this.shown = page
    this.lastStamp = -1
    await (await before)?.session.send('Page.stopScreencast').catch(() => {})
    await page.bringToFront().catch(() => {})
    const { session } = await this.watch(page)
    await session.send('Page.startScreencast', {
      format: 'jpeg',
      quality: QUALITY,
      everyNthFrame: 1,
      maxWidth: this.environment.width,
      maxHeight: this.environment.height,
    })
  }

  async input(order: Input): Promise<void> {
    const { mouse, keyboard } = this.pageNow()
    switch (order.do) {
      case 'mouse': {
        if (isTouched(this.environment) && (order.button === 'left' || this.isDown)) return this.touch(order)
        const { x, y, button, clicks: clickCount } = order
        await mouse.move(x, y)
        if (order.type === 'move' || button === 'none') return
        await this.holding(order.with, () =>
          order.type === 'down' ? mouse.down({ button, clickCount }) : mouse.up({ button, clickCount }),
        )
        return
      }
      case 'wheel':
        await mouse.move(order.x, order.y)
        return mouse.wheel(order.dx, order.dy)
      case 'text':
        return keyboard.insertText(order.text)
      case 'key':
        return this.key(order)
    }
  }

  async choose(values: readonly string[]): Promise<void> {
    const watched = await this.watch(this.pageNow())
    const { speaker } = watched
    if (!speaker) return
    const { result } = await speaker.session.send('Runtime.evaluate', {
      expression: `oakPage.chooseOpen(${JSON.stringify(values)})`,
      contextId: speaker.context,
      returnByValue: true,
    })
    if (typeof result.value === 'string') await this.hear(result.value, watched, speaker.frame)
    this.listeners.list(null)
  }

  async give(files: readonly UploadFile[]): Promise<boolean> {
    const { asks } = this
    this.asks = undefined
    if (!asks) return false
    const given = files.map((file) => ({
      name: file.name,
      mimeType: mediaTypeOf(file),
      buffer: bytesOfFile(file),
    }))
    if (given.length > 0) await asks.setFiles(given, { timeout: FILES_MS })
    return given.length > 0
  }

  shownWindow = async () => this.context.pages().indexOf(this.pageNow())
  factsAt = (x: number, y: number, w = 0, h = 0) =>
    factsInFrames(this.pageNow().frames(), x, y, inFrames(w, h)).catch(() => null)

  async close(): Promise<void> {
    clearTimeout(this.sending)
    const all = await Promise.all([...this.watched.values()].map((one) => one.catch(() => undefined)))
    await Promise.all(all.map((one) => one?.session.detach().catch(() => {})))
  }

  /** The finger of a handset: down where the button of the mouse is. */
  private async touch({ type, x, y }: Extract<Input, { do: 'mouse' }>): Promise<void> {
    if (type !== 'down' && !this.isDown) return // the browser refuses the end of a touch that never began
    const { session } = await this.watch(this.pageNow())
    this.isDown = type !== 'up'
    await session.send('Input.dispatchTouchEvent', {
      type: ({ down: 'touchStart', move: 'touchMove', up: 'touchEnd' } as const)[type],
      touchPoints: this.isDown ? [{ x, y }] : [],
    })
  }

  /** A key by its name where the keyboard has it; else what it writes. */
  private async key({ type, key, with: held }: Extract<Input, { do: 'key' }>): Promise<void> {
    const { keyboard } = this.pageNow()
    const isLetter = [...key].length === 1
    const isShortcut = held.some((one) => one !== 'Shift')
    try {
      await (type === 'down' ? keyboard.down(key) : keyboard.up(key))
    } catch (error) {
      if (!isLetter || isShortcut) throw error
      if (type === 'down') await keyboard.insertText(key)
    }
  }

  /** The keys that a person holds while clicking: they were pressed in another window. */
  private async holding(held: readonly HeldKey[], act: () => Promise<void>): Promise<void> {
    const { keyboard } = this.pageNow()
    for (const key of held) await keyboard.down(key)
    try {
      await act()
    } finally {
      for (const key of held) await keyboard.up(key)
    }
  }

  private watch(page: Page): Promise<Watched> {
    const known = this.watched.get(page)
    if (known) return known
    const watched = this.begin(page)
    this.watched.set(page, watched)
    page.once('close', () => this.watched.delete(page))
    return watched
  }

  private async begin(page: Page): Promise<Watched> {
    const session = await this.context.newCDPSession(page)
    const watched: Watched = { page, session }
    session.on('Page.screencastFrame', ({ data, metadata, sessionId }) => {
      // at once: while several are not acknowledged the browser drops the next, which may be the last of all
      void session.send('Page.screencastFrameAck', { sessionId }).catch(() => {})
      const stamp = metadata.timestamp ?? 0
      // they may come out of order
      if (page !== this.shown || stamp <= this.lastStamp) return
      this.lastStamp = stamp
      this.pass(Buffer.from(data, 'base64'))
    })
    page.on('filechooser', (chooser) => {
      this.asks = chooser
      this.listeners.files(chooser.isMultiple())
    })
    await this.listen(watched, session)
    page.on('framenavigated', (frame) => void this.listenInFrame(watched, frame).catch(() => {}))
    await Promise.all(page.frames().map((frame) => this.listenInFrame(watched, frame).catch(() => {})))
    return watched
  }

  /** Frames of other sites have a process of their own, which the session of the page does not reach. */
  private async listenInFrame(watched: Watched, frame: Frame): Promise<void> {
    if (frame === watched.page.mainFrame()) return
    const known = this.ofFrames.get(frame)
    // it ends when the frame goes to another process
    if (known && (await known.send('Runtime.enable').then(isDone, isNot))) return
    const session = await this.context.newCDPSession(frame).catch(() => undefined)
    if (!session) return
    this.ofFrames.set(frame, session)
    await this.listen(watched, session)
  }

  private async listen(watched: Watched, session: CDPSession): Promise<void> {
    const frames = new Map<number, string>()
    session.on('Runtime.executionContextCreated', ({ context: { id, name, auxData } }) => {
      if (name === WORLD) frames.set(id, String((auxData as { frameId?: string }).frameId))
    })
    session.on('Runtime.executionContextDestroyed', ({ executionContextId: id }) => void frames.delete(id))
    session.on('Runtime.executionContextsCleared', () => frames.clear())
    session.on('Runtime.bindingCalled', ({ name, payload, executionContextId }) => {
      if (name !== BINDING || payload.length > TOLD_CHARS_MOST) return
      const frame = frames.get(executionContextId)
      watched.speaker = { session, context: executionContextId, frame }
      void this.hear(payload, watched, frame).catch(() => {})
    })
    await session.send('Runtime.enable')
    await session.send('Runtime.addBinding', { name: BINDING, executionContextName: WORLD })
    await session.send('Page.enable')
    await session.send('Page.addScriptToEvaluateOnNewDocument', {
      source: `${pageScript()}; oakPage.record((told) => ${BINDING}(told))`,
      worldName: WORLD,
      runImmediately: true,
    })
  }

  /** Passes the newest on, at most so often; the last one always. */
  private pass(jpeg: Buffer): void {
    this.waiting = jpeg
    this.sending ??= setTimeout(
      () => {
        this.sending = undefined
        this.lastSent = performance.now()
        if (this.waiting) this.listeners.frame(this.waiting, this.environment.width, this.environment.height)
      },
      Math.max(0, this.lastSent + FRAME_MS - performance.now()),
    )
  }

  /** @param frame id of the frame that tells it */
  private async hear(told: string, { session }: Watched, frame?: string): Promise<void> {
    const { event, list } = JSON.parse(told) as { event?: Seen; list?: LiveList | null }
    if (event) this.listeners.seen(event)
    if (list === null) this.listeners.list(null)
    if (!list) return
    const place = frame === undefined ? undefined : await placeOf(session, frame)
    this.listeners.list(place ? moved(list, place.x, place.y) : list)
  }
}

const ROOT_MS = 1000
const inFrames = (w: number, h: number): FrameAsking<Frame> => ({
  factsAt: (frame, x, y) => askPage(frame, 'factsAt', x, y, w, h),
  viewBox: (frame) => askPage(frame, 'viewBox'),
  rootOnPage: (frame) => frame.locator(':root').boundingBox({ timeout: ROOT_MS }),
})
const isDone = () => true
const isNot = () => false

/** Where the content of a frame stands on the page; absent: it is the page's own, or not in one of its
 * frames. */
async function placeOf(session: CDPSession, frameId: string): Promise<{ x: number; y: number } | undefined> {
  try {
    const { backendNodeId } = await session.send('DOM.getFrameOwner', { frameId })
    const { model } = await session.send('DOM.getBoxModel', { backendNodeId })
    return { x: model.content[0]!, y: model.content[1]! }
  } catch {
    return undefined
  }
}
