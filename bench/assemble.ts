/** A workspace of 5,000 cases and 200 suites: reading it, opening its tree, filtering, dragging in a suite of
 * 2,000 entries; and a result file of 200 MB. */
import { execFileSync, spawn } from 'node:child_process'
import { createWriteStream, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { once } from 'node:events'
import type { Page } from 'playwright-core'
import { OWN, signedIn, startProduct, type Product } from './product'
import { quantile, report, timed } from './report'

const CASES = 5000
const SUITES = 200
const LARGE = 2000
const CHANGED = 10
const RESULT_BYTES = 200_000_000

const caseText = (i: number, word = 'adult') =>
  `case: crossing-${i}\ntitle: Crossing ${i} from Tolva to Aldersey\ntags: [booking, ` +
  `area-${i % 40}${i % 9 === 0 ? ', smoke' : ''}]\npriority: ` +
  `${i % 7 === 0 ? 'high' : 'normal'}\nsteps:\n` +
  (`  - open: booking:/\n  - choose: { in: { label: From }, value: Tolva }\n  - choose: { in: { ` +
    `label: To }, value: Aldersey }\n  - type: { in: { label: Fare }, value: ${word} }\n`) +
  (`  - click: { on: { role: button, name: Find sailings } }\n  - check: { of: { role: row }, ` +
    `count: { atLeast: 2 } }\n  - read: { of: { testId: price-${i} }, as: price }\n  - check: { of: ` +
    `{ testId: total }, text: { equals: "\${price}" } }\n`)

function makeRepository(folder: string): void {
  const git = (...args: string[]) => execFileSync('git', ['-C', folder, ...args], { stdio: 'ignore' })
  for (let i = 0; i < CASES; i++) {
    if (i % 100 === 0) mkdirSync(join(folder, 'cases', String(i / 100)), { recursive: true })
    writeFileSync(join(folder, 'cases', String(Math.floor(i / 100)), `crossing-${i}.case.yaml`), caseText(i))
  }
  mkdirSync(join(folder, 'suites'))
  for (let s = 0; s < SUITES; s++) {
    const entries = Array.from(
      { length: s === 0 ? LARGE : CASES / SUITES },
      (_, i) => `  - case: crossing-${(s * 25 + i) % CASES}`,
    )
    writeFileSync(
      join(folder, 'suites', `area-${s}.suite.yaml`),
      `suite: area-${s}\ntitle: ` +
        `${s === 0 ? 'Everything at Tolva' : `Crossings, area ${s}`}\nentries:\n${entries.join('\n')}\n`,
    )
  }
  git('init', '--initial-branch=main')
  git('config', 'user.name', 'Bench')
  git('config', 'user.email', 'bench@fennel-sound.invalid')
  git('add', '.')
  git('commit', '-m', 'Crossings')
}

type Report = { read: number; changed: number; problems: { file: string; message: string }[] }

async function reading(page: Page, folder: string): Promise<void> {
  const ask = async (path: string, data?: object) => {
    const answer = await page.request.post(path, { data: data ?? {}, headers: OWN, timeout: 120_000 })
    if (!answer.ok()) throw new Error(`${path}: ${await answer.text()}`)
    return (await answer.json()) as Report
  }
  const first = await timed(() =>
    ask('/api/repositories', { name: 'crossings', location: folder, branch: 'main' }),
  )
  if (first.value.read !== CASES + SUITES || first.value.problems.length > 0)
    throw new Error(`read ${first.value.read}: ${JSON.stringify(first.value.problems.slice(0, 3))}`)
  report(`reading ${CASES} case files for the first time`, first.ms, 10_000, 'ms')
  const { repositories } = (await (await page.request.get('/api/suites')).json()) as {
    repositories: { id: number }[]
  }
  const again = await timed(() => ask(`/api/repositories/${repositories[0]!.id}/read`))
  report('reading again, nothing changed', again.ms, 10_000, 'ms')
  for (let i = 0; i < CHANGED; i++)
    writeFileSync(join(folder, 'cases', '0', `crossing-${i}.case.yaml`), caseText(i, 'child'))
  execFileSync('git', ['-C', folder, 'commit', '-am', 'Children'], { stdio: 'ignore' })
  const some = await timed(() => ask(`/api/repositories/${repositories[0]!.id}/read`))
  if (some.value.changed !== CHANGED) throw new Error(`${some.value.changed} changed, not ${CHANGED}`)
  report(`reading again, ${CHANGED} changed`, some.ms, 10_000, 'ms')
}

/** From each key until the frame it changed was drawn, in ms; those that took less than 16 are not among them
 * (W3C Event Timing). */
async function keysTaken(page: Page, work: () => Promise<void>): Promise<number[]> {
  await page.evaluate(() => {
    const state = window as unknown as { taken: number[] }
    state.taken = []
    new PerformanceObserver((list) =>
      list.getEntries().forEach(({ duration }) => state.taken.push(duration)),
    ).observe({ type: 'event', durationThreshold: 16 } as PerformanceObserverInit)
  })
  await work()
  await page.waitForFunction(
    () => new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(() => resolve(true)))),
  )
  return page.evaluate(() => (window as unknown as { taken: number[] }).taken)
}

/** Time between frames while `work` goes on, in ms. */
async function framesBetween(page: Page, work: () => Promise<void>): Promise<number[]> {
  await page.evaluate(() => {
    const state = window as unknown as { frames: number[]; looking: boolean }
    state.frames = []
    state.looking = true
    const look = (at: number) => {
      state.frames.push(at)
      if (state.looking) requestAnimationFrame(look)
    }
    requestAnimationFrame(look)
  })
  await work()
  const at = await page.evaluate(() => {
    const state = window as unknown as { frames: number[]; looking: boolean }
    state.looking = false
    return state.frames
  })
  return at.slice(1).map((one, i) => one - at[i]!)
}

async function tree(page: Page): Promise<void> {
  const opened: number[] = []
  for (let i = 0; i < 5; i++) {
    await page.goto('/fleet')
    opened.push(
      (
        await timed(async () => {
          await page.goto('/suites?suite=area-7', { waitUntil: 'commit' })
          await page.getByRole('treeitem').first().waitFor()
        })
      ).ms,
    )
  }
  report('the tree opens, median of 5', quantile(opened, 0.5), 1000, 'ms')
  const filter = page.getByRole('searchbox', { name: 'Filter' })
  await filter.focus()
  const slow = await keysTaken(page, async () => {
    for (const key of 'crossing 4711') await page.keyboard.press(key === ' ' ? 'Space' : key)
    for (let i = 0; i < 8; i++) await page.keyboard.press('Backspace')
  })
  report('a key in the filter until it is drawn, slowest', Math.max(16, ...slow), 50, 'ms')
}

async function dragging(page: Page): Promise<void> {
  await page.goto('/suites?suite=area-0')
  const lines = page.getByRole('tree', { name: /Entries of/ }).getByRole('treeitem')
  await lines.nth(2).hover()
  const grip = await lines.nth(2).locator('span').first().boundingBox()
  if (!grip) throw new Error('no line to drag')
  const [x, y] = [grip.x + grip.width / 2, grip.y + grip.height / 2]
  await page.mouse.move(x, y)
  const second = await lines.nth(1).textContent()
  const between = await framesBetween(page, async () => {
    await page.mouse.down()
    for (let i = 1; i <= 60; i++) await page.mouse.move(x, y + i * 4)
    for (let i = 1; i <= 60; i++) await page.mouse.move(x, y + 240 - (i / 60) * 285)
  })
  report(`dragging in ${LARGE} entries, frame at p95`, quantile(between, 0.95), 34, 'ms')
  const dropped = await timed(async () => {
    await page.mouse.up()
    await page.waitForFunction(
      (text) => document.querySelectorAll('[role=treeitem]')[2]?.textContent === text,
      second,
    )
  })
  report('from the drop until the entry stands there', dropped.ms, 1000, 'ms')
}

async function resultFile({ base, home, web }: Product, page: Page): Promise<void> {
  const file = join(home, 'large.xml')
  const out = createWriteStream(file)
  out.write('<testsuites>')
  for (let written = 0, suite = 0; written < RESULT_BYTES; suite++) {
    const cases = Array.from(
      { length: 100 },
      (_, i) =>
        `<testcase classname="crossing" name="sailing ${suite}/${i}" ` +
        `time="0.5"><system-out>${'Tolva to Aldersey, on time. '.repeat(70)}</system-out></testcase>`,
    ).join('')
    const text = `<testsuite name="crossings ${suite}" tests="100">${cases}</testsuite>`
    written += text.length
    if (!out.write(text)) await once(out, 'drain')
  }
  out.end('</testsuites>')
  await once(out, 'finish')
  const made = (await (
    await page.request.post('/api/tokens', { data: { name: 'bench' }, headers: OWN })
  ).json()) as { token: string }
  const high = (pid: number) =>
    Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1]) / 1024
  const measure = async (args: string[]) => {
    const child = spawn(process.execPath, ['build/cli.cjs', 'import', file, '--json', ...args], {
      env: { ...process.env, OAK_ROOT: process.cwd(), OAK_SERVER: base, OAK_TOKEN: made.token },
      stdio: ['ignore', 'ignore', 'inherit'],
    })
    let most = 0
    const looking = setInterval(() => {
      try {
        most = Math.max(most, high(child.pid!))
      } catch {
        /* it just ended */
      }
    }, 50)
    const {
      ms,
      value: [code],
    } = await timed(() => once(child, 'exit'))
    clearInterval(looking)
    if (code !== 0) throw new Error(`import ended with ${code}`)
    return { ms, most }
  }
  const counted = await measure(['--dry-run'])
  report('200 MB counted', counted.ms, 60_000, 'ms')
  report('200 MB counted, most memory', counted.most, 300, 'MB')
  const before = high(web)
  const taken = await measure([])
  report('200 MB taken in by the server', taken.ms, 120_000, 'ms')
  report('200 MB taken in, most memory of the sender', taken.most, 300, 'MB')
  report('200 MB taken in, growth of the web process', high(web) - before, 300, 'MB')
}

const product = await startProduct({ port: 4820, demo: false })
try {
  const folder = join(product.home, 'crossings')
  mkdirSync(folder)
  makeRepository(folder)
  const { context, close } = await signedIn(product)
  try {
    const page = await context.newPage()
    await reading(page, folder)
    await tree(page)
    await dragging(page)
    await resultFile(product, page)
  } finally {
    await close()
  }
} finally {
  await product.stop()
}
