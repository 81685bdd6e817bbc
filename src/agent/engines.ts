/** The browsers of this machine: which are there, and one for each attempt. */
import type { Work } from '@/core/execution'
import { BrowserHolder, findChromium } from './chromium/browser'
import { ChromiumDriver } from './chromium/driver'
import { endBrowser, newMark } from './browser-process'
import { bounded } from './driver/bounded'
import { DownloadLimit } from './driver/download-limit'
import { DriverFault, type BrowserDriver, type Pace } from './driver/port'
import { findFirefox, FirefoxHolder } from './firefox/browser'
import { openFirefox } from './firefox/engine'
import { HiddenScreen, openWebKit, webkitMissing } from './webdriver/webkit'

export type Missing = { what: string; get: string }
const ENGINES = {
  chromium: { name: 'Chromium', missing: () => (findChromium() ? [] : ['chromium-headless-shell']) },
  firefox: { name: 'Firefox', missing: () => (findFirefox() ? [] : ['firefox-esr']) },
  webkit: { name: 'WebKit', missing: webkitMissing },
} as const
type EngineName = keyof typeof ENGINES

const NAMES = Object.keys(ENGINES) as EngineName[]

/** The engine that a key of an environment, or the name of a browser, begins with. */
const engineOf = (words: string): EngineName | undefined =>
  NAMES.find((name) => words.toLowerCase().startsWith(name))

/** What of these environments can be served here, and what is missing for the others. A key that names no
 * engine is taken at its word: its browser is known when its first work comes. */
export function servable(environments: readonly string[]): { environments: string[]; missing: Missing[] } {
  const lacking = new Map(NAMES.map((name) => [name, ENGINES[name].missing()] as const))
  const packagesFor = (name: EngineName | undefined) => (name ? lacking.get(name)! : [])
  const wanted = [...new Set(environments.map(engineOf))].filter((name) => name !== undefined)
  return {
    environments: environments.filter((key) => packagesFor(engineOf(key)).length === 0),
    missing: wanted
      .filter((name) => packagesFor(name).length > 0)
      .map((name) => ({ what: ENGINES[name].name, get: `apt-get install ${packagesFor(name).join(' ')}` })),
  }
}

/** A driver, and the browser behind it. */
export type Opened = {
  driver: BrowserDriver
  /** Of its processes; absent: there are none here. */
  mark?: string
  /** Ends them at once. */
  end?(): void
}

type SeatBrowsers = { chromium: BrowserHolder; firefox?: FirefoxHolder }

/** Browsers of one agent process: each seat has its own, kept from one attempt to the next, so that what a
 * page does to its browser ends one attempt. WebKit is started for each attempt. */
export class Engines {
  private readonly seats = new Map<string, SeatBrowsers>()
  private screen: HiddenScreen | undefined

  /** @param seat names the seat among all of this process
   * @throws {DriverFault} agent: no engine here is this browser */
  async open(
    { environment, how }: Pick<Work, 'environment' | 'how'>,
    pace: Pace,
    seat: string,
  ): Promise<Opened> {
    const films = how?.video !== 'never'
    const own = this.browsersOf(seat)
    switch (engineOf(environment.browser)) {
      case 'firefox': {
        const holder = (own.firefox ??= new FirefoxHolder())
        return opened(await openFirefox(holder, environment, pace, films), holder, () => holder.kill())
      }
      case 'webkit': {
        const mark = newMark()
        const screen = (this.screen ??= new HiddenScreen())
        const { driver, downloads } = await openWebKit(screen, environment, pace, films, mark)
        return opened(driver, { mark, downloads }, () => endBrowser(mark))
      }
      case 'chromium': {
        const holder = own.chromium
        return opened(await ChromiumDriver.open(holder, environment, pace, films), holder, () =>
          holder.kill(),
        )
      }
      case undefined: {
        const known = NAMES.map((name) => ENGINES[name].name).join(', ')
        throw new DriverFault(
          'agent',
          `there is no browser “${environment.browser}” here; there is: ${known}`,
        )
      }
    }
  }

  async close(): Promise<void> {
    this.screen?.close()
    const all = [...this.seats.values()]
    await Promise.all(all.flatMap(({ chromium, firefox }) => [chromium.close(), firefox?.close()]))
  }

  private browsersOf(seat: string): SeatBrowsers {
    const known = this.seats.get(seat) ?? { chromium: new BrowserHolder() }
    this.seats.set(seat, known)
    return known
  }
}

const opened = (
  driver: BrowserDriver,
  { mark, downloads }: { mark: string; downloads: string },
  end: () => void,
): Opened => ({ driver: bounded(driver, end, new DownloadLimit(downloads, end)), mark, end })
