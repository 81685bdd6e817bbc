/** A product of its own for a measurement: fresh data in a folder that is thrown away afterwards. */
import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium, type BrowserContext } from 'playwright-core'

export type Product = {
  base: string
  home: string
  username: string
  password: string
  /** Process number of the web server. */ web: number
  /** Of ./oak start itself. */ launcher: number
  stop(): Promise<void>
}

/** Runs `./oak start` until it is ready. @throws with all it said when it ends before that */
export async function startProduct({ port, demo }: { port: number; demo: boolean }): Promise<Product> {
  const home = mkdtempSync(join(tmpdir(), 'oak-bench-'))
  const oak = spawn(
    process.execPath,
    ['oak', 'start', '--port', String(port), ...(demo ? [] : ['--no-demo'])],
    {
      env: { ...process.env, OAK_HOME: home, OAK_DEMO_HISTORY: 'short', DATABASE_URL: '' },
      stdio: ['ignore', 'pipe', 'pipe'],
    },
  )
  let said = ''
  await new Promise<void>((resolve, reject) => {
    const take = (part: Buffer) => {
      said += String(part)
      if (said.includes('Ctrl-C stops everything')) resolve()
    }
    oak.stdout.on('data', take)
    oak.stderr.on('data', take)
    oak.once('exit', (code) => reject(new Error(`./oak start ended with ${code}:\n${said}`)))
  })
  const password = demo ? 'fennel-sound' : /with the password (\S+)/.exec(said)?.[1]
  if (!password) throw new Error(`it did not say a password:\n${said}`)
  const stop = async () => {
    const gone = new Promise<void>((resolve) => oak.once('exit', () => resolve()))
    oak.kill('SIGINT')
    await gone
    rmSync(home, { recursive: true, force: true })
  }
  return {
    base: `http://127.0.0.1:${port}`,
    home,
    username: demo ? 'tomas' : 'admin',
    password,
    web: Number(/running\s+web\s+(\d+)/.exec(said)![1]),
    launcher: oak.pid!,
    stop,
  }
}

/** Says that a request of ours comes from the product's own pages, as a browser would. */
export const OWN = { 'sec-fetch-site': 'same-origin' }

/** A browser signed in to it. */
export async function signedIn({
  base,
  username,
  password,
}: Product): Promise<{ context: BrowserContext; close(): Promise<void> }> {
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu'],
  })
  const context = await browser.newContext({ baseURL: base, viewport: { width: 1280, height: 800 } })
  const page = await context.newPage()
  await page.goto('/sign-in')
  await page.getByLabel('Name').fill(username)
  await page.getByLabel('Password').fill(password)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await page.waitForURL(`${base}/`)
  await page.close()
  return { context, close: () => browser.close() }
}
