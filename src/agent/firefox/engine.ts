/** Firefox behind the engine port, over WebDriver BiDi through puppeteer-core. */
import { readdir } from 'node:fs/promises'
import { setTimeout as sleep } from 'node:timers/promises'
import type {
  BrowserContext,
  Dialog,
  ElementHandle,
  Frame,
  HTTPRequest,
  HTTPResponse,
  KeyInput,
  Page,
  Target as BrowserTarget,
} from 'puppeteer-core'
import type { Clicking, Cookie, NetworkChange, Target, WayToGo } from '@/core/model'
import type { Box } from '@/core/execution'
import { EntryLog } from '../driver/entry-log'
import { Exchanges } from '../driver/exchanges'
import {
  DIALOG_CHARS,
  DIALOGS_MOST,
  DriverFault,
  POPUPS_MOST,
  TOO_MANY_WINDOWS,
  type LogEntry,
  type Pace,
  type WindowSeen,
} from '../driver/port'
import type { DialogAnswer, DialogListeners, Input } from '../driver/live'
import type { ElementFunctions, Engine, PageFunctions, Point } from '../page/engine'
import { pageScript } from '../page/script'
import { cookiesOf } from './cookies'
import { drag } from './drag'
import { exchangeOf } from './exchange'
import { input } from './input'
import { Network } from './network'
import { Opening } from './opening'

const JPEG_QUALITY = 80
/** From an action to the request of the page it leads to, and between two looks whether that page has
 * come. */
const [LEAVE_MS, POLL_MS] = [50, 20]
/** A page that a browser goes back to has another address by then, or there is none. */
const GO_MS = 3000

type InPage = { oakPage?: Record<string, (...args: unknown[]) => unknown> }

export class FirefoxEngine implements Engine<Frame, ElementHandle> {
  private readonly log = new EntryLog()
  private readonly exchanges: Exchanges
  private readonly rules = new Network()
  private readonly asked = new WeakMap<HTTPRequest, number>()
  private answer: DialogAnswer | undefined
  private dismissedWords: string | undefined
  /** Words of its dialogs. */
  private readonly said: string[] = []
  private arrived = 200
  /** A page was asked for in the main frame and has not come yet. */
  private leaving = false
  private shown: Page
  private listeners: DialogListeners | undefined
  readonly broken: Promise<DriverFault>
  private onGone = () => {}

  constructor(
    private readonly context: BrowserContext,
    first: Page,
    private readonly pace: Pace,
    readonly facts: Record<string, string>,
    readonly folder: string,
    private readonly size: { width: number; height: number },
  ) {
    this.broken = new Promise((resolve) => {
      this.onGone = () => resolve(new DriverFault('page', 'the browser is gone'))
      context.browser().on('disconnected', this.onGone) // what it takes for once it does not give back
    })
    this.shown = first
    this.exchanges = new Exchanges(this.log, () => pace.now())
    this.follow(first)
    context.on('targetcreated', (target) => void this.meet(target).catch(() => {}))
  }

  /** A window that opened. */
  private async meet(target: BrowserTarget): Promise<void> {
    const popup = await target.page()
    if (!popup || popup === this.shown) return
    if ((await this.context.pages()).length > 1 + POPUPS_MOST) {
      this.noteLine('warning', TOO_MANY_WINDOWS)
      return popup.close()
    }
    this.follow(popup)
    await popup.setViewport(this.size)
  }

  /** The window that is worked in. */
  private get page(): Page {
    return this.shown
  }

  private follow(page: Page): void {
    void this.rules.follow(page).catch(() => {})
    const { pace } = this
    page.on('console', (message) =>
      this.noteLine(message.type() === 'warn' ? 'warning' : message.type(), message.text()),
    )
    page.on('pageerror', (error) => this.noteLine('error', String((error as Error).message ?? error)))
    const leadsOn = (request: HTTPRequest) =>
      page === this.shown && request.isNavigationRequest() && request.frame() === page.mainFrame()
    page.on('request', (request) => {
      this.asked.set(request, pace.now())
      if (leadsOn(request)) this.leaving = true
    })
    page.on('requestfailed', (request) => {
      this.exchanges.note(request.url(), this.noteRequest(request, 0), () => exchangeOf(request))
      if (leadsOn(request)) this.leaving = false
    })
    page.on('load', () => (this.leaving = false))
    page.on('response', (response) => {
      const request = response.request()
      const atMs = this.noteRequest(request, response.status())
      if (response.status() >= 400)
        this.exchanges.note(request.url(), atMs, () => exchangeOf(request, response))
      if (!leadsOn(request)) return
      this.arrived = response.status()
      if (staysHere(response)) this.leaving = false
    })
    page.on('dialog', (dialog) => void this.answerTo(dialog).catch(() => {}))
  }

  private noteLine(level: string, text: string): void {
    this.log.push({ type: 'console', atMs: this.pace.now(), level, text })
  }

  private async answerTo(dialog: Dialog): Promise<void> {
    const words = dialog.message().slice(0, DIALOG_CHARS)
    if (this.said.length < DIALOGS_MOST) this.said.push(words)
    const next = this.answer
    this.answer = undefined
    const suggested = dialog.defaultValue() ?? ''
    const given = next ?? (await this.listeners?.ask({ kind: dialog.type(), words, suggested }))
    this.listeners?.dialog(words, given?.accept ? 'accept' : 'dismiss')
    if (!given) this.dismissedWords = words
    await (given?.accept ? dialog.accept(given.text) : dialog.dismiss())
  }

  private readonly opening = new Opening()

  async goto(url: string, limitMs: number): Promise<number> {
    this.arrived = 200
    this.dismissedWords = undefined
    const response = await this.opening.open(this.page, url, limitMs)
    return response?.status() ?? this.arrived
  }

  frames = async () => this.page.frames()

  async run<K extends keyof PageFunctions>(
    frame: Frame,
    call: K,
    ...args: Parameters<PageFunctions[K]>
  ): Promise<ReturnType<PageFunctions[K]>> {
    await this.ensure(frame)
    return frame.evaluate(
      (name, given) => (window as InPage).oakPage![name]!(...given),
      call,
      args as unknown[],
    ) as Promise<ReturnType<PageFunctions[K]>>
  }

  async element(frame: Frame, way: string, target: Target): Promise<ElementHandle> {
    await this.ensure(frame)
    const handle = await frame.evaluateHandle(
      (by, wanted) =>
        (window as InPage).oakPage!.find!(by, wanted) &&
        ((window as InPage).oakPage!.find!(by, wanted) as Element[])[0]!,
      way,
      target as Record<string, string>,
    )
    const element = handle.asElement()
    if (!element) throw new Error('it went away')
    return element as ElementHandle
  }

  on = <K extends keyof ElementFunctions>(
    element: ElementHandle,
    call: K,
    ...args: Parameters<ElementFunctions[K]>
  ) =>
    element.evaluate(
      (one, name, given) => (window as InPage).oakPage![name]!(one, ...given),
      call,
      args as unknown[],
    ) as Promise<ReturnType<ElementFunctions[K]>>

  async box(_: Frame, element: ElementHandle): Promise<Box | undefined> {
    const box = await element.boundingBox()
    return box
      ? { x: Math.round(box.x), y: Math.round(box.y), w: Math.round(box.width), h: Math.round(box.height) }
      : undefined
  }

  async go(where: WayToGo, limitMs: number): Promise<void> {
    this.arrived = 200
    if (where === 'reload') {
      await this.page.reload({ timeout: Math.max(1, limitMs), waitUntil: 'load' })
      return
    }
    // The library waits for a load, which a page that the browser still has never tells.
    const before = await this.url()
    const until = performance.now() + Math.min(limitMs, GO_MS)
    await this.page.evaluate((by) => history.go(by), where === 'back' ? -1 : 1)
    while ((await this.url()) === before && performance.now() < until) await sleep(POLL_MS)
  }

  async click(element: ElementHandle, how: Clicking = {}, at?: Point): Promise<void> {
    this.arrived = 200
    const { times, button, with: held = [], holdMs } = how
    for (const key of held) await this.page.keyboard.down(key)
    try {
      const options = {
        ...(times !== undefined && { count: times }),
        ...(button && { button }),
        ...(holdMs !== undefined && { delay: holdMs }),
      }
      if (at) await this.page.mouse.click(at.x, at.y, options)
      else await element.click(options)
    } finally {
      for (const key of held.toReversed()) await this.page.keyboard.up(key)
    }
  }

  hover = (element: ElementHandle) => element.hover()
  drag = (from: ElementHandle, to: ElementHandle) => drag(this.page, from, to)

  async press(key: string, element: ElementHandle | undefined): Promise<void> {
    this.arrived = 200
    const keys = (key.length > 1 ? key.split('+') : [key]) as KeyInput[]
    if (element) await element.focus()
    for (const held of keys.slice(0, -1)) await this.page.keyboard.down(held)
    await this.page.keyboard.press(keys.at(-1)!)
    for (const held of keys.slice(0, -1).toReversed()) await this.page.keyboard.up(held)
  }

  input = (order: Input) => input(this.page, order)

  upload = (element: ElementHandle, paths: readonly string[]) =>
    (element as ElementHandle<HTMLInputElement>).uploadFile(...paths)

  async windows(): Promise<WindowSeen[]> {
    const pages = await this.context.pages()
    return Promise.all(
      pages.map(async (page) => ({ title: await page.title().catch(() => ''), url: page.url() })),
    )
  }

  async showWindow(index: number): Promise<void> {
    const page = (await this.context.pages())[index]
    if (!page) throw new Error('this window is not there any more')
    this.shown = page
    await page.bringToFront()
  }

  shownWindow = async () => (await this.context.pages()).indexOf(this.page)

  async closeWindow(): Promise<boolean> {
    const [first] = await this.context.pages()
    if (first === this.page) return false
    await this.page.close()
    return true
  }

  cookies = () => cookiesOf(this.context)
  setCookies = (cookies: readonly Cookie[]) => this.context.setCookie(...cookies)

  arrivedWith = () => this.arrived

  async waitForPage(limitMs: number): Promise<void> {
    const until = performance.now() + limitMs
    await sleep(LEAVE_MS) // a form that was sent, or a link that was followed, has asked for its page by then
    await this.page
      .waitForFunction(() => document.readyState === 'complete', { timeout: limitMs })
      .catch(() => {})
    while (this.leaving && performance.now() < until) await sleep(POLL_MS)
    this.leaving = false
  }

  answerDialogWith = (answer: DialogAnswer): void => void (this.answer = answer)
  hearDialogs = (listeners: DialogListeners | undefined): void => void (this.listeners = listeners)

  dismissed = async () => this.dismissedWords
  dialogs = () => this.said
  network = (change: NetworkChange) => this.rules.change(change)
  url = () => this.page.evaluate(() => location.href).catch(() => this.page.url())
  title = () => this.page.title()

  async downloads(): Promise<string[]> {
    return (await readdir(this.folder).catch(() => [])).filter((name) => !name.endsWith('.part'))
  }

  async screenshot(type: 'jpeg' | 'png'): Promise<Buffer> {
    return Buffer.from(
      await this.page.screenshot({ type, ...(type === 'jpeg' && { quality: JPEG_QUALITY }) }),
    )
  }

  takeLog(): LogEntry[] {
    return this.log.take()
  }

  lost = () => this.log.lost

  async close(): Promise<void> {
    // the browser outlives its attempts, and would keep all that each of them held
    this.context.browser().off('disconnected', this.onGone)
    await this.context.close()
  }

  private async ensure(frame: Frame): Promise<void> {
    if (await frame.evaluate(() => (window as InPage).oakPage !== undefined)) return
    await frame.evaluate(`${pageScript()}; window.oakPage = oakPage; oakPage.hideSecrets()`)
  }

  settled = (): Promise<void> => this.exchanges.settled()

  /** @returns when */
  private noteRequest(request: HTTPRequest, status: number): number {
    const now = this.pace.now()
    this.log.push({
      type: 'request',
      atMs: now,
      method: request.method(),
      url: request.url(),
      status,
      ms: now - (this.asked.get(request) ?? now),
    })
    return now
  }
}

/** A download, or an answer without content: the page that asked stays. */
const staysHere = (response: HTTPResponse) =>
  response.status() === 204 ||
  response.status() === 205 ||
  (response.headers()['content-disposition'] ?? '').startsWith('attachment')
