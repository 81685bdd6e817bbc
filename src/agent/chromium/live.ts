/** A Chromium that a person steers: pictures by the browser's own screencast, input through the protocol, and
 * what the person does told by a script that runs beside those of the page. */
import type { BrowserContext, CDPSession, FileChooser, Page } from 'playwright-core'
import type { HeldKey, UploadFile } from '@/core/model'
import { TOLD_CHARS_MOST, type Input, type LiveBrowser, type LiveListeners, type Seen } from '../driver/live'
import type { LiveList } from '@/core/live'
import { pageScript } from '../page/script'
import { askPage } from './asking'

const WORLD = 'oak-live'
const BINDING = 'oakTells'
const QUALITY = 72
/** At most so many pictures a second go on: nobody sees more. */
const FRAMES_MOST = 28
const FRAME_MS = 1000 / FRAMES_MOST
const FILES_MS = 3000

type Watched = { page: Page; session: CDPSession; context: number | undefined }

export class ChromiumLive implements LiveBrowser {
  private readonly watched = new Map<Page, Promise<Watched>>()
  private shown: Page | undefined
  private lastStamp = -1
  /** The newest picture that did not go on yet, and when the last did. */
  private waiting: Buffer | undefined
  private sending: NodeJS.Timeout | undefined
  private lastSent = 0
  /** What asked for files last. */
  private asks: FileChooser | undefined

  private constructor(
    private readonly context: BrowserContext,
    private readonly pageNow: () => Page,
    private readonly size: { width: number; height: number },
    private readonly listeners: LiveListeners,
  ) {}

  /** @param pageNow the window that is worked in */
  static async open(
    context: BrowserContext,
    pageNow: () => Page,
    size: { width: number; height: number },
    listeners: LiveListeners,
  ): Promise<ChromiumLive> {
    const live = new ChromiumLive(context, pageNow, size, listeners)
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
      maxWidth: this.size.width,
      maxHeight: this.size.height,
    })
  }

  async input(order: Input): Promise<void> {
    const { mouse, keyboard } = this.pageNow()
    switch (order.do) {
      case 'mouse': {
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
    if (watched.context === undefined) return
    const { result } = await watched.session.send('Runtime.evaluate', {
      expression: `oakPage.chooseOpen(${JSON.stringify(values)})`,
      contextId: watched.context,
      returnByValue: true,
    })
    if (typeof result.value === 'string') this.hear(result.value)
    this.listeners.list(null)
  }

  async give(files: readonly UploadFile[]): Promise<boolean> {
    const { asks } = this
    this.asks = undefined
    if (!asks) return false
    const given = files.map(({ name, text }) => ({
      name,
      mimeType: 'text/plain',
      buffer: Buffer.from(text),
    }))
    if (given.length > 0) await asks.setFiles(given, { timeout: FILES_MS })
    return given.length > 0
  }

  shownWindow = async () => this.context.pages().indexOf(this.pageNow())
  factsAt = (x: number, y: number) => askPage(this.pageNow().mainFrame(), 'factsAt', x, y).catch(() => null)

  async close(): Promise<void> {
    clearTimeout(this.sending)
    const all = await Promise.all([...this.watched.values()].map((one) => one.catch(() => undefined)))
    await Promise.all(all.map((one) => one?.session.detach().catch(() => {})))
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
    const watched: Watched = { page, session, context: undefined }
    session.on('Page.screencastFrame', ({ data, metadata, sessionId }) => {
      // at once: while several are not acknowledged the browser drops the next, which may be the last of all
      void session.send('Page.screencastFrameAck', { sessionId }).catch(() => {})
      const stamp = metadata.timestamp ?? 0
      // they may come out of order
      if (page !== this.shown || stamp <= this.lastStamp) return
      this.lastStamp = stamp
      this.pass(Buffer.from(data, 'base64'))
    })
    session.on('Runtime.bindingCalled', ({ name, payload, executionContextId }) => {
      if (name !== BINDING || payload.length > TOLD_CHARS_MOST) return
      watched.context = executionContextId
      this.hear(payload)
    })
    page.on('filechooser', (chooser) => {
      this.asks = chooser
      this.listeners.files(chooser.isMultiple())
    })
    await session.send('Runtime.enable')
    await session.send('Runtime.addBinding', { name: BINDING, executionContextName: WORLD })
    await session.send('Page.enable')
    await session.send('Page.addScriptToEvaluateOnNewDocument', {
      source: `${pageScript()}; oakPage.record((told) => ${BINDING}(told))`,
      worldName: WORLD,
      runImmediately: true,
    })
    return watched
  }

  /** Passes the newest on, at most so often; the last one always. */
  private pass(jpeg: Buffer): void {
    this.waiting = jpeg
    this.sending ??= setTimeout(
      () => {
        this.sending = undefined
        this.lastSent = performance.now()
        if (this.waiting) this.listeners.frame(this.waiting, this.size.width, this.size.height)
      },
      Math.max(0, this.lastSent + FRAME_MS - performance.now()),
    )
  }

  private hear(told: string): void {
    const { event, list } = JSON.parse(told) as { event?: Seen; list?: LiveList | null }
    if (event) this.listeners.seen(event)
    if (list !== undefined) this.listeners.list(list)
  }
}
