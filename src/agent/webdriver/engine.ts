/** Any browser that speaks W3C WebDriver, behind the engine port. */
import { readdir } from 'node:fs/promises'
import sharp from 'sharp'
import type { Clicking, Cookie, Environment, Target, WayToGo } from '@/core/model'
import type { Box } from '@/core/execution'
import { EntryLog } from '../driver/entry-log'
import { inTurn } from '../driver/in-turn'
import {
  DriverFault,
  POPUPS_MOST,
  TOO_MANY_WINDOWS,
  type LogEntry,
  type Pace,
  type ScreenShot,
  type WindowSeen,
} from '../driver/port'
import type { DialogAnswer, DialogListeners, Input } from '../driver/live'
import type { ElementFunctions, Engine, PageFunctions, Point } from '../page/engine'
import { pageScript } from '../page/script'
import { WebDriverError, type ElementRef, type WebDriverSession } from './client'
import { Alerts } from './alerts'
import { clickActions, dragActions, hoverActions, inputActions, keyActions } from './actions'
import { keyOf } from './keys'

/** The way from the page's document to a frame's. */
type Frame = ElementRef[]
type Reference = { frame: Frame; element: ElementRef }

const ARGS = 'const [name, ...args] = arguments;'
/** Answers `null` where page.ts is not in the document yet; else the value in a list. */
const CALL = `${ARGS} return window.oakPage ? [window.oakPage[name](...args)] : null`
const POLL_MS = 40
const withoutHash = (address: string) => address.replace(/#.*/, '')
const JPEG_QUALITY = 80

export class WebDriverEngine implements Engine<Frame, Reference> {
  private readonly log = new EntryLog()
  private at: Frame = []
  private readonly alerts: Alerts
  private arrived = 0
  private handles: string[] = []
  /** The session looks at one frame of one window at a time: who comes meanwhile waits. */
  private readonly alone = inTurn()
  readonly broken: Promise<DriverFault>

  /** @param folder where this browser puts what it downloads */
  constructor(
    private readonly session: WebDriverSession,
    private readonly environment: Environment,
    private readonly pace: Pace,
    readonly facts: Record<string, string>,
    readonly folder: string | undefined,
    private readonly ended: () => Promise<void>,
    readonly display?: () => Promise<ScreenShot | undefined>,
  ) {
    this.alerts = new Alerts(session)
    this.broken = session.gone.then(() => new DriverFault('page', 'the browser is gone'))
  }

  /** Makes the view as large as the environment's screen: a window has borders of its own. */
  async size(): Promise<void> {
    const { width, height } = this.environment
    await this.session.windowRect({ width, height })
    const [w, h] = await this.session.read<[number, number]>('return [window.innerWidth, window.innerHeight]')
    if (w !== width || h !== height)
      await this.session.windowRect({ width: width + (width - w), height: height + (height - h) })
    await this.order()
  }

  async goto(url: string, limitMs: number): Promise<number> {
    this.alerts.dismissed = undefined
    const [before, stays, here] = await this.alone(async () => {
      await this.session.timeouts(Math.max(1, limitMs))
      await this.enter([])
      const was = await this.guard(() =>
        this.session.read<string>('window.oakStays = true; return location.href'),
      )
      await this.guard(() => this.session.goto(url))
      this.at = []
      // Some browsers take a page that does not come for an answer, and stay where they are.
      const is = await this.guard(() =>
        this.session.read<[boolean, string]>('return [window.oakStays === true, location.href]'),
      )
      return [was, ...is] as const
    })
    if (
      (stays && withoutHash(before) !== withoutHash(url)) ||
      (/^https?:/.test(url) && !/^https?:/.test(here))
    )
      throw new Error('no page comes from this address, and the browser does not say why')
    this.arrived = 0
    await this.collect()
    return this.arrived
  }

  async frames(): Promise<Frame[]> {
    const found: Frame[] = []
    const visit = async (frame: Frame): Promise<void> => {
      found.push(frame)
      await this.enter(frame)
      const inner = await this.session.read<ElementRef[]>(
        "return [...document.querySelectorAll('iframe, frame')]",
      )
      // it may go away while we look
      for (const element of inner) await visit([...frame, element]).catch(() => {})
    }
    await this.alone(() => this.guard(() => visit([])))
    return found
  }

  run = <K extends keyof PageFunctions>(frame: Frame, call: K, ...args: Parameters<PageFunctions[K]>) =>
    this.call<ReturnType<PageFunctions[K]>>(frame, call, args)
  on = <K extends keyof ElementFunctions>(
    { frame, element }: Reference,
    call: K,
    ...args: Parameters<ElementFunctions[K]>
  ) => this.call<ReturnType<ElementFunctions[K]>>(frame, call, [element, ...args])

  async element(frame: Frame, way: string, target: Target): Promise<Reference> {
    const [element] = await this.call<ElementRef[]>(frame, 'find', [way, target])
    if (!element) throw new Error('it went away')
    return { frame, element }
  }

  async box(frame: Frame, { element }: Reference): Promise<Box | undefined> {
    const own = await this.call<Box>(frame, 'box', [element])
    let { x, y } = own
    // A frame's document counts from its own corner.
    for (let depth = frame.length; depth > 0; depth--) {
      const outer = await this.call<Box>(frame.slice(0, depth - 1), 'box', [frame[depth - 1]])
      x += outer.x
      y += outer.y
    }
    return { ...own, x, y }
  }

  async go(where: WayToGo, limitMs: number): Promise<void> {
    this.arrived = 0
    await this.alone(async () => {
      await this.session.timeouts(Math.max(1, limitMs))
      await this.enter([])
      await this.guard(() => this.session.go(where))
      this.at = []
    })
  }

  async click({ frame, element }: Reference, how: Clicking = {}, at?: Point): Promise<void> {
    this.arrived = 0
    const isPlain = !at && Object.values(how).every((one) => one === undefined)
    const byPointer = () => this.session.actions(clickActions(element, how, at))
    await this.act(frame, () =>
      isPlain
        ? this.session.click(element).catch((error: unknown) => {
            // what is within a web component is taken for covered by it; whether it is was looked at before
            if (error instanceof WebDriverError && error.code === 'element click intercepted')
              return byPointer()
            throw error
          })
        : byPointer(),
    )
  }

  async hover({ frame, element }: Reference): Promise<void> {
    await this.act(frame, () => this.session.actions(hoverActions(element)))
  }

  async drag(from: Reference, to: Reference): Promise<void> {
    if (await this.call<boolean>(from.frame, 'drag', [from.element, to.element])) return
    await this.act(from.frame, () => this.session.actions(dragActions(from.element, to.element)))
  }

  async press(key: string, reference: Reference | undefined): Promise<void> {
    this.arrived = 0
    const value = keyOf(key)
    if (reference) await this.act(reference.frame, () => this.session.sendKeys(reference.element, value))
    else await this.act(this.at, () => this.session.actions(keyActions(value)))
  }

  async input(order: Input): Promise<void> {
    await this.act([], () => this.session.actions(inputActions(order)))
  }

  /** Several files are written one under the other (w3.org/TR/webdriver2, element send keys). */
  async upload({ frame, element }: Reference, paths: readonly string[]): Promise<void> {
    await this.act(frame, () => this.session.sendKeys(element, paths.join('\n')))
  }

  windows = (): Promise<WindowSeen[]> =>
    this.alone(async () => {
      const seen: WindowSeen[] = []
      const here = await this.session.window().catch(() => undefined)
      for (const handle of await this.order()) {
        if (handle !== here) await this.session.showWindow(handle)
        seen.push({ title: await this.title(), url: await this.url() })
      }
      if (seen.length > 1 && here !== undefined) await this.session.showWindow(here)
      return seen
    })

  showWindow = (index: number): Promise<void> =>
    this.alone(async () => {
      const handle = (await this.order())[index]
      if (handle === undefined) throw new Error('this window is not there any more')
      await this.session.showWindow(handle)
      this.at = []
    })

  closeWindow = (): Promise<boolean> =>
    this.alone(async () => {
      const [first] = await this.order()
      if (first === (await this.session.window())) return false
      await this.session.closeWindow()
      return true
    })

  shownWindow = () => this.alone(async () => (await this.order()).indexOf(await this.session.window()))

  /** The protocol gives windows in no order: new ones come behind those that are known. What a page opens
   * beyond what it may is closed. */
  private async order(): Promise<string[]> {
    const there = await this.guard(() => this.session.windows())
    const known = this.handles.filter((handle) => there.includes(handle))
    const all = [...known, ...there.filter((handle) => !known.includes(handle))]
    this.handles = all.slice(0, 1 + POPUPS_MOST)
    if (all.length > this.handles.length) await this.closeAll(all.slice(this.handles.length))
    return this.handles
  }

  private async closeAll(handles: readonly string[]): Promise<void> {
    const shown = await this.session.window()
    for (const handle of handles) {
      await this.session.showWindow(handle)
      await this.session.closeWindow()
      this.log.push({ type: 'console', atMs: this.pace.now(), level: 'warning', text: TOO_MANY_WINDOWS })
    }
    await this.session.showWindow(shown)
    this.at = []
  }

  cookies = () => this.guard(() => this.session.cookies())
  setCookies = (cookies: readonly Cookie[]) => this.session.setCookies(cookies)

  arrivedWith = () => this.arrived

  /** Until the page has come, where an action led to one. */
  async waitForPage(limitMs: number): Promise<void> {
    const until = performance.now() + limitMs
    for (;;) {
      const ready = await this.run([], 'ready').catch(() => false)
      if (ready || performance.now() >= until) break
      await new Promise((resolve) => setTimeout(resolve, POLL_MS))
    }
    await this.collect()
  }

  answerDialogWith = (answer: DialogAnswer): void => void (this.alerts.next = answer)
  hearDialogs = (listeners: DialogListeners | undefined): void => void (this.alerts.listeners = listeners)

  dialogs = () => this.alerts.said
  dismissed = async (): Promise<string | undefined> => this.alerts.dismissed

  url = () => this.guard(() => this.session.url())
  title = () => this.guard(() => this.session.title())
  downloads = async () =>
    this.folder
      ? (await readdir(this.folder).catch(() => [])).filter(
          (name) => !/\.(part|crdownload|wkdownload)$/.test(name),
        )
      : []

  async screenshot(type: 'jpeg' | 'png'): Promise<Buffer> {
    const taken = await this.alone(() => this.enter([]).then(() => this.session.screenshot()))
    const png = Buffer.from(taken, 'base64')
    return type === 'png' ? png : sharp(png).jpeg({ quality: JPEG_QUALITY }).toBuffer()
  }

  takeLog(): LogEntry[] {
    return this.log.take()
  }

  lost = () => this.log.lost

  async close(): Promise<void> {
    await this.session.end().catch(() => {})
    await this.ended()
  }

  /** Carries out something that may bring up a dialog of the browser, and sees to that. */
  private act(frame: Frame, work: () => Promise<unknown>): Promise<void> {
    return this.alone(async () => {
      await this.enter(frame)
      await this.guard(work)
      await this.alerts.seeTo()
      await this.order()
    })
  }

  /** A dialog that is open refuses whatever is asked: it is seen to, and the same asked again. */
  private async guard<T>(work: () => Promise<T>): Promise<T> {
    try {
      return await work()
    } catch (error) {
      if (!(error instanceof WebDriverError) || error.code !== 'unexpected alert open') throw error
      await this.alerts.seeTo()
      return work()
    }
  }

  private async call<T>(frame: Frame, name: string, args: readonly unknown[]): Promise<T> {
    const work = async (): Promise<T> => {
      await this.enter(frame)
      const there = await this.session.execute<[T] | null>(CALL, [name, ...args])
      if (there) return there[0]
      await this.session.execute(
        `${pageScript()}; window.oakPage = oakPage; oakPage.listen(); oakPage.hideSecrets()`,
        [],
      )
      return (await this.session.execute<[T]>(CALL, [name, ...args]))[0]
    }
    return this.alone(() => this.guard(work))
  }

  private async enter(frame: Frame): Promise<void> {
    await this.session.switchTo(null)
    for (const element of frame) await this.session.switchTo(element)
    this.at = frame
  }

  /** What the page said and asked since the last time. The protocol has no such events; the page is asked. */
  private async collect(): Promise<void> {
    const offset = this.pace.now() - Date.now()
    const said = await this.run([], 'takeSaid').catch(() => [])
    for (const { level, text, at } of said)
      this.log.push({ type: 'console', atMs: Math.max(0, Math.round(at + offset)), level, text })
    this.log.lost.console += await this.run([], 'takeUnsaid').catch(() => 0)
    const requests = await this.run([], 'takeRequests').catch(() => [])
    for (const { url, status, ms, at, main } of requests) {
      if (main) this.arrived = status
      const atMs = Math.max(0, Math.round(at + offset))
      this.log.push({ type: 'request', atMs, method: 'GET', url, status: status || -1, ms })
    }
  }
}
