/** A Chromium: each attempt gets a context of its own in it. */
import { existsSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium, type Browser } from 'playwright-core'
import { browserEnv, endBrowser, letStandBack, newMark, startBrowserPath } from '../browser-process'

const CANDIDATES = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium']
const ARGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  // what pages get that are allowed a camera
  '--use-fake-device-for-media-stream',
]

/** Path of a Chromium on this machine, or `undefined` with nothing installed. OAK_CHROMIUM names another. */
export const findChromium = (): string | undefined =>
  [process.env.OAK_CHROMIUM ?? '', ...CANDIDATES].find((path) => path !== '' && existsSync(path))

export class BrowserHolder {
  readonly mark = newMark()
  /** Where its downloads are until the attempt they belong to is closed. */
  readonly downloads = mkdtempSync(join(tmpdir(), `oak-chromium-${this.mark}-`))
  private browser: Promise<Browser> | undefined

  /** @param also given to the browser beside the usual arguments */
  constructor(private readonly also: readonly string[] = []) {}

  /** The running browser; a new one when the last has gone. */
  get(): Promise<Browser> {
    this.browser ??= this.launch().catch((error: unknown) => {
      this.browser = undefined
      throw error
    })
    return this.browser
  }

  private async launch(): Promise<Browser> {
    const program = findChromium()
    if (!program) throw new Error('Chromium is not installed: apt-get install chromium-headless-shell')
    const browser = await chromium.launch({
      executablePath: startBrowserPath(),
      args: [...ARGS, ...this.also],
      downloadsPath: this.downloads,
      headless: true,
      env: browserEnv(this.mark, program),
      handleSIGINT: false,
      handleSIGTERM: false,
    })
    letStandBack(this.mark)
    const launched = this.browser
    browser.once('disconnected', () => {
      if (this.browser === launched) this.browser = undefined
    })
    return browser
  }

  /** Ends it at once, whatever it is doing: the next attempt gets a new one. */
  kill(): void {
    this.browser = undefined
    endBrowser(this.mark)
  }

  async close(): Promise<void> {
    await (await this.browser?.catch(() => undefined))?.close()
    rmSync(this.downloads, { recursive: true, force: true })
  }
}
