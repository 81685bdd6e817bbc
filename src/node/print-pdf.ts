/** A page of ours as PDF, by Chromium: no script runs in it, and it reaches no network. */
import { existsSync } from 'node:fs'
import { mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { childEnv } from './child-env'

const CANDIDATES = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium']
const LIMIT_MS = 60_000
const ARGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--host-resolver-rules=MAP * ~NOTFOUND',
  '--proxy-server=127.0.0.1:9',
]
const MARGIN = { top: '14mm', bottom: '14mm', left: '14mm', right: '14mm' }

/** Why there is no PDF, for people. */
export class NotPrinted extends Error {}

/** @throws {NotPrinted} */
export async function printPdf(html: string): Promise<Buffer> {
  const program = [process.env.OAK_CHROMIUM ?? '', ...CANDIDATES].find(
    (path) => path !== '' && existsSync(path),
  )
  if (!program)
    throw new NotPrinted(
      'Chromium is not installed where the server runs (apt-get install chromium-headless-shell)',
    )
  const folder = await mkdtemp(join(tmpdir(), 'oak-pdf-'))
  const { chromium } = await import('playwright-core') // by those who print, and no others
  const browser = await chromium
    .launch({ executablePath: program, args: ARGS, env: childEnv({ HOME: folder }), timeout: LIMIT_MS })
    .catch(() => {
      throw new NotPrinted('Chromium does not start')
    })
  const timer = setTimeout(() => void browser.close(), LIMIT_MS)
  try {
    const file = join(folder, 'page.html')
    await writeFile(file, html)
    const context = await browser.newContext({ javaScriptEnabled: false, offline: true })
    const page = await context.newPage()
    await page.goto(`file://${file}`, { waitUntil: 'load', timeout: LIMIT_MS })
    return await page.pdf({ format: 'A4', printBackground: true, margin: MARGIN })
  } catch {
    throw new NotPrinted(`Chromium did not print it within ${LIMIT_MS / 1000} s`)
  } finally {
    clearTimeout(timer)
    await browser.close().catch(() => {})
    await rm(folder, { recursive: true, force: true })
  }
}
