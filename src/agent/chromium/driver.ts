/** Chromium behind the port, through playwright-core. */
import { randomUUID } from 'node:crypto'
import type { BrowserContext, CDPSession, Locator, Page } from 'playwright-core'
import { describeTarget, type Environment, type Target } from '@/core/model'
import type { Box } from '@/core/execution'
import {
  DriverFault,
  SOURCE_MOST,
  TEXT_MOST,
  type BrowserDriver,
  type Found,
  type LogEntry,
  type Look,
  type Pace,
  type ScreenShot,
} from '../driver/port'
import type { BrowserHolder } from './browser'
import { guardConsole, LINES_MOST, TOLD_AT } from './console-guard'
import { coveringElement, hideSecrets, prepareField, readAttribute, readElement, readSource } from './in-page'
import { candidates, locate, type Located } from './locate'
import { PageWatch } from './page-watch'
import { VideoRecorder } from './video'
import { reasonOf } from '../driver/reason'

/** After an action that leads elsewhere, the page gets this long to arrive before the next step looks for
 * itself. */
const ARRIVAL_MS = 3000
/** A question about an element that is known to be there; long enough for a machine that is busy with other
 * browsers. */
const LOOK_MS = 2000

/** Of the small picture for who looks live: twice as wide as it is shown. */
const PEEK_WIDTH = 400

/** For a page that did not come the browser shows one of its own, a moment later. It is waited for: otherwise
 * it stops the next page on its way. */
const SHOWS_ERROR_PAGE = /net::ERR_(?!ABORTED)/
const ERROR_PAGE_MS = 1000

export class ChromiumDriver implements BrowserDriver {
  private constructor(
    private readonly context: BrowserContext,
    private readonly page: Page,
    private readonly cdp: CDPSession,
    private readonly environment: Environment,
    private readonly pace: Pace,
    private readonly video: VideoRecorder | undefined,
    private readonly watch: PageWatch,
    readonly facts: Record<string, string>,
  ) {}

  static async open(
    holder: BrowserHolder,
    environment: Environment,
    pace: Pace,
    films = true,
  ): Promise<ChromiumDriver> {
    const browser = await holder.get()
    const { width, height, locale } = environment
    const context = await browser.newContext({
      viewport: { width, height },
      locale,
      acceptDownloads: true,
      ...(environment.userAgent && { userAgent: environment.userAgent }),
    })
    await context.addInitScript(hideSecrets)
    const mark = `${randomUUID()} `
    await context.addInitScript(guardConsole, { most: LINES_MOST, toldAt: TOLD_AT, mark })
    const page = await context.newPage()
    const cdp = await context.newCDPSession(page)
    const video = films ? await VideoRecorder.start(page, { width, height }, pace.now) : undefined
    return new ChromiumDriver(
      context,
      page,
      cdp,
      environment,
      pace,
      video,
      new PageWatch(context, page, pace.now, mark),
      {
        browser: `Chromium ${browser.version()}`,
        screen: `${width}x${height}`,
        locale,
        node: process.version,
      },
    )
  }

  async open(url: string, limitMs: number): Promise<void> {
    this.watch.arrivedWith = 200
    await this.page.goto(url, { timeout: limitMs, waitUntil: 'load' }).catch(async (error: unknown) => {
      const why = reasonOf(error)
      if (SHOWS_ERROR_PAGE.test(why))
        await this.page
          .waitForURL(/^chrome-error:/, { timeout: ERROR_PAGE_MS, waitUntil: 'commit' })
          .catch(() => {})
      throw new DriverFault('page', `the page does not open: ${why}`)
    })
    this.requireArrival()
  }

  async click(target: Target, limitMs: number): Promise<Found> {
    return this.act(target, limitMs, async (locator, left) => {
      this.watch.arrivedWith = 200
      await locator.click({ timeout: left })
      await this.waitForPage()
      this.requireArrival()
    })
  }

  async type(
    target: Target,
    text: string,
    limitMs: number,
    hide = false,
  ): Promise<Found & { masked: boolean }> {
    let masked = false
    const found = await this.act(target, limitMs, async (locator, left) => {
      masked = (await locator.evaluate(prepareField, hide ? text : null, { timeout: left })) === 'password'
      await locator.fill(text, { timeout: left })
    })
    return { ...found, masked }
  }

  async choose(target: Target, option: string, limitMs: number): Promise<Found> {
    return this.act(target, limitMs, async (locator, left) => {
      const isSelect = await locator.evaluate((element) => element.tagName === 'SELECT', undefined, {
        timeout: left,
      })
      if (!isSelect) return locator.setChecked(!['no', 'off', 'false'].includes(option), { timeout: left })
      const values = await locator.evaluate((element) =>
        [...(element as HTMLSelectElement).options].map(({ label, value }) => ({ label, value })),
      )
      const wanted = values.find(({ label, value }) => label === option || value === option)
      if (!wanted)
        throw new DriverFault(
          'target',
          `there is no choice “${option}”; there is: ${values.map(({ label }) => label).join(', ')}`,
        )
      await locator.selectOption(wanted.value, { timeout: left })
    })
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
    return this.act(from, limitMs, (dragged, left) => dragged.dragTo(locator, { timeout: left }))
  }

  upload = (target: Target, file: { name: string; text: string }, limitMs: number) =>
    this.act(target, limitMs, async (locator, left) => {
      if ((await locator.getAttribute('type', { timeout: left })) !== 'file')
        throw new DriverFault('target', `${describeTarget(target)} is not a field for files`)
      await locator.setInputFiles(
        { name: file.name, mimeType: 'text/plain', buffer: Buffer.from(file.text) },
        { timeout: left },
      )
    })

  async scroll(where: { to: Target } | { by: number }, limitMs: number): Promise<Found | undefined> {
    if ('to' in where)
      return this.act(where.to, limitMs, (locator, left) => locator.scrollIntoViewIfNeeded({ timeout: left }))
    await this.page.evaluate((by) => window.scrollBy(0, by), where.by)
    return undefined
  }

  async answerDialog(accept: boolean, text: string | undefined): Promise<void> {
    this.watch.nextAnswer = { accept, text }
  }

  async attribute(target: Target, name: string): Promise<string | undefined> {
    const [first] = await candidates(this.page, target)
    return (
      (first?.count === 1
        ? await first.locator.evaluate(readAttribute, name, { timeout: LOOK_MS }).catch(() => null)
        : null
      )?.slice(0, TEXT_MOST) ?? undefined
    )
  }

  async look(target: Target): Promise<Look> {
    const [first] = await candidates(this.page, target)
    if (!first) return { count: 0, text: '', value: '', states: ['hidden'] }
    if (first.count > 1)
      return { count: first.count, text: '', value: '', states: ['visible'], found: { way: first.way } }
    const seen = await first.locator.evaluate(readElement, TEXT_MOST).catch(() => undefined)
    // not from inside: an element in a frame would give its place in the frame
    const box = await boxOf(first.locator)
    return seen
      ? { count: 1, ...seen, found: { way: first.way, ...(box && { box }) } }
      : { count: 0, text: '', value: '', states: ['hidden'] }
  }

  url = async () => this.page.url()
  title = () => this.page.title().catch(() => '')
  downloads = async () => [...this.watch.files]
  source = () => this.page.evaluate(readSource, SOURCE_MOST)

  async screen(): Promise<ScreenShot | undefined> {
    // Straight through the protocol: the library's own call waits for fonts and still frames, at four times
    // the price.
    const shot = await this.cdp
      .send('Page.captureScreenshot', { format: 'jpeg', quality: 80, optimizeForSpeed: true })
      .catch(() => undefined)
    return (
      shot && {
        bytes: Buffer.from(shot.data, 'base64'),
        mime: 'image/jpeg',
        width: this.environment.width,
        height: this.environment.height,
      }
    )
  }

  async peek(): Promise<Pick<ScreenShot, 'bytes' | 'mime'> | undefined> {
    const { width, height } = this.environment
    const shot = await this.cdp
      .send('Page.captureScreenshot', {
        format: 'jpeg',
        quality: 60,
        optimizeForSpeed: true,
        clip: { x: 0, y: 0, width, height, scale: PEEK_WIDTH / width },
      })
      .catch(() => undefined)
    return shot && { bytes: Buffer.from(shot.data, 'base64'), mime: 'image/jpeg' }
  }

  async openDialog(): Promise<string | undefined> {
    if (this.watch.dismissed !== undefined) return this.watch.dismissed
    return this.page
      .evaluate(() => {
        const dialog = document.querySelector('dialog[open], [role=dialog][aria-modal=true]')
        return dialog
          ? (
              dialog.getAttribute('aria-label') ??
              dialog.querySelector('h1, h2, h3')?.textContent ??
              'dialog'
            ).trim()
          : undefined
      })
      .catch(() => undefined)
  }

  get broken(): Promise<DriverFault> {
    return this.watch.broken
  }

  takeLog(): LogEntry[] {
    return this.watch.log.take()
  }

  lost = () => this.watch.log.lost
  stopVideo = async () => this.video?.stop()

  async close(): Promise<void> {
    this.video?.discard()
    await this.context.close().catch(() => {})
  }

  /** Finds, does, and says in our words why it could not. */
  private async act(
    target: Target,
    limitMs: number,
    action: (locator: Locator, leftMs: number) => Promise<unknown>,
  ): Promise<Found> {
    const until = performance.now() + limitMs
    let located: Located | undefined
    try {
      located = await locate(this.page, target, limitMs)
      const box = await boxOf(located.locator)
      await action(located.locator, Math.max(500, until - performance.now()))
      return { way: located.way, ...(box && { box }) }
    } catch (error) {
      const dialog = await this.openDialog()
      const inDialog =
        located &&
        (await located.locator
          .evaluate((element) => element.closest('[role=dialog], dialog') !== null, undefined, {
            timeout: LOOK_MS,
          })
          .catch(() => false))
      if (dialog && !inDialog) throw new DriverFault('dialog', `a dialog “${dialog}” is open over the page`)
      if (error instanceof DriverFault || !located) throw error
      const cover = await located.locator
        .evaluate(coveringElement, undefined, { timeout: LOOK_MS })
        .catch(() => undefined)
      throw new DriverFault(
        'target',
        cover ? `it is covered: the point belongs to ${cover}` : reasonOf(error),
      )
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

async function boxOf(locator: Locator): Promise<Box | undefined> {
  const box = await locator.boundingBox({ timeout: LOOK_MS }).catch(() => null)
  return box
    ? { x: Math.round(box.x), y: Math.round(box.y), w: Math.round(box.width), h: Math.round(box.height) }
    : undefined
}
