/** A Firefox for each locale, time zone and so on that is asked for: what a browser says of them is set when
 * it starts. */
import { existsSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import puppeteer, { type Browser } from 'puppeteer-core'
import type { Conditions, Environment } from '@/core/model'
import { browserEnv, endBrowser, letStandBack, newMark, startBrowserPath } from '../browser-process'

const CANDIDATES = ['/usr/bin/firefox-esr', '/usr/bin/firefox']
/** Path of a Firefox on this machine, or `undefined` with nothing installed. OAK_FIREFOX names another. */
export const findFirefox = (): string | undefined =>
  [process.env.OAK_FIREFOX ?? '', ...CANDIDATES].find((path) => path !== '' && existsSync(path))

const LAUNCH_LIMIT_MS = 60_000

/** What a browser is started with. */
type Started = Pick<Environment, 'locale' | keyof Conditions>

const COLOURS = { dark: 0, light: 1 } as const

function conditionPrefs({ colours, location, camera }: Conditions): Record<string, unknown> {
  return {
    ...(colours && { 'layout.css.prefers-color-scheme.content-override': COLOURS[colours] }),
    ...(location && {
      'geo.prompt.testing': true,
      'geo.prompt.testing.allow': true,
      // it asks this address where it is
      'geo.provider.network.url': `data:application/json,${JSON.stringify({
        location: { lat: location.latitude, lng: location.longitude },
        accuracy: 10,
      })}`,
    }),
    ...(camera && {
      'media.navigator.streams.fake': true,
      'media.navigator.permission.disabled': true,
    }),
  }
}

export class FirefoxHolder {
  readonly mark = newMark()
  private readonly browsers = new Map<string, Promise<Browser>>()
  private readonly folder = mkdtempSync(join(tmpdir(), `oak-firefox-${this.mark}-`))

  /** Where downloads of an attempt go, by a name of its own. */
  readonly downloads = join(this.folder, 'downloads')

  get(environment: Started): Promise<Browser> {
    const { locale, timeZone, colours, location, camera } = environment
    const key = JSON.stringify([locale, timeZone, colours, location, camera])
    const known = this.browsers.get(key)
    if (known) return known
    const launched = this.launch(environment)
    this.browsers.set(key, launched)
    // Only this one: by then another may have been started in its place.
    const forget = () => {
      if (this.browsers.get(key) === launched) this.browsers.delete(key)
    }
    launched.then((browser) => browser.once('disconnected', forget), forget)
    return launched
  }

  private async launch(environment: Started): Promise<Browser> {
    const { locale, timeZone } = environment
    const program = findFirefox()
    if (!program) throw new Error('Firefox is not installed: apt-get install firefox-esr')
    const browser = await puppeteer.launch({
      browser: 'firefox',
      executablePath: startBrowserPath(),
      headless: true,
      env: browserEnv(this.mark, program, timeZone ? { TZ: timeZone } : {}),
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
        ...conditionPrefs(environment),
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
