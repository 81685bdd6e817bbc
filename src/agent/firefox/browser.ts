/** A Firefox for each locale that is asked for: what a browser says it speaks is set when it starts. */
import { existsSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import puppeteer, { type Browser } from 'puppeteer-core'
import { browserEnv, endBrowser, letStandBack, newMark, startBrowserPath } from '../browser-process'

const CANDIDATES = ['/usr/bin/firefox-esr', '/usr/bin/firefox']
/** Path of a Firefox on this machine, or `undefined` with nothing installed. OAK_FIREFOX names another. */
export const findFirefox = (): string | undefined =>
  [process.env.OAK_FIREFOX ?? '', ...CANDIDATES].find((path) => path !== '' && existsSync(path))

const LAUNCH_LIMIT_MS = 60_000

export class FirefoxHolder {
  readonly mark = newMark()
  private readonly browsers = new Map<string, Promise<Browser>>()
  private readonly folder = mkdtempSync(join(tmpdir(), `oak-firefox-${this.mark}-`))

  /** Where downloads of an attempt go, by a name of its own. */
  readonly downloads = join(this.folder, 'downloads')

  get(locale: string): Promise<Browser> {
    const known = this.browsers.get(locale)
    if (known) return known
    const launched = this.launch(locale)
    this.browsers.set(locale, launched)
    // Only this one: by then another may have been started in its place.
    const forget = () => {
      if (this.browsers.get(locale) === launched) this.browsers.delete(locale)
    }
    launched.then((browser) => browser.once('disconnected', forget), forget)
    return launched
  }

  private async launch(locale: string): Promise<Browser> {
    const program = findFirefox()
    if (!program) throw new Error('Firefox is not installed: apt-get install firefox-esr')
    const browser = await puppeteer.launch({
      browser: 'firefox',
      executablePath: startBrowserPath(),
      headless: true,
      env: browserEnv(this.mark, program),
      timeout: LAUNCH_LIMIT_MS,
      handleSIGINT: false,
      handleSIGTERM: false,
      handleSIGHUP: false,
      extraPrefsFirefox: {
        'intl.accept_languages': locale,
        'browser.download.folderList': 2,
        'browser.download.dir': this.downloads,
        'browser.download.useDownloadDir': true,
        'browser.download.always_ask_before_handling_new_types': false,
        'browser.helperApps.neverAsk.saveToDisk':
          'application/octet-stream,application/pdf,text/plain,text/csv',
        'network.captive-portal-service.enabled': false,
        'network.connectivity-service.enabled': false,
        'app.update.disabledForTesting': true,
      },
    })
    letStandBack(this.mark)
    return browser
  }

  /** Ends it at once, whatever it is doing: the next attempt gets a new one. */
  kill(): void {
    this.browsers.clear()
    endBrowser(this.mark)
  }

  async close(): Promise<void> {
    await Promise.all(
      [...this.browsers.values()].map(async (browser) =>
        (await browser.catch(() => undefined))?.close().catch(() => {}),
      ),
    )
    rmSync(this.folder, { recursive: true, force: true })
  }
}
