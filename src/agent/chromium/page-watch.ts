/** What a page says while a case works on it: its log, its downloads and dialogs, and how the newest document
 * arrived. */
import type { BrowserContext, Dialog, Download, Page, Request, Response } from 'playwright-core'
import type { AskedDialog } from '@/core/live'
import { EntryLog } from '../driver/entry-log'
import type { DialogAnswer, LiveListeners } from '../driver/live'
import { readDownload } from '../driver/download-file'
import { inTime, LATE } from '../driver/in-time'
import { Exchanges } from '../driver/exchanges'
import { DIALOG_CHARS, DIALOGS_MOST, DriverFault, POPUPS_MOST, TOO_MANY_WINDOWS } from '../driver/port'
import { exchangeOf } from './exchange'

/** Files a page may have downloaded. */
const DOWNLOADS_MOST = 100
/** One that is asked for is waited for so long. */
const WHOLE_MS = 2000

export class PageWatch {
  readonly log = new EntryLog()
  /** Names of downloaded files. */
  readonly files: string[] = []
  private readonly downloads = new Map<string, Download>()
  /** Words of the dialogs of the browser, oldest first. */
  readonly dialogs: string[] = []
  /** HTTP status of the newest document in the main frame. */
  arrivedWith = 200
  /** For the next dialog of the browser; without it that is dismissed. */
  nextAnswer: DialogAnswer | undefined
  /** Words of the newest dialog that was dismissed without being asked for. */
  dismissed: string | undefined
  /** Asked for the answer where none was given. */
  ask: LiveListeners['ask'] | undefined
  /** Told of each dialog of the browser, and how it is answered. */
  onDialog: ((words: string, answer: 'accept' | 'dismiss') => void) | undefined
  readonly broken: Promise<DriverFault>
  /** Its context is closed by ourselves. */
  isClosing = false
  private readonly asked = new WeakMap<Request, number>()
  private readonly exchanges: Exchanges

  /** The window that is worked in. */
  shown: Page

  /** @param first the first window of the context @param now the clock of the attempt @param mark begins the
   * console line in which the page says how many it left out */
  constructor(
    context: BrowserContext,
    first: Page,
    private readonly now: () => number,
    private readonly mark: string,
  ) {
    this.shown = first
    this.exchanges = new Exchanges(this.log, now)
    this.broken = new Promise((resolve) => {
      first.once('crash', () => resolve(new DriverFault('page', 'the page took its browser down')))
      const onGone = () => resolve(new DriverFault('page', 'the browser is gone'))
      const browser = context.browser()
      browser?.once('disconnected', onGone)
      // the browser outlives its attempts, and would keep all that each of them held
      context.once('close', () => {
        browser?.off('disconnected', onGone)
        // of a browser that was killed this comes first
        if (!this.isClosing) onGone()
      })
    })
    this.follow(first)
    context.on('page', (popup) => {
      if (context.pages().length <= 1 + POPUPS_MOST) return this.follow(popup)
      void popup.close().catch(() => {})
      this.noteLine('warning', TOO_MANY_WINDOWS)
    })
  }

  private follow(page: Page): void {
    page.on('console', (message) => this.noteLine(message.type(), message.text()))
    page.on('pageerror', ({ name, message }) => this.noteLine('error', `${name}: ${message}`))
    page.on('request', (request) => void this.asked.set(request, this.now()))
    page.on('requestfailed', (request) => this.noteExchange(request, this.noteRequest(request, 0)))
    page.on('response', (response) => {
      const atMs = this.noteRequest(response.request(), response.status())
      if (response.status() >= 400) this.noteExchange(response.request(), atMs, response)
      const leadsOn = response.request().isNavigationRequest() && response.frame() === page.mainFrame()
      if (leadsOn && page === this.shown) this.arrivedWith = response.status()
    })
    page.on('download', (download) => {
      if (this.files.length >= DOWNLOADS_MOST) return void download.cancel().catch(() => {})
      const name = download.suggestedFilename()
      this.files.push(name)
      this.downloads.set(name, download)
    })
    page.on('dialog', (dialog) => void this.answer(dialog).catch(() => {}))
  }

  /** @throws {DriverFault} page: it is not there, too large, or not whole yet */
  async downloaded(name: string): Promise<Uint8Array> {
    const download = this.downloads.get(name)
    if (!download) throw new DriverFault('page', 'No file of that name was downloaded')
    const path = await inTime(download.path(), WHOLE_MS)
    if (path === LATE) throw new DriverFault('page', 'The file is still coming: take it later')
    return readDownload(path)
  }

  private noteLine(level: string, text: string): void {
    if (text.startsWith(this.mark)) this.log.lost.console += Number(text.slice(this.mark.length)) || 0
    else this.log.push({ type: 'console', atMs: this.now(), level, text })
  }

  /** At once, without asking the browser anything more: the step that caused the request may end the next
   * moment. @returns when */
  private noteRequest(request: Request, status: number): number {
    const now = this.now()
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

  private noteExchange(request: Request, askedAtMs: number, response?: Response): void {
    this.exchanges.note(request.url(), askedAtMs, () => exchangeOf(request, response))
  }

  /** What is being read of requests that failed is in the log then. */
  settled = (): Promise<void> => this.exchanges.settled()

  private async answer(dialog: Dialog): Promise<void> {
    const words = dialog.message().slice(0, DIALOG_CHARS)
    const next = this.nextAnswer
    this.nextAnswer = undefined
    const asked = { kind: dialog.type() as AskedDialog['kind'], words, suggested: dialog.defaultValue() }
    const given = next ?? (await this.ask?.(asked as AskedDialog))
    if (this.dialogs.length < DIALOGS_MOST) this.dialogs.push(words)
    if (!given) this.dismissed = words
    this.onDialog?.(words, given?.accept ? 'accept' : 'dismiss')
    await (given?.accept ? dialog.accept(given.text) : dialog.dismiss())
  }
}
