/** One Chromium for the whole agent process; each attempt gets a context of its own. */
import { existsSync } from 'node:fs'
import { chromium, type Browser } from 'playwright-core'

const CANDIDATES = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium']
const ARGS = ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync']

/** Path of a Chromium on this machine, or `undefined` with nothing installed. OAK_CHROMIUM names another. */
export const findChromium = (): string | undefined => [process.env.OAK_CHROMIUM ?? '', ...CANDIDATES].find((path) => path !== '' && existsSync(path))

export class BrowserHolder {
  private browser: Promise<Browser> | undefined

  /** The running browser; a new one when the last has gone. */
  get(): Promise<Browser> {
    this.browser ??= this.launch().catch((error: unknown) => {
      this.browser = undefined
      throw error
    })
    return this.browser
  }

  private async launch(): Promise<Browser> {
    const executablePath = findChromium()
    if (!executablePath) throw new Error('Chromium is not installed: apt-get install chromium-headless-shell')
    const browser = await chromium.launch({ executablePath, args: ARGS, headless: true, handleSIGINT: false, handleSIGTERM: false })
    browser.once('disconnected', () => (this.browser = undefined))
    return browser
  }

  async close(): Promise<void> {
    await (await this.browser?.catch(() => undefined))?.close()
  }
}
