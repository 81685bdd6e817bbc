/** The driver port on top of any engine: finds elements, waits for them, and explains in plain words why an
 * action failed. */
import { mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { basename, join } from 'node:path'
import {
  type Clicking,
  type ElementState,
  type Environment,
  type Target,
  type UploadFile,
  type WayToGo,
  waysInPage,
} from '@/core/model'
import type { Box } from '@/core/execution'
import {
  DriverFault,
  SOURCE_MOST,
  type BrowserDriver,
  type Found,
  type LogEntry,
  type Look,
  type Pace,
  type ScreenShot,
} from '../driver/port'
import type { LiveBrowser, LiveListeners } from '../driver/live'
import type { Engine } from './engine'
import { readDownloadIn } from '../driver/download-file'
import { PagedIdentity } from './identity'
import { PolledLive } from './live'
import { PageScreens } from './screens'
import { notOne } from '../driver/ambiguous'
import { chosenOf } from '../driver/choices'
import { bytesOfFile, filesInPage, takesNoFiles } from '../driver/files'
import { firstStays, goOn } from '../driver/going'
import { reasonOf } from '../driver/reason'
import { sourceOfFrames } from '../driver/source'

const POLL_MS = 60
const ARRIVAL_MS = 3000
const GONE: Look = { count: 0, text: '', value: '', states: ['hidden'] }

type Located<F, E> = { frame: F; element: E; way: string }

export class PagedDriver<F, E> implements BrowserDriver {
  private readonly screens: PageScreens<F, E>
  readonly identity: PagedIdentity<F, E>

  constructor(
    private readonly engine: Engine<F, E>,
    private readonly environment: Environment,
    pace: Pace,
    films: boolean,
  ) {
    this.identity = new PagedIdentity(engine)
    this.screens = new PageScreens(engine, environment, pace, films)
  }

  get facts(): Record<string, string> {
    return this.engine.facts
  }

  get broken(): Promise<DriverFault> | undefined {
    return this.engine.broken
  }

  async open(url: string, limitMs: number): Promise<void> {
    const status = await this.engine.goto(url, limitMs).catch((error: unknown) => {
      throw new DriverFault('page', `the page does not open: ${reasonOf(error)}`)
    })
    requireArrival(status)
  }

  async go(where: WayToGo, limitMs: number): Promise<void> {
    const go = async () => {
      await this.engine.go(where, limitMs)
      await this.engine.waitForPage(ARRIVAL_MS)
    }
    await goOn(where, this.url, { back: go, forward: go, reload: go })
    requireArrival(this.engine.arrivedWith())
  }

  click = (target: Target, limitMs: number, how: Clicking = {}) =>
    this.act(target, limitMs, async ({ element }) => {
      await this.engine.click(element, how, target.spot)
      await this.engine.waitForPage(ARRIVAL_MS)
      requireArrival(this.engine.arrivedWith())
    })

  async type(
    target: Target,
    text: string,
    limitMs: number,
    hide = false,
  ): Promise<Found & { masked: boolean }> {
    let masked = false
    const found = await this.act(target, limitMs, async ({ element }) => {
      masked = (await this.engine.on(element, 'kindOf')).type === 'password'
      await this.engine.on(element, 'hideField', hide ? text : null)
      await this.engine.on(element, 'fill', text)
    })
    return { ...found, masked }
  }

  choose = (target: Target, option: string, limitMs: number, also: readonly string[] = []) =>
    this.act(target, limitMs, async ({ element }) => {
      if ((await this.engine.on(element, 'kindOf')).tag !== 'SELECT') {
        const wanted = !['no', 'off', 'false'].includes(option)
        if ((await this.engine.on(element, 'read')).states.includes('checked') !== wanted)
          // by the pointer: a label may have drawn over it; some engines point at nothing transparent
          await this.engine.click(element, { times: 1 }).catch(() => this.engine.on(element, 'activate'))
        return
      }
      const list = await this.engine.on(element, 'options')
      await this.engine.on(element, 'select', chosenOf(list, [option, ...also]))
    })

  async press(key: string, target: Target | undefined, limitMs: number): Promise<Found | undefined> {
    const press = async (element: E | undefined) => {
      await this.engine.press(key, element)
      await this.engine.waitForPage(ARRIVAL_MS)
    }
    if (target) return this.act(target, limitMs, ({ element }) => press(element))
    await press(undefined)
    return undefined
  }

  hover = (target: Target, limitMs: number) =>
    this.act(target, limitMs, ({ element }) => this.engine.hover(element))

  async drag(from: Target, to: Target, limitMs: number): Promise<Found> {
    const { element } = await this.locate(to, limitMs)
    return this.act(from, limitMs, (dragged) => this.engine.drag(dragged.element, element))
  }

  upload = (target: Target, files: readonly UploadFile[], limitMs: number) =>
    this.act(target, limitMs, async ({ element }) => {
      if ((await this.engine.on(element, 'kindOf')).type !== 'file') {
        if (await this.engine.on(element, 'dropFiles', filesInPage(files))) return
        throw takesNoFiles(target)
      }
      const folder = await mkdtemp(join(tmpdir(), 'oak-upload-'))
      try {
        const paths = files.map(({ name }) => join(folder, fileNameOf(name)))
        for (const [i, path] of paths.entries()) await writeFile(path, bytesOfFile(files[i]!))
        await this.engine.upload(element, paths)
      } finally {
        // the browser reads it when the form is sent
        setTimeout(() => void rm(folder, { recursive: true, force: true }), 60_000).unref()
      }
    })

  scrollTo = (target: Target, limitMs: number) =>
    this.act(target, limitMs, ({ element }) => this.engine.on(element, 'reveal'))

  async scrollBy(by: number | undefined, within: Target | undefined, limitMs: number): Promise<boolean> {
    if (within) return this.engine.on((await this.locate(within, limitMs)).element, 'scrollAt', by ?? null)
    const [top] = await this.engine.frames()
    return top === undefined ? false : this.engine.run(top, 'scrollPage', by ?? null)
  }

  windows = () => this.engine.windows()

  async showWindow(index: number, limitMs: number): Promise<void> {
    await this.engine.showWindow(index).catch((error: unknown) => {
      throw new DriverFault('page', reasonOf(error))
    })
    await this.engine.waitForPage(Math.min(limitMs, ARRIVAL_MS))
  }

  async closeWindow(limitMs: number): Promise<void> {
    if (!(await this.engine.closeWindow())) throw firstStays()
    await this.showWindow(0, limitMs)
  }

  async answerDialog(accept: boolean, text: string | undefined): Promise<void> {
    this.engine.answerDialogWith({ accept, text })
  }

  async look(target: Target): Promise<Look> {
    const first = (await this.candidates(target).catch(() => []))[0]
    if (!first) return GONE
    if (first.count > 1)
      return { count: first.count, text: '', value: '', states: ['visible'], found: { way: first.way } }
    try {
      const element = await this.engine.element(first.frame, first.way, target)
      const { states, ...seen } = await this.engine.on(element, 'read')
      const box = await this.engine.box(first.frame, element)
      return {
        count: 1,
        ...seen,
        states: states as ElementState[],
        found: { way: first.way, ...(box && { box }) },
      }
    } catch {
      return GONE // it went away while we looked
    }
  }

  async attribute(target: Target, name: string): Promise<string | undefined> {
    const first = (await this.candidates(target))[0]
    if (first?.count !== 1) return undefined
    return (
      (await this.engine.on(await this.engine.element(first.frame, first.way, target), 'attribute', name)) ??
      undefined
    )
  }

  url = () => this.engine.url()
  title = () => this.engine.title().catch(() => '')
  downloads = () => this.engine.downloads()
  downloaded = async (name: string) => readDownloadIn(this.engine.folder, await this.engine.downloads(), name)
  dialogs = async () => [...this.engine.dialogs()]
  get network() {
    return this.engine.network?.bind(this.engine)
  }
  async source(): Promise<string> {
    const frames = await this.engine.frames()
    return sourceOfFrames(frames.map((frame) => () => this.engine.run(frame, 'source', SOURCE_MOST)))
  }
  takeLog = (): LogEntry[] => this.engine.takeLog()
  lost = () => this.engine.lost()

  conceal = (texts: readonly string[], origins: readonly string[]) => this.screens.conceal(texts, origins)
  screen = () => this.screens.screen()
  exact = () => this.screens.exact()
  get display(): (() => Promise<ScreenShot | undefined>) | undefined {
    return this.engine.display && (() => this.screens.display())
  }

  stopVideo = () => this.screens.stopVideo()

  live = async (listeners: LiveListeners): Promise<LiveBrowser> =>
    new PolledLive(this.engine, () => this.screens.live(), listeners)

  async openDialog(): Promise<string | undefined> {
    const own = await this.engine.dismissed().catch(() => undefined)
    if (own !== undefined) return own
    const [top] = await this.engine.frames().catch(() => [])
    return top === undefined
      ? undefined
      : ((await this.engine.run(top, 'openDialog').catch(() => null)) ?? undefined)
  }

  settled = async (): Promise<void> => this.engine.settled?.()

  async close(): Promise<void> {
    await this.screens.close()
    await this.engine.close().catch(() => {})
  }

  /** How many elements each way of the target finds now, over the page and its frames; the first way that
   * finds any comes first. */
  private async candidates(target: Target): Promise<{ frame: F; way: string; count: number }[]> {
    const found: { frame: F; way: string; count: number }[] = []
    const frames = await this.engine.frames()
    for (const way of waysInPage(target)) {
      const counts: number[] = []
      for (const frame of frames)
        counts.push(await this.engine.run(frame, 'count', way, target).catch(() => 0))
      const count = counts.reduce((sum, n) => sum + n, 0)
      if (count > 0) found.push({ frame: frames[counts.findIndex((n) => n > 0)]!, way, count })
    }
    return found
  }

  private async locate(target: Target, limitMs: number): Promise<Located<F, E>> {
    const until = performance.now() + limitMs
    for (;;) {
      const found = await this.candidates(target).catch(() => [])
      const one = found.find(({ count }) => count === 1)
      if (one)
        return {
          frame: one.frame,
          way: one.way,
          element: await this.engine.element(one.frame, one.way, target),
        }
      if (performance.now() >= until) {
        const [many] = found
        const places = many
          ? await this.engine.run(many.frame, 'places', many.way, target).catch(() => [])
          : []
        throw notOne(target, many?.count ?? 0, places)
      }
      await new Promise((resolve) => setTimeout(resolve, POLL_MS))
    }
  }

  /** Finds, waits until nothing stands over it, does, and says in our words why it could not. */
  private async act(
    target: Target,
    limitMs: number,
    action: (located: Located<F, E>) => Promise<unknown>,
  ): Promise<Found> {
    const until = performance.now() + limitMs
    let located: Located<F, E> | undefined
    try {
      located = await this.locate(target, limitMs)
      // What was seen at a point is there now, and would not be once the page had moved.
      if (!target.spot) {
        await this.engine.on(located.element, 'reveal')
        await this.requireFree(located, until)
      }
      const box: Box | undefined = await this.engine
        .box(located.frame, located.element)
        .catch(() => undefined)
      await action(located)
      return { way: located.way, ...(box && { box }) }
    } catch (error) {
      const dialog = await this.openDialog()
      const inDialog = located && (await this.engine.on(located.element, 'isInDialog').catch(() => false))
      if (dialog && !inDialog) throw new DriverFault('dialog', `a dialog “${dialog}” is open over the page`)
      if (error instanceof DriverFault) throw error
      throw new DriverFault('target', reasonOf(error))
    }
  }

  private async requireFree({ element }: Located<F, E>, until: number): Promise<void> {
    for (;;) {
      const hindrance = await this.engine.on(element, 'hindrance')
      if (hindrance === null) return
      if (performance.now() >= until) throw new DriverFault('target', hindrance)
      await new Promise((resolve) => setTimeout(resolve, POLL_MS))
    }
  }
}

/** A case names its file: whatever it says, the file stands in its own folder. @throws {DriverFault}
 * script */
function fileNameOf(written: string): string {
  const name = basename(written.replaceAll('\\', '/'))
  if (name === '' || name === '.' || name === '..' || name.includes('\0'))
    throw new DriverFault('script', `“${written}” is no name of a file`)
  return name
}

function requireArrival(status: number): void {
  if (status >= 500) throw new DriverFault('page', `the page answers ${status}`)
}
