/** What carrying out a case costs beside a bare script that does the same in the same browser: twelve steps
 * on a small site, with the same evidence of each, and with none. Medians of seven, turn by turn, so that
 * what slows the machine slows both. Then how much later than the end of a run `./oak run --wait` ends. */
import { spawn } from 'node:child_process'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { setTimeout as sleep } from 'node:timers/promises'
import { chromium, request as newRequest, type Browser, type Page } from 'playwright-core'
import { OWN, startProduct, type Product } from './product'
import { quantile, report } from './report'

const PORT = 4920
const TURNS = 7
const [WITH_MOST, WITHOUT_MOST, WAIT_MOST_S] = [0.6, 1.05, 0.5]
const BROWSER = '/usr/bin/chromium-headless-shell'

const page = (title: string, body: string) =>
  `<!doctype html><html lang="en"><title>${title}</title><body><h1>${title}</h1>${body}</body></html>`
const PAGES: Record<string, string> = {
  '/': page(
    'Book a passage',
    `<form action="/who"><label>From<select name="from"><option>Skerrow</option><option>Tolva</option></select></label>
    <label>Passengers<input name="passengers"></label><button>Find sailings</button></form>`,
  ),
  '/who': page(
    'Who travels',
    `<form action="/done"><label>Name<input name="name"></label><label>Mail<input name="mail"></label>
    <label><input type="checkbox" name="agree"> Agreed</label><button>Book</button></form>`,
  ),
  '/done': page('Booked', '<p data-testid="reference">FSF-77</p><a href="/">Another</a>'),
}

const CASE = `case: passage
title: Book a passage
steps:
  - open: ferry:/
  - choose: { in: { label: From }, value: Tolva }
  - type: { in: { label: Passengers }, value: "2" }
  - click: { on: { role: button, name: Find sailings } }
  - check: { title: { equals: Who travels } }
  - type: { in: { label: Name }, value: Isla Brandt }
  - type: { in: { label: Mail }, value: isla@fennel-sound.invalid }
  - choose: { in: { label: Agreed }, value: "yes" }
  - click: { on: { role: button, name: Book } }
  - check: { of: { testId: reference }, text: { startsWith: FSF } }
  - read: { of: { testId: reference }, as: reference }
  - click: { on: { role: link, name: Another } }
`

/** The same as a script. */
const STEPS: ((page: Page, base: string) => Promise<unknown>)[] = [
  (at, base) => at.goto(`${base}/`),
  (at) => at.getByLabel('From').selectOption('Tolva'),
  (at) => at.getByLabel('Passengers').fill('2'),
  (at) => at.getByRole('button', { name: 'Find sailings' }).click(),
  async (at) => {
    if ((await at.title()) !== 'Who travels') throw new Error('it is another page')
  },
  (at) => at.getByLabel('Name').fill('Isla Brandt'),
  (at) => at.getByLabel('Mail').fill('isla@fennel-sound.invalid'),
  (at) => at.getByLabel('Agreed').check(),
  (at) => at.getByRole('button', { name: 'Book' }).click(),
  async (at) => {
    if (!(await at.getByTestId('reference').textContent())?.startsWith('FSF')) throw new Error('no reference')
  },
  (at) => at.getByTestId('reference').textContent(),
  (at) => at.getByRole('link', { name: 'Another' }).click(),
]

const NONE = 'how: { screens: never, video: never, console: never, network: never }\n'
const rotation = (key: string, how: string) =>
  `rotation: ${key}\ntitle: ${key}\nwhat: [{ case: passage }]\nwhere: { environments: ` +
  `[chromium-debian] }\nretries: 0\nbuild: "1.0"\n${how}`

async function serveSite(): Promise<{ base: string; close(): void }> {
  const server = createServer((request, response) => {
    const found = PAGES[new URL(request.url!, 'http://site').pathname]
    response.writeHead(found ? 200 : 404, { 'content-type': 'text/html' }).end(found ?? '')
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  const { port } = server.address() as AddressInfo
  return { base: `http://127.0.0.1:${port}`, close: () => void server.close() }
}

/** With evidence: a picture before and after each step, the frames of a film, console lines and requests. */
async function bare(browser: Browser, base: string, evidence: boolean): Promise<number> {
  const begun = performance.now()
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
  const at = await context.newPage()
  const kept: unknown[] = []
  if (evidence) {
    at.on('console', (line) => kept.push(line.text()))
    at.on('requestfinished', (one) => kept.push(one.url()))
    await film(at, kept)
  }
  for (const step of STEPS) {
    if (evidence) kept.push(await at.screenshot({ type: 'jpeg', quality: 80 }))
    await step(at, base)
    if (evidence) kept.push(await at.screenshot({ type: 'jpeg', quality: 80 }))
  }
  await context.close()
  return performance.now() - begun
}

async function film(page: Page, kept: unknown[]): Promise<void> {
  const session = await page.context().newCDPSession(page)
  session.on('Page.screencastFrame', ({ data, sessionId }) => {
    kept.push(data)
    // the last one may come when the page is closed
    session.send('Page.screencastFrameAck', { sessionId }).catch(() => undefined)
  })
  await session.send('Page.startScreencast', { format: 'jpeg', quality: 60 })
}

type Asking = Awaited<ReturnType<typeof newRequest.newContext>>

async function setUp(product: Product, site: string): Promise<{ asking: Asking; token: string }> {
  const asking = await newRequest.newContext({ baseURL: product.base, extraHTTPHeaders: OWN })
  await asking.post('/api/sign-in', { data: { username: product.username, password: product.password } })
  const put = async (path: string, data: object) => {
    const answer = await asking.put(path, { data })
    if (!answer.ok()) throw new Error(`${path}: ${await answer.text()}`)
  }
  await put('/api/applications/ferry', { title: 'Ferry', address: site })
  await put('/api/definitions/case/passage', { source: CASE, basedOn: 0 })
  await put('/api/definitions/rotation/filmed', { source: rotation('filmed', ''), basedOn: 0 })
  await put('/api/definitions/rotation/plain', { source: rotation('plain', NONE), basedOn: 0 })
  const made = await asking.post('/api/tokens', { data: { name: 'bench' } })
  return { asking, token: ((await made.json()) as { token: string }).token }
}

/** @returns how long the attempt took */
async function through(asking: Asking, key: string): Promise<number> {
  const started = await asking.post(`/api/rotations/${key}/run`, { data: {} })
  const { run } = (await started.json()) as { run: number }
  for (;;) {
    const view = (await (await asking.get(`/api/runs/${run}`)).json()) as {
      run: { state: string }
      groups: { rows: { cells: ({ mark: string; durationMs: number; failure: string | null } | null)[] }[] }[]
    }
    if (view.run.state === 'ended') {
      const cell = view.groups[0]!.rows[0]!.cells[0]!
      if (cell.mark !== 'passed') throw new Error(`it ${cell.mark}: ${cell.failure}`)
      return cell.durationMs
    }
    await sleep(100)
  }
}

/** How much later than the run itself the program ended that waited for it. */
async function lateOf(asking: Asking, product: Product, token: string): Promise<number> {
  const program = spawn(process.execPath, ['oak', 'run', 'plain', '--wait'], {
    env: { ...process.env, OAK_SERVER: product.base, OAK_TOKEN: token },
    stdio: ['ignore', 'pipe', 'ignore'],
  })
  let said = ''
  program.stdout.on('data', (part: Buffer) => (said += String(part)))
  let goneAt = 0
  const gone = new Promise<void>((resolve) =>
    program.once('exit', () => {
      goneAt = Date.now()
      resolve()
    }),
  )
  await gone
  const run = /runs\/(\d+)/.exec(said)?.[1]
  if (run === undefined) throw new Error(`it started nothing: ${said}`)
  const view = (await (await asking.get(`/api/runs/${run}`)).json()) as { run: { endedAt: string } }
  return (goneAt - Date.parse(view.run.endedAt)) / 1000
}

const site = await serveSite()
const product = await startProduct({ port: PORT, demo: false })
const browser = await chromium.launch({ executablePath: BROWSER, args: ['--no-sandbox', '--disable-gpu'] })
let failed = false
try {
  const { asking, token } = await setUp(product, site.base)
  const told = (name: string, value: number, most: number, unit: string) => {
    report(name, value, most, unit)
    if (value > most) failed = true
  }
  for (const [key, evidence, most] of [
    ['filmed', true, WITH_MOST],
    ['plain', false, WITHOUT_MOST],
  ] as const) {
    const [own, script]: [number[], number[]] = [[], []]
    await through(asking, key) // what is read for the first time
    await bare(browser, site.base, evidence)
    for (let turn = 0; turn < TURNS; turn++) {
      own.push(await through(asking, key))
      script.push(await bare(browser, site.base, evidence))
    }
    const [ms, bareMs] = [quantile(own, 0.5), quantile(script, 0.5)]
    console.log(
      `      ${evidence ? 'with' : 'without'} evidence: ${ms.toFixed(0)} ms, a bare script ` +
        `${bareMs.toFixed(0)} ms`,
    )
    told(
      `a case of twelve steps ${evidence ? 'with' : 'without'} evidence, beside a bare script`,
      ms / bareMs,
      most,
      '',
    )
  }
  const late: number[] = []
  for (let turn = 0; turn < TURNS; turn++) late.push(await lateOf(asking, product, token))
  told('./oak run --wait ends after its run', quantile(late, 0.5), WAIT_MOST_S, 's')
} finally {
  await browser.close()
  site.close()
  await product.stop()
}
process.exit(failed ? 1 : 0)
