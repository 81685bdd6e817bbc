/** Reading an attempt of 100,000 log lines: how soon it opens at its failing line, how it scrolls, how soon a
 * text is found in it, and what its log takes on the disk, in rows and in one piece. */
import { setTimeout } from 'node:timers/promises'
import type { BrowserContext, Page } from 'playwright-core'
import { Ledger } from './ledger'
import { signedIn, startProduct } from './product'
import { layOutSuite, Protocol, type Given } from './protocol'
import { report, timed } from './report'

const PORT = 4910
const LINES = 100_000
/** Each step begins, says something, asks for something, and ends. */
const STEPS = LINES / 4
const FAILS_AT = STEPS * 0.8
/** Of three attempts: a small one, and two whole ones. */
const ALL_LINES = 2 * LINES + (STEPS - FAILS_AT) * 4
const BATCH = 500
const SCROLLED_MS = 5000
/** Sixty frames a second, and what counts as one that was late. */
const [FRAMES, LATE_MS] = [(60 * SCROLLED_MS) / 1000, 25]

/** Pixels a frame: a page in five frames, which is faster than one reads headings; and a page in each. */
const SPEEDS = { fast: 120, 'as by the bar at the side': 400 }

/** Lines that have gone out of sight are let go by then. */
const HELD_MS = 6000
const mb = (bytes: number) => (bytes / 1e6).toFixed(1)

const product = await startProduct({ port: PORT, demo: false })
const protocol = new Protocol(product)
const ledger = new Ledger(product)
try {
  const suite = await layOutSuite(product, { environments: ['wide'], cases: 1, repeats: 3 })
  const agent = await protocol.register('reads-01', 3, ['wide'])
  await suite.start()
  await suite.close()
  const { context, close } = await signedIn(product)
  const page = await context.newPage()
  await open(page, await attempt(agent, 1, FAILS_AT)) // the reader was used before
  await page.goto('/')
  const first = await attempt(agent, 2)
  const opened = await timed(() => open(page, first))
  report('opens at its failing line, at the moment its attempt has ended', opened.ms, 1000, 'ms')
  await page.goto('/')

  const second = await attempt(agent, 3)
  console.log(`      in rows: ${((await sizeOf('events')) / ALL_LINES).toFixed(1)} bytes a line`)
  const packing = await timed(packed)
  report('a log is in one piece, its reader prepared, after its end', packing.ms, 10_000, 'ms')
  const pieces = await sizeOf('attempt_logs')
  report('in one piece, bytes a line', pieces / ALL_LINES, 30, 'bytes')
  report('opens, in one piece, not read before', (await timed(() => open(page, second))).ms, 1000, 'ms')
  await page.goto('/')
  report('opens, read a while ago', (await timed(() => open(page, second))).ms, 1000, 'ms')

  await page.waitForLoadState('networkidle')
  const before = await memoryOf(context, page)
  for (const [name, pxAFrame] of Object.entries(SPEEDS)) {
    const { frames, late } = await scroll(page, pxAFrame)
    report(`frames asked in five seconds of scrolling ${name}, by those seen`, FRAMES / frames, 1.05, '')
    console.log(`      ${late} of ${frames} frames were later than ${LATE_MS} ms`)
  }
  const found = await timed(() => find(page, 'crossing no. 24'))
  report('a text found and counted in all of it', found.ms, 1000, 'ms')
  await setTimeout(HELD_MS)
  const after = await memoryOf(context, page)
  console.log(`      memory: ${mb(before)} MB when it had opened, ${mb(after)} MB after all that`)
  report('memory of the page after it, beside before', after / before, 1.5, '')
  await close()
} finally {
  protocol.close()
  await product.stop()
}
process.exit()

/** Claims the next one, says its lines, and ends it as failed. @param from the step it begins with
 * @returns its id */
async function attempt(agent: string, seat: number, from = 0): Promise<string> {
  const { work } = await protocol.ask<Given>(`/api/agents/${agent}/claim`, { waitMs: 20_000, seat })
  const { attemptId, lease } = work!
  const url = `/api/agents/${agent}/attempts/${attemptId}`
  const all = Array.from({ length: STEPS - from }, (_, i) => linesOf(from + i, i * 4)).flat()
  for (let at = 0; at < all.length; at += BATCH)
    await protocol.ask(`${url}/events`, { lease, events: all.slice(at, at + BATCH) })
  const failure = { kind: 'check', message: 'The text is not what was expected' }
  await protocol.ask(`${url}/finish`, { lease, result: { outcome: 'failed', ms: STEPS * 10, failure } })
  return attemptId
}

/** @param before events there are before */
function linesOf(i: number, before: number): object[] {
  const path = `main.0.${i}.0`
  const at = (part: number) => ({ no: before + part + 1, atMs: i * 10 + part, path })
  const failed = i === FAILS_AT
  const failure = { kind: 'check', message: 'The text is not what was expected', expected: 'a', actual: 'b' }
  return [
    {
      ...at(0),
      type: 'step-started',
      words: { verb: 'check', object: `crossing no. ${i}`, detail: 'is visible' },
    },
    { ...at(1), type: 'console', level: 'log', text: `the tides of crossing ${i} are read` },
    {
      ...at(2),
      type: 'request',
      method: 'GET',
      url: `http://127.0.0.1:4701/tides?crossing=${i}`,
      status: 200,
      ms: 3,
    },
    {
      ...at(3),
      type: 'step-ended',
      outcome: failed ? 'failed' : 'passed',
      ms: 9,
      ...(failed && { failure }),
    },
  ]
}

async function sizeOf(table: 'events' | 'attempt_logs'): Promise<number> {
  return Number((await ledger.query<{ n: string }>(`select pg_total_relation_size('${table}') n`))[0]!.n)
}

/** Until the worker has put all into one piece, and kept what is shown first. */
async function packed(): Promise<void> {
  for (;;) {
    const [row] = await ledger.query<{ n: string }>(
      'select count(*) n from attempt_logs where opening is not null',
    )
    if (Number(row!.n) === 3) return
    await setTimeout(200)
  }
}

/** Until the failing line is seen, selected. Icons and the like may come later. */
async function open(page: Page, id: string): Promise<void> {
  await page.goto(`/attempts/${id}`, { waitUntil: 'commit' })
  await page.locator('[role=option][aria-selected=true][data-state=failed]').waitFor()
}

async function scroll(page: Page, pxAFrame: number): Promise<{ frames: number; late: number }> {
  return page.evaluate(
    async ({ forMs, lateMs, px }) => {
      const list = document.querySelector('[role=listbox]')!
      let [frames, late, last, goesOn] = [0, 0, performance.now(), true]
      const frame = (now: number) => {
        if (now - last > lateMs) late++
        last = now
        frames++
        list.scrollTop += px
        if (goesOn) requestAnimationFrame(frame)
      }
      requestAnimationFrame(frame)
      await new Promise((resolve) => window.setTimeout(resolve, forMs))
      goesOn = false
      return { frames, late }
    },
    { forMs: SCROLLED_MS, lateMs: LATE_MS, px: pxAFrame },
  )
}

async function find(page: Page, text: string): Promise<void> {
  await page.getByRole('textbox', { name: 'Find in the log' }).fill(text)
  await page.getByRole('status').filter({ hasText: /of \d/ }).waitFor()
}

/** Bytes the page's scripts hold, once what nothing holds is gone. */
async function memoryOf(context: BrowserContext, page: Page): Promise<number> {
  const session = await context.newCDPSession(page)
  await session.send('HeapProfiler.collectGarbage')
  const { usedSize } = await session.send('Runtime.getHeapUsage')
  await session.detach()
  return usedSize
}
