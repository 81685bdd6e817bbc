/** The browsers of this machine: which are there, and one for each attempt. */
import type { Environment } from '@/core/model'
import type { Work } from '@/core/execution'
import { BrowserHolder, findChromium } from './chromium/browser'
import { ChromiumDriver } from './chromium/driver'
import type { BrowserDriver, Pace } from './driver/port'
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

/** An environment of a real browser is served by the engine that its key, or its browser, begins with. */
const engineOf = (words: string): EngineName => (Object.keys(ENGINES) as EngineName[]).find((name) => words.toLowerCase().startsWith(name)) ?? 'chromium'

/** What of these environments can be served here, and what is missing for the others. */
export function servable(environments: readonly string[]): { environments: string[]; missing: Missing[] } {
  const lacking = new Map((Object.keys(ENGINES) as EngineName[]).map((name) => [name, ENGINES[name].missing()] as const))
  const wanted = [...new Set(environments.map(engineOf))]
  return {
    environments: environments.filter((key) => lacking.get(engineOf(key))!.length === 0),
    missing: wanted.filter((name) => lacking.get(name)!.length > 0).map((name) => ({ what: ENGINES[name].name, get: `apt-get install ${lacking.get(name)!.join(' ')}` })),
  }
}

/** Browsers of one agent process: Chromium and Firefox are shared by its attempts, each in a context of its own; WebKit is started for each. */
export class Engines {
  readonly chromium = new BrowserHolder()
  private firefox: FirefoxHolder | undefined
  private screen: HiddenScreen | undefined

  open({ environment, how }: Pick<Work, 'environment' | 'how'>, pace: Pace): Promise<BrowserDriver> {
    const films = how?.video !== 'never'
    switch (engineOf(environment.browser)) {
      case 'firefox':
        return openFirefox((this.firefox ??= new FirefoxHolder()), environment, pace, films)
      case 'webkit':
        return openWebKit((this.screen ??= new HiddenScreen()), environment satisfies Environment, pace, films)
      default:
        return ChromiumDriver.open(this.chromium, environment, pace, films)
    }
  }

  async close(): Promise<void> {
    this.screen?.close()
    await Promise.all([this.chromium.close(), this.firefox?.close()])
  }
}
