/** What a page says while a case works on it: its log, its downloads and dialogs, and how the newest document
 * arrived. */
import type { BrowserContext, Dialog, Page, Request } from 'playwright-core'
import { EntryLog } from '../driver/entry-log'
import { DriverFault } from '../driver/port'

/** Windows a page may open beside its own, and files it may have downloaded. */
const [POPUPS_MOST, DOWNLOADS_MOST] = [4, 100]
const DIALOG_CHARS = 2000

export type DialogAnswer = { accept: boolean; text: string | undefined }

export class PageWatch {
  readonly log = new EntryLog()
  /** Names of downloaded files. */
  readonly files: string[] = []
  /** HTTP status of the newest document in the main frame. */
  arrivedWith = 200
  /** For the next dialog of the browser; without it that is dismissed. */
  nextAnswer: DialogAnswer | undefined
  /** Words of the newest dialog that was dismissed without being asked for. */
  dismissed: string | undefined
  readonly broken: Promise<DriverFault>
  private readonly asked = new WeakMap<Request, number>()

  /** @param now the clock of the attempt @param mark begins the console line in which the page says how many
   * it left out */
  constructor(
    context: BrowserContext,
    page: Page,
    private readonly now: () => number,
    private readonly mark: string,
  ) {
    this.broken = new Promise((resolve) => {
      page.once('crash', () => resolve(new DriverFault('page', 'the page took its browser down')))
      context.browser()?.once('disconnected', () => resolve(new DriverFault('page', 'the browser is gone')))
    })
    page.on('console', (message) => this.noteLine(message.type(), message.text()))
    page.on('pageerror', ({ name, message }) => this.noteLine('error', `${name}: ${message}`))
    page.on('request', (request) => void this.asked.set(request, now()))
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
    page.on('dialog', (dialog) => void this.answer(dialog).catch(() => {}))
    context.on('page', (popup) => {
      if (context.pages().length > 1 + POPUPS_MOST) void popup.close().catch(() => {})
    })
  }

  private noteLine(level: string, text: string): void {
    if (text.startsWith(this.mark)) this.log.lost.console += Number(text.slice(this.mark.length)) || 0
    else this.log.push({ type: 'console', atMs: this.now(), level, text })
  }

  /** At once, without asking the browser anything more: the step that caused the request may end the next
   * moment. */
  private noteRequest(request: Request, status: number): void {
    const now = this.now()
    this.log.push({
      type: 'request',
      atMs: now,
      method: request.method(),
      url: request.url(),
      status,
      ms: now - (this.asked.get(request) ?? now),
    })
  }

  private async answer(dialog: Dialog): Promise<void> {
    const given = this.nextAnswer
    this.nextAnswer = undefined
    if (!given) this.dismissed = dialog.message().slice(0, DIALOG_CHARS)
    await (given?.accept ? dialog.accept(given.text) : dialog.dismiss())
  }
}
