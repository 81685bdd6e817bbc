/** The browsers of this machine: which are there, and one for each attempt. */
import type { Work } from '@/core/execution'
import type { Browsers, Engine } from './browsers'
import { chromium } from './chromium'
import { bounded } from './driver/bounded'
import { DownloadLimit } from './driver/download-limit'
import { DriverFault, type BrowserDriver, type Pace } from './driver/port'
import type { Eyes } from './driver/eyes'
import { seeing } from './driver/seeing'
import { firefox } from './firefox'
import { webkit } from './webdriver'

export type Missing = { what: string; get: string }

/** All there are, by what the keys of their environments begin with. */
const ENGINES = { chromium, firefox, webkit } satisfies Record<string, Engine>
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

/** Browsers of one agent process. */
export class Engines {
  private readonly used = new Map<EngineName, Browsers>()

  constructor(private readonly eyes: Eyes) {}

  /** @param seat names the seat among all of this process
   * @throws {DriverFault} agent: no engine here is this browser */
  async open(
    { environment, how, pictures }: Pick<Work, 'environment' | 'how' | 'pictures'>,
    pace: Pace,
    seat: string,
  ): Promise<Opened> {
    const name = engineOf(environment.browser)
    if (!name) {
      const known = NAMES.map((one) => ENGINES[one].name).join(', ')
      throw new DriverFault('agent', `there is no browser “${environment.browser}” here; there is: ${known}`)
    }
    const films = how?.video !== 'never'
    const { driver, mark, downloads, end } = await this.of(name).open(seat, environment, pace, films)
    return {
      driver: seeing(bounded(driver, end, new DownloadLimit(downloads, end)), this.eyes, pictures),
      mark,
      end,
    }
  }

  async close(): Promise<void> {
    await Promise.all([...this.used.values()].map((browsers) => browsers.close()))
  }

  private of(name: EngineName): Browsers {
    const known = this.used.get(name) ?? ENGINES[name].browsers()
    this.used.set(name, known)
    return known
  }
}
