/** Chromium behind the port, through playwright-core. */
import { randomUUID } from 'node:crypto'
import type { BrowserContext, CDPSession, Locator, Page, Request } from 'playwright-core'
import { describeTarget, type Environment, type ElementState, type Target } from '@/core/model'
import type { Box } from '@/core/execution'
import { EntryLog } from '../driver/entry-log'
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
import { candidates, locate, type Located } from './locate'
import { VideoRecorder } from './video'

/** After an action that leads elsewhere, the page gets this long to arrive before the next step looks for itself. */
const SETTLE_MS = 3000
/** A question about an element that is known to be there; long enough for a machine that is busy with other browsers. */
const LOOK_MS = 2000
/** Windows a page may open beside its own, and files it may have downloaded. */
const [POPUPS_MOST, DOWNLOADS_MOST] = [4, 100]
const DIALOG_CHARS = 2000
/** Runs in every document before its own scripts: no screen and no video frame shows even the length of a secret. */
const hideSecrets = () => {
  const sheet = new CSSStyleSheet()
  sheet.replaceSync(
    'input[type=password] { color: transparent !important; caret-color: transparent !important; background: repeating-linear-gradient(45deg, #8a8275 0 4px, #b8ae9e 4px 8px) !important }',
  )
  document.adoptedStyleSheets.push(sheet)
}
const FIRST_LINES = /^(?:locator|page|frame|elementHandle)\.\w+: /

/** Of the small picture for who looks live: twice as wide as it is shown. */
const PEEK_WIDTH = 400

export class ChromiumDriver implements BrowserDriver {
  private readonly log = new EntryLog()
  private readonly asked = new WeakMap<Request, number>()
  private nativeDialog: string | undefined
  private dialogAnswer: { accept: boolean; text: string | undefined } | undefined
  private readonly files: string[] = []
  /** Status of the newest page the main frame went to. */
  private arrivedWith = 200
  readonly broken: Promise<DriverFault>

  private constructor(
    private readonly context: BrowserContext,
    private readonly page: Page,
    private readonly cdp: CDPSession,
    private readonly environment: Environment,
    private readonly pace: Pace,
    private readonly video: VideoRecorder | undefined,
    readonly facts: Record<string, string>,
    mark: string,
  ) {
    this.broken = new Promise((resolve) => {
      page.once('crash', () => resolve(new DriverFault('page', 'the page took its browser down')))
      context.browser()?.once('disconnected', () => resolve(new DriverFault('page', 'the browser is gone')))
    })
    page.on('console', (message) => {
      const text = message.text()
      if (text.startsWith(mark)) this.log.lost.console += Number(text.slice(mark.length)) || 0
      else this.log.push({ type: 'console', atMs: pace.now(), level: message.type(), text })
    })
    page.on('pageerror', (error) =>
      this.log.push({
        type: 'console',
        atMs: pace.now(),
        level: 'error',
        text: `${error.name}: ${error.message}`,
      }),
    )
    page.on('request', (request) => void this.asked.set(request, pace.now()))
    page.on('requestfailed', (request) => this.noteRequest(request, 0))
    page.on('response', (response) => {
      this.noteRequest(response.request(), response.status())
      if (response.request().isNavigationRequest() && response.frame() === page.mainFrame())
        this.arrivedWith = response.status()
    })
    page.on('download', (download) => {
      if (this.files.length < DOWNLOADS_MOST) this.files.push(download.suggestedFilename())
      else void download.cancel().catch(() => {})
    })
    context.on(
      'page',
      (popup) => void (context.pages().length > 1 + POPUPS_MOST && popup.close().catch(() => {})),
    )
    page.on('dialog', (dialog) => {
      const answer = this.dialogAnswer
      this.dialogAnswer = undefined
      if (answer) return void (answer.accept ? dialog.accept(answer.text) : dialog.dismiss()).catch(() => {})
      this.nativeDialog = dialog.message().slice(0, DIALOG_CHARS)
      void dialog.dismiss().catch(() => {})
    })
  }

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
      {
        browser: `Chromium ${browser.version()}`,
        screen: `${width}x${height}`,
        locale,
        node: process.version,
      },
      mark,
    )
  }

  async open(url: string, limitMs: number): Promise<void> {
    this.arrivedWith = 200
    await this.page.goto(url, { timeout: limitMs, waitUntil: 'load' }).catch((error: unknown) => {
      throw new DriverFault('page', `the page does not open: ${firstLine(error)}`)
    })
    this.requireArrival()
  }

  async click(target: Target, limitMs: number): Promise<Found> {
    return this.act(target, limitMs, async (locator, left) => {
      this.arrivedWith = 200
      await locator.click({ timeout: left })
      await this.settle()
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
    await this.settle()
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
    this.dialogAnswer = { accept, text }
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
    const box = await boxOf(first.locator) // not from inside: an element in a frame would give its place in the frame
    return seen
      ? { count: 1, ...seen, found: { way: first.way, ...(box && { box }) } }
      : { count: 0, text: '', value: '', states: ['hidden'] }
  }

  url = async () => this.page.url()
  title = () => this.page.title().catch(() => '')
  downloads = async () => [...this.files]
  source = () => this.page.evaluate(readSource, SOURCE_MOST)

  async screen(): Promise<ScreenShot | undefined> {
    // Straight through the protocol: the library's own call waits for fonts and still frames, at four times the price.
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
    if (this.nativeDialog !== undefined) return this.nativeDialog
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

  takeLog(): LogEntry[] {
    return this.log.take()
  }

  lost = () => this.log.lost
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
        cover ? `it is covered: the point belongs to ${cover}` : firstLine(error),
      )
    }
  }

  private async settle(): Promise<void> {
    await this.page.waitForLoadState('load', { timeout: SETTLE_MS }).catch(() => {})
  }

  private requireArrival(): void {
    if (this.arrivedWith >= 500) throw new DriverFault('page', `the page answers ${this.arrivedWith}`)
  }

  /** At once, without asking the browser anything more: the step that caused the request may end the next moment. */
  private noteRequest(request: Request, status: number): void {
    const now = this.pace.now()
    this.log.push({
      type: 'request',
      atMs: now,
      method: request.method(),
      url: request.url(),
      status,
      ms: now - (this.asked.get(request) ?? now),
    })
  }
}

const firstLine = (error: unknown) => ((error as Error).message.split('\n')[0] ?? '').replace(FIRST_LINES, '')

async function boxOf(locator: Locator): Promise<Box | undefined> {
  const box = await locator.boundingBox({ timeout: LOOK_MS }).catch(() => null)
  return box
    ? { x: Math.round(box.x), y: Math.round(box.y), w: Math.round(box.width), h: Math.round(box.height) }
    : undefined
}

/** A field that took a secret keeps it here: any other text of it may be a part, and is shown to nobody. */
type Field = HTMLInputElement & { oakHolds?: string | null }

/** Runs in the page: the look of a password field, for a field that takes a secret and is none. @returns its type */
function prepareField(element: Element, secret: string | null): string | null {
  ;(element as Field).oakHolds = secret
  if (secret !== null)
    (element as HTMLElement).style.cssText +=
      ';color:transparent!important;caret-color:transparent!important;text-shadow:none!important;background:repeating-linear-gradient(45deg,#8a8275 0 4px,#b8ae9e 4px 8px)!important'
  return element.getAttribute('type')
}

/** Runs in the page. */
function readAttribute(element: Element, name: string): string | null {
  const value = element.getAttribute(name)
  const { oakHolds: secret } = element as Field
  return name === 'value' && secret && value !== secret ? '••••' : value
}

/** Runs in the page. */
function readElement(element: Element, most: number) {
  const field = element as Field
  const shown = (text: string) =>
    field.oakHolds && text !== '' && text !== field.oakHolds ? '••••' : text.slice(0, most)
  const rect = element.getBoundingClientRect()
  const visible = rect.width > 0 && rect.height > 0 && getComputedStyle(element).visibility !== 'hidden'
  const states: ElementState[] = [
    visible ? 'visible' : 'hidden',
    field.disabled ? 'disabled' : 'enabled',
    field.checked ? 'checked' : 'unchecked',
  ]
  if (document.activeElement === element) states.push('focused')
  return {
    text: shown((element as HTMLElement).innerText ?? element.textContent ?? ''),
    value: shown(field.value === undefined ? '' : String(field.value)),
    states,
  }
}

/** Runs in the page. */
function readSource(most: number): string {
  const html = document.documentElement.outerHTML
  return html.length > most ? `${html.slice(0, most)}\n… and ${html.length - most} more characters` : html
}

/** Runs in the page: what stands over the middle of the element, if anything does. */
function coveringElement(element: Element): string | undefined {
  const rect = element.getBoundingClientRect()
  const top = document.elementFromPoint(rect.x + rect.width / 2, rect.y + rect.height / 2)
  if (!top || element.contains(top) || top.contains(element)) return undefined
  return top.tagName.toLowerCase() + [...top.classList].map((name) => `.${name}`).join('')
}
