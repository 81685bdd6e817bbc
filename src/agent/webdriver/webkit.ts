/** WebKitGTK by its own WebDriver: a driver process, a browser and a display for each attempt. */
import { spawn } from 'node:child_process'
import { existsSync, mkdirSync, readdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { createServer, type AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Environment } from '@/core/model'
import { browserEnv, endBrowser, letStandBack, newMark, startBrowserPath } from '../browser-process'
import { requireNone } from '../driver/conditions'
import { HiddenDisplay, XVFB } from './display'
import type { Pace } from '../driver/port'
import { PagedDriver } from '../page/driver'
import { WebDriverSession } from './client'
import { WebDriverEngine } from './engine'

const DRIVER = '/usr/bin/WebKitWebDriver'
const browserPath = () =>
  readdirSync('/usr/lib')
    .flatMap((part) =>
      ['webkit2gtk-4.1', 'webkit2gtk-4.0', 'webkitgtk-6.0'].map((name) =>
        join('/usr/lib', part, name, 'MiniBrowser'),
      ),
    )
    .find((path) => existsSync(path))
const START_LIMIT_MS = 15_000
const THEMES = { light: 'Adwaita', dark: 'Adwaita:dark' } as const
/** What a window has around its page, and room for what it opens beside it. */
const BESIDE = { width: 80, height: 220 }

/** What is missing to drive WebKit here; empty: nothing. */
export const webkitMissing = (): string[] =>
  [
    [DRIVER, 'webkit2gtk-driver'],
    [XVFB, 'xvfb'],
  ]
    .flatMap(([path, name]) => (existsSync(path!) ? [] : [name!]))
    .concat(browserPath() ? [] : ['webkit2gtk-driver'])
    .filter((name, i, all) => all.indexOf(name) === i)

/** @returns the driver, and the folder its browser puts downloads in
 * @throws when WebKit is not installed, or does not start */
export async function openWebKit(
  environment: Environment,
  pace: Pace,
  films = true,
  mark = newMark(),
): Promise<{ driver: PagedDriver<unknown, unknown>; downloads: string }> {
  const missing = webkitMissing()
  if (missing.length > 0) throw new Error(`WebKit is not installed: apt-get install ${missing.join(' ')}`)
  requireNone('WebKit', environment, ['location', 'camera'])
  const home = mkdtempSync(join(tmpdir(), 'oak-webkit-'))
  const downloads = join(home, 'downloads')
  mkdirSync(downloads)
  writeFileSync(join(home, 'user-dirs.dirs'), `XDG_DOWNLOAD_DIR="${downloads}"\n`)
  const port = await freePort()
  const display = await HiddenDisplay.open(mark, {
    width: environment.width + BESIDE.width,
    height: environment.height + BESIDE.height,
  })
  const driver = spawn(startBrowserPath(), [`--port=${port}`], {
    stdio: 'ignore',
    detached: true,
    env: browserEnv(mark, DRIVER, {
      DISPLAY: display.name,
      HOME: home,
      XDG_CONFIG_HOME: home,
      XDG_CACHE_HOME: join(home, 'cache'),
      XDG_DATA_HOME: join(home, 'data'),
      LANG: `${environment.locale.replace('-', '_')}.UTF-8`,
      LANGUAGE: environment.locale.replace('-', '_'),
      LIBGL_ALWAYS_SOFTWARE: '1',
      ...(environment.timeZone && { TZ: environment.timeZone }),
      // pages are told what the theme of its windows is
      ...(environment.colours && { GTK_THEME: THEMES[environment.colours] }),
      WEBKIT_DISABLE_SANDBOX_THIS_IS_DANGEROUS: '1',
    }),
  })
  const end = async () => {
    try {
      process.kill(-driver.pid!) // the driver and the browser it started
    } catch {} // they ended by themselves
    endBrowser(mark) // what left its group, and the display
    rmSync(home, { recursive: true, force: true })
  }
  try {
    const session = await started(`http://127.0.0.1:${port}`, {
      browserName: 'MiniBrowser',
      unhandledPromptBehavior: 'ignore',
      'webkitgtk:browserOptions': { binary: browserPath(), args: ['--automation'] },
    })
    letStandBack(mark)
    const facts = {
      browser: `WebKitGTK ${String(session.capabilities.browserVersion ?? '')}`.trim(),
      screen: `${environment.width}x${environment.height}`,
      locale: environment.locale,
      node: process.version,
    }
    const engine = new WebDriverEngine(session, environment, pace, facts, downloads, end, () =>
      display.picture(),
    )
    await engine.size()
    return {
      driver: new PagedDriver(engine, environment, pace, films) as PagedDriver<unknown, unknown>,
      downloads,
    }
  } catch (error) {
    await end()
    throw error
  }
}

/** Asks until the driver is up. */
async function started(endpoint: string, wanted: Record<string, unknown>): Promise<WebDriverSession> {
  for (const until = performance.now() + START_LIMIT_MS; ;) {
    try {
      return await WebDriverSession.start(endpoint, wanted)
    } catch (error) {
      // fetch says so while nobody listens yet
      if (performance.now() >= until || (error as Error).name !== 'TypeError') throw error
      await new Promise((resolve) => setTimeout(resolve, 100))
    }
  }
}

function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const server = createServer().once('error', reject)
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address() as AddressInfo
      server.close(() => resolve(port))
    })
  })
}
