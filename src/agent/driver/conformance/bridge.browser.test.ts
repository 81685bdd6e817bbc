import { spawn, type ChildProcess } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { openBridge, type Bridge } from '../../webdriver/bridge'
import { realPace } from '../port'
import { conform, environmentOf } from '../testing/conformance'
import { until } from '../testing/patience'

/** A WebDriver endpoint as an outside grid would be one: Debian's, on a port of its own. */
const endpoint = `http://127.0.0.1:${9600 + (process.pid % 300)}`
const bridgeFolder = mkdtempSync(join(tmpdir(), 'oak-bridge-'))
let chromedriver: ChildProcess
beforeAll(async () => {
  chromedriver = spawn('/usr/bin/chromedriver', [`--port=${new URL(endpoint).port}`], { stdio: 'ignore' })
  await until(async () => (await fetch(`${endpoint}/status`).catch(() => undefined))?.ok === true)
})
afterAll(() => {
  chromedriver.kill()
  rmSync(bridgeFolder, { recursive: true, force: true })
})
const bridge: Bridge = {
  endpoint,
  folder: bridgeFolder,
  capabilities: {
    test: {
      browserName: 'chrome',
      'goog:chromeOptions': {
        binary: '/usr/bin/chromium',
        args: [
          '--headless',
          '--no-sandbox',
          '--disable-gpu',
          '--disable-quic',
          '--no-first-run',
          '--disable-background-networking',
          '--user-agent=ConformanceAgent/1',
        ],
        prefs: { 'download.default_directory': bridgeFolder },
      },
    },
  },
}

conform('WebDriver endpoint', () => openBridge(bridge, environmentOf('WebDriver endpoint'), realPace()))
