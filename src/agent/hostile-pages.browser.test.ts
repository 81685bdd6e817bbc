/** Pages that do what no page should, in a real browser: each attempt ends in time and within bounds, and the
 * next one is served. */
import { existsSync, readdirSync } from 'node:fs'
import { createServer, type Server, type ServerResponse } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { AttemptResult, NumberedEvent, Work } from '@/core/execution'
import type { Step } from '@/core/model'
import { endProcesses } from './browser-process'
import { realPace } from './driver/port'
import { eyesHere } from './eyes/port'
import { Engines } from './engines'
import { runAttempt, type Piece } from './interpreter'
import { someWork } from './testing/work'

const LIMIT_MS = 4000
/** Undo steps, evidence and closing, on a busy machine. */
const AFTER_MS = 12_000

const PAGES: Record<string, string> = {
  '/calm': '<h1>Calm</h1>',
  '/flood':
    `<h1>Flood</h1><button>Go on</button><script>for (let i = 0; i < 200000; i++) console.log('line ` +
    `' + i + ' a\\0b \\ud83d'); setTimeout(() => document.body.insertAdjacentHTML('beforeend', ` +
    `'<p>All said</p>'), 500)</script>`,
  '/requests':
    `<button>Ask</button><script>const ask = async () => { for (let i = 0; i < 120; i++) await ` +
    `Promise.all(Array.from({ length: 100 }, () => fetch('/none'))); document.body.insertAdjacentHTML(` +
    `'beforeend', '<p>All asked</p>') }; document.querySelector('button').onclick = ask</script>`,
  '/busy-on-load': '<h1>Busy</h1><script>for (;;);</script>',
  '/busy-on-click': '<button onclick="for (;;);">Go</button><p>never here</p>',
  '/busy-later': '<h1>Busy</h1><script>setTimeout(() => { for (;;); }, 300)</script>',
  '/windows':
    `<button onclick="for (let i = 0; i < 50; i++) window.open('/calm', 'w' + ` +
    'i)">Windows</button><h1>W</h1>',
  '/dialogs': `<button onclick="for (let i = 0; i < 50; i++) { alert('no. ' + i) }">Dialogs</button><h1>D</h1>`,
  '/large': `<h1>Large</h1><script>document.body.append('x'.repeat(200e6))</script>`,
  '/download': `<h1>Download</h1><a href="/endless" download>Take it</a>`,
  '/leaves': `<h1>Leaves</h1><script>location.href = '/leaves?' + Math.random()</script>`,
}

let server: Server
let base: string
const engines = new Engines(eyesHere())
beforeAll(async () => {
  server = createServer((request, response) => {
    const { pathname } = new URL(request.url!, 'http://x')
    if (pathname === '/endless') return sendWithoutEnd(response)
    if (pathname === '/redirects') return response.writeHead(302, { location: '/redirects' }).end()
    const page = PAGES[pathname]
    response.writeHead(page ? 200 : 404, { 'content-type': 'text/html; charset=utf-8' })
    response.end(`<!doctype html><title>t</title><body>${page ?? 'none'}`)
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
})
afterAll(async () => {
  await engines.close()
  expect(endProcesses((environ) => environ.get('OAK_BROWSER')?.startsWith(`${process.pid}-`) ?? false)).toBe(
    0,
  )
  server.closeAllConnections()
  server.close()
})

/** A file that has no end, as fast as it is taken. */
function sendWithoutEnd(response: ServerResponse): void {
  const part = Buffer.alloc(4_000_000, 'x')
  response.writeHead(200, {
    'content-type': 'application/octet-stream',
    'content-disposition': 'attachment; filename="endless.bin"',
  })
  const more = () => {
    while (!response.destroyed && response.write(part)) if (response.destroyed) return
  }
  response.on('drain', more)
  more()
}

type Carried = { result: AttemptResult; events: NumberedEvent[]; bytes: number; tookMs: number }

async function carryOut(steps: Step[], limitMs = LIMIT_MS, more: Partial<Work> = {}): Promise<Carried> {
  const how = { screens: 'always', video: 'always', console: 'always', network: 'always' } as const
  const work = someWork(
    { applications: { app: base }, limitMs, how: { ...how, betweenMs: 0, settleMs: 0, keep: {} }, ...more },
    { steps },
  )
  const begun = performance.now()
  const pace = realPace()
  const { driver } = await engines.open(work, pace, 'one/1')
  const events: NumberedEvent[] = []
  let bytes = 0
  const sink = {
    event: (event: NumberedEvent) => void events.push(event),
    evidence: (piece: Piece) => void (bytes += piece.bytes.length),
  }
  const result = await runAttempt(work, {
    driver,
    pace,
    sink,
    agent: 'one',
    signal: new AbortController().signal,
  })
  return { result, events, bytes, tookMs: performance.now() - begun }
}

const open = (path: string): Step => ({ verb: 'open', address: `app:${path}` })
const see = (text: string, limitMs?: number): Step => ({
  verb: 'check',
  of: { text },
  subject: 'state',
  state: 'visible',
  soft: false,
  ...(limitMs !== undefined && { limitMs }),
})
const click = (text: string, limitMs = 1500): Step => ({ verb: 'click', on: { text }, limitMs })
/** Files that browsers of this process left. */
const left = () =>
  readdirSync(tmpdir())
    .filter((name) => new RegExp(`^oak-(chromium|firefox)-${process.pid}-`).test(name))
    .flatMap((name) => [join(tmpdir(), name), join(tmpdir(), name, 'downloads')])
    .filter((folder) => existsSync(folder))
    .flatMap((folder) => readdirSync(folder, { withFileTypes: true }).filter((one) => one.isFile())).length

const isCalm = async () =>
  expect((await carryOut([open('/calm'), see('Calm')], 20_000)).result.outcome).toBe('passed')

test('200,000 console lines: 10,000 are kept, and how many more there were is said', async () => {
  const { result, events } = await carryOut([open('/flood'), see('All said', 40_000)], 60_000)
  expect(result.outcome).toBe('passed')
  const lines = events.flatMap((event) => (event.type === 'console' ? [event.text] : []))
  expect(lines.length).toBeLessThanOrEqual(10_001)
  expect(lines.at(-1)).toMatch(
    /^and [\d,]+ more lines of the page's console: more than is kept of an attempt$/,
  )
}, 90_000)

test('12,000 requests: 10,000 are kept', async () => {
  const { result, events } = await carryOut(
    [open('/requests'), click('Ask', 20_000), see('All asked', 90_000)],
    120_000,
  )
  expect(result.outcome).toBe('passed')
  expect(events.filter(({ type }) => type === 'request')).toHaveLength(10_000)
}, 150_000)

test.each<[string, Step[]]>([
  ['while it loads', [{ ...open('/busy-on-load'), limitMs: 1500 } as Step]],
  ['after a click', [open('/busy-on-click'), click('Go'), see('never here', 1000)]],
  [
    'while a check looks',
    [open('/busy-later'), { verb: 'wait', timeMs: 400, state: 'visible' }, see('not there', 1500)],
  ],
  [
    'and goes somewhere else without end',
    [{ ...open('/leaves'), limitMs: 1500 } as Step, see('not there', 1000)],
  ],
])(
  'a page that never stops scripting %s: limits hold, and the seat serves the next case',
  async (_, steps) => {
    // A step ends by its own limit of 1.5 s or less, however busy the machine is, and not by the attempt's.
    const attemptMs = 12_000
    const { result, events, tookMs } = await carryOut(steps, attemptMs)
    expect(result.outcome).not.toBe('passed')
    for (const event of events) {
      if (event.type === 'step-ended') expect(event.ms).toBeLessThan(attemptMs - 2000)
    }
    expect(tookMs).toBeLessThan(attemptMs + AFTER_MS)
    await isCalm()
  },
  60_000,
)

test('Firefox: a page that never stops scripting keeps nobody waiting for the last picture of its video', async () => {
  const environment = {
    ...someWork().environment,
    key: 'firefox-debian',
    browser: 'Firefox',
    simulated: false,
  }
  const steps: Step[] = [
    open('/busy-later'),
    { verb: 'wait', timeMs: 400, state: 'visible' },
    see('gone', 500),
  ]
  await carryOut([open('/calm'), see('Calm')], 60_000, { environment }) // its start is not what is measured
  const { result, tookMs } = await carryOut(steps, LIMIT_MS, { environment })
  expect(result.outcome).toBe('errored')
  expect(tookMs).toBeLessThan(LIMIT_MS + AFTER_MS)
}, 90_000)

test('50 dialogs and 50 windows: answered and closed, and the case goes on', async () => {
  const steps = [
    open('/dialogs'),
    click('Dialogs', 20_000),
    see('D'),
    open('/windows'),
    click('Windows', 20_000),
    see('W'),
  ]
  const { result } = await carryOut(steps, 60_000)
  expect(result).toEqual(expect.objectContaining({ outcome: 'passed' }))
  await isCalm()
}, 120_000)

test('200 MB of page source: two million characters are kept, and the rest is counted', async () => {
  const { result, bytes } = await carryOut(
    [{ ...open('/large'), limitMs: 15_000 } as Step, see('not there', 1000)],
    30_000,
  )
  expect(result.outcome).not.toBe('passed')
  expect(bytes).toBeLessThan(5_000_000)
  await isCalm()
}, 90_000)

test.each([
  ['Chromium', 'chromium-debian'],
  ['Firefox', 'firefox-debian'],
])(
  '%s: a download without end ends the attempt, says why, and leaves nothing on the disk',
  async (browser, key) => {
    const environment = { ...someWork().environment, key, browser, simulated: false }
    const steps = [open('/download'), click('Take it'), see('never here', 30_000)]
    const { result } = await carryOut(steps, 60_000, { environment })
    expect(result).toMatchObject({ outcome: 'errored' })
    expect(result.failure?.message).toContain('downloaded more than an attempt may (200 MB in 1000 files)')
    expect((await carryOut([open('/calm'), see('Calm')], 40_000, { environment })).result.outcome).toBe(
      'passed',
    )
    expect(left()).toBe(0)
  },
  150_000,
)

test('redirects without end: the page does not open, and says so', async () => {
  const { result } = await carryOut([open('/redirects')])
  expect(result).toMatchObject({ outcome: 'errored', failure: { kind: 'page' } })
}, 30_000)
