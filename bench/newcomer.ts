/** A new user with a site of their own: an empty product, a small site that is not ours (the demonstration
 * that a published package brings along), and the interface alone. An application, a case, a run on three
 * engines, a defect by mail, a schedule that starts. Prints when each was there. A person reads and types
 * besides; what the product itself takes is what is measured. */
import { readFile } from 'node:fs/promises'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { extname, join, normalize } from 'node:path'
import { simpleParser, type ParsedMail } from 'mailparser'
import type { Page } from 'playwright-core'
import { SMTPServer } from 'smtp-server'
import { signedIn, startProduct } from './product'
import { report } from './report'

const SITE = join('node_modules', 'reveal.js')
const TYPES: Record<string, string> = { '.html': 'text/html', '.js': 'text/javascript', '.css': 'text/css' }
const BOUND_MS = 10 * 60_000

const CASE = `case: slides-turn
title: Slides turn
steps:
  - open: slides:/demo.html
  - check: { title: { contains: reveal.js } }
  - click: { on: { role: button, name: next slide } }
  - check: { url: { contains: "#/" } }
  - check: { of: { role: heading, name: Vertical Slides, match: part }, count: { atLeast: 1 } }
  - go: back
  - check: { title: { equals: Tide tables } }
    limit: 1s
`

/** The package's folder, as a web server gives it. */
async function serveSite(): Promise<{ address: string; close(): void }> {
  const server = createServer((request, response) => {
    const { pathname } = new URL(request.url!, 'http://site')
    const file = join(SITE, normalize(pathname))
    readFile(file).then(
      (bytes) =>
        response
          .writeHead(200, { 'content-type': TYPES[extname(file)] ?? 'application/octet-stream' })
          .end(bytes),
      () => response.writeHead(404).end(),
    )
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  const { port } = server.address() as AddressInfo
  return { address: `http://127.0.0.1:${port}`, close: () => void server.close() }
}

/** A mail server that keeps what comes. */
async function takeMail(): Promise<{ port: number; mails: ParsedMail[]; close(): void }> {
  const mails: ParsedMail[] = []
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS'],
    onData: (stream, _, done) =>
      void simpleParser(stream).then((mail) => {
        mails.push(mail)
        done()
      }, done),
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  const { port } = server.server.address() as AddressInfo
  return { port, mails, close: () => server.close() }
}

async function until(what: string, holds: () => Promise<boolean> | boolean, ms = 180_000): Promise<void> {
  for (const end = performance.now() + ms; performance.now() < end;) {
    if (await holds()) return
    await new Promise((resolve) => setTimeout(resolve, 300))
  }
  throw new Error(`${what}: not within ${ms / 1000} s`)
}

async function nameApplication(page: Page, address: string): Promise<void> {
  await page.getByRole('link', { name: 'Name it' }).click()
  const form = page.getByRole('form', { name: 'Add an application' })
  await form.getByLabel('Key').fill('slides')
  await form.getByLabel('Title').fill('Slides')
  await form.getByLabel('Address', { exact: true }).fill(address)
  await form.getByLabel('It is up when this page').fill('/demo.html')
  await form.getByRole('button', { name: 'Try and keep' }).click()
  await page.getByRole('row', { name: /^slides/ }).waitFor()
}

async function writeCase(page: Page): Promise<void> {
  await page.goto('/')
  await page.getByRole('link', { name: 'Write it' }).click()
  const making = page.getByRole('dialog', { name: 'New' })
  await making.getByLabel('Title').fill('Slides turn')
  await making.getByRole('button', { name: 'Make it' }).click()
  await page.waitForURL(/\/cases\/slides-turn/)
  await page.getByRole('textbox', { name: /^File of/ }).click()
  await page.keyboard.press('Control+a')
  await page.keyboard.insertText(CASE)
  await page.getByRole('button', { name: 'Save', exact: true }).first().click()
  await page.getByText('version 2', { exact: true }).waitFor()
}

async function runIt(page: Page): Promise<void> {
  await page.goto('/')
  await page.getByRole('button', { name: 'Start it' }).click()
  const dialog = page.getByRole('dialog')
  for (const name of ['Chromium, Debian', 'Firefox, Debian', 'WebKit, Debian'])
    await dialog.getByRole('checkbox', { name }).check()
  const narrow = dialog.getByRole('checkbox', { name: 'Chromium, narrow' })
  if ((await narrow.count()) > 0) await narrow.uncheck()
  await dialog.getByLabel('Retries of what fails').selectOption('0')
  await dialog.getByRole('button', { name: 'Start', exact: true }).click()
  await page.waitForURL(/\/runs\/\d+/)
  // all steps but the last, which looks for a title that is not there
  await until(
    'three results',
    async () => (await page.locator('[role=grid] [data-mark=failed]').count()) >= 3,
  )
}

async function setMail(page: Page, port: number): Promise<void> {
  await page.goto('/settings?part=delivery')
  const mail = page.getByRole('form', { name: 'Mail' })
  await mail.getByLabel('Server (SMTP)').fill('127.0.0.1')
  await mail.getByLabel('Port').fill(String(port))
  await mail.getByLabel('From', { exact: true }).fill('oak@fennel-sound.invalid')
  await mail.getByRole('button', { name: 'Try and keep' }).click()
  await mail.getByRole('button', { name: 'Remove' }).waitFor()
}

async function mailDefect(page: Page, run: string): Promise<void> {
  await page.goto(run)
  await page.getByRole('grid').waitFor()
  // a key that comes before the page is alive is lost, and pressed again
  await until('the first failure', async () => {
    await page.keyboard.press('.')
    return /cell=/.test(page.url())
  })
  await page.keyboard.press('o')
  await page.waitForURL(/\/attempts\//)
  await page.getByRole('listbox', { name: 'Steps' }).waitFor()
  await page.keyboard.press('d')
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Title').fill('Slides: the title is another one')
  await dialog.getByLabel('Mailed to').fill('developers@fennel-sound.invalid')
  await dialog.getByRole('button', { name: 'Log it' }).click()
  await page.waitForURL(/\/defects\?id=/)
}

async function schedule(page: Page): Promise<void> {
  await page.goto('/rota')
  await page.getByRole('button', { name: 'New rotation' }).click()
  const dialog = page.getByRole('dialog', { name: 'New rotation' })
  await dialog.getByLabel('Title').fill('Slides again')
  await dialog.getByRole('button', { name: 'Make it' }).click()
  await page.waitForURL('/rotations/slides-again')
  await page.getByRole('button', { name: 'Add…' }).click()
  await page.getByRole('tab', { name: 'A case' }).click()
  await page.getByPlaceholder('Find a case').fill('slides')
  await page.getByRole('button', { name: /Slides turn/ }).click()
  await page.getByText('once', { exact: true }).click()
  await page.getByLabel('Time zone').fill('UTC')
  await page.keyboard.press('Enter')
  // the next but one minute: by then it is saved
  const at = new Date(Date.now() + 90_000).toISOString().slice(0, 16)
  await page.getByLabel('First start').fill(at)
  await page.getByRole('button', { name: 'Save' }).click()
  await page.getByText('version 2', { exact: true }).waitFor()
}

const product = await startProduct({ port: 4810, demo: false })
const begun = performance.now()
const [site, mail] = await Promise.all([serveSite(), takeMail()])
const { context, close } = await signedIn(product)
const said = (what: string) =>
  console.log(`      ${what}: after ${((performance.now() - begun) / 60_000).toFixed(1)} minutes`)
try {
  const page = await context.newPage()
  await page.goto('/')
  await nameApplication(page, site.address)
  said('an application, tried')
  await writeCase(page)
  said('a case')
  await runIt(page)
  const run = new URL(page.url()).pathname
  said('a run on three engines')
  report('first useful run', performance.now() - begun, BOUND_MS, 'ms')
  await setMail(page, mail.port)
  await mailDefect(page, run)
  await until('the mail', () => mail.mails.some(({ subject }) => subject?.includes('Slides')))
  said(`a defect by mail, with ${mail.mails.at(-1)!.attachments.length} attachments`)
  await schedule(page)
  await page.goto('/')
  await until('the scheduled start', async () => (await page.getByText('Slides again').count()) > 0)
  await page.goto('/runs/2')
  await page.getByRole('grid').waitFor()
  said('a schedule that started')
  report('all of it', performance.now() - begun, BOUND_MS, 'ms')
} finally {
  await close()
  await product.stop()
  site.close()
  mail.close()
}
