/** WebKitGTK by its own WebDriver: a driver process and a browser for each attempt, on a screen that nobody
 * sees. */
import { spawn, type ChildProcess } from 'node:child_process'
import { existsSync, mkdirSync, readdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { createServer, type AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Environment } from '@/core/model'
import { childEnv } from '@/node/child-env'
import { browserEnv, endBrowser, letStandBack, newMark, startBrowserPath } from '../browser-process'
import { requireNone } from '../driver/conditions'
import type { Pace } from '../driver/port'
import { PagedDriver } from '../page/driver'
import { WebDriverSession } from './client'
import { WebDriverEngine } from './engine'

const DRIVER = '/usr/bin/WebKitWebDriver'
const XVFB = '/usr/bin/Xvfb'
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
/** Larger than any environment's screen with the borders of its window. */
const SCREEN = '2600x1700x24'

/** What is missing to drive WebKit here; empty: nothing. */
export const webkitMissing = (): string[] =>
  [
    [DRIVER, 'webkit2gtk-driver'],
    [XVFB, 'xvfb'],
  ]
    .flatMap(([path, name]) => (existsSync(path!) ? [] : [name!]))
    .concat(browserPath() ? [] : ['webkit2gtk-driver'])
    .filter((name, i, all) => all.indexOf(name) === i)

/** One screen for all browsers of this process. */
export class HiddenScreen {
  private process: ChildProcess | undefined
  private display: Promise<string> | undefined

  get(): Promise<string> {
    return (this.display ??= this.start())
  }

  private start(): Promise<string> {
    return new Promise((resolve, reject) => {
      // It chooses a number that is free, and writes it to descriptor 3.
      const xvfb = (this.process = spawn(
        XVFB,
        ['-displayfd', '3', '-screen', '0', SCREEN, '-nolisten', 'tcp'],
        { stdio: ['ignore', 'ignore', 'ignore', 'pipe'], env: childEnv() },
      ))
      xvfb.once('error', reject)
      xvfb.once('exit', () => {
        this.display = undefined
        reject(new Error('Xvfb ended at once'))
      })
      let number = ''
      xvfb.stdio[3]!.on('data', (part: Buffer) => {
        number += String(part)
        if (!number.includes('\n')) return // it writes the number and the end of the line one after the other
        xvfb.stdio[3]!.destroy()
        resolve(`:${number.trim()}`)
      })
    })
  }

  close(): void {
    this.process?.kill()
  }
}

/** @returns the driver, and the folder its browser puts downloads in
 * @throws when WebKit is not installed, or does not start */
export async function openWebKit(
  screen: HiddenScreen,
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
  const driver = spawn(startBrowserPath(), [`--port=${port}`], {
    stdio: 'ignore',
    detached: true,
    env: browserEnv(mark, DRIVER, {
      DISPLAY: await screen.get(),
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
    endBrowser(mark) // what left its group
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
    const engine = new WebDriverEngine(session, environment, pace, facts, downloads, end)
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
