/** What a server that cannot take something, or a browser that answers nothing, may do to an agent: one
 * attempt ends, and it goes on. */
import { calmDriver } from './testing/calm-driver'
import { mkdtempSync, readdirSync, rmSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { AttemptResult, NumberedEvent, Work } from '@/core/execution'
import { runAgent } from './agent'
import { bounded } from './driver/bounded'
import type { BrowserDriver } from './driver/port'
import { ProtocolClient } from './protocol/client'
import { SentHashes } from './protocol/reporter'
import { Spool } from './protocol/spool'
import { pulseHere } from './pulse/port'
import { someWork } from './testing/work'

type Finished = { attemptId: string; result: AttemptResult; events?: NumberedEvent[] }

/** Answers an agent; what it says of events is set by each test. */
class Server200 {
  works: Work[] = []
  beats = 0
  finished: Finished[] = []
  eventsAnswer: (attemptId: string) => number | 'never' = () => 204
  private waiting: (() => void)[] = []
  private readonly server: Server = createServer((request, response) => {
    let body = ''
    request.on('data', (part: Buffer) => (body += String(part)))
    request.on('end', () => {
      const say = (status: number, json?: unknown) =>
        response
          .writeHead(status, { 'content-type': 'application/json' })
          .end(json === undefined ? '' : JSON.stringify(json))
      const [, , , , , attemptId = '', what] = request.url!.split(/[/?]/)
      if (request.url === '/api/health') return say(200, {})
      if (request.url!.endsWith('/register')) return say(200, { id: 'agent-1', heartbeatMs: 10 })
      if (request.url!.endsWith('/heartbeat')) {
        this.beats++
        if (this.eventsAnswer('') === 204) for (const answer of this.waiting.splice(0)) answer()
        return say(200, { draining: false, commands: [] })
      }
      if (request.url!.endsWith('/claim'))
        return void setTimeout(() => say(200, { work: this.works.shift() ?? null }), 5)
      if (what === 'events') {
        const answer = this.eventsAnswer(attemptId)
        if (answer === 'never') return void this.waiting.push(() => say(204))
        return say(answer, { code: 'X', message: 'events.0.text cannot be stored' })
      }
      if (what === 'finish') {
        const { result, events } = JSON.parse(body) as Finished
        const poisoned = events?.length && this.eventsAnswer(attemptId) !== 204
        if (!poisoned) this.finished.push({ attemptId, result, ...(events && { events }) })
        return poisoned
          ? say(this.eventsAnswer(attemptId) as number, { message: 'events.0.text cannot be stored' })
          : say(204)
      }
      say(200, { missing: [] })
    })
  })
  async start(): Promise<string> {
    await new Promise<void>((resolve) => this.server.listen(0, '127.0.0.1', resolve))
    return `http://127.0.0.1:${(this.server.address() as AddressInfo).port}`
  }
  stop() {
    this.server.closeAllConnections()
    this.server.close()
  }
}

const work = (attemptId: string, limitMs = 60_000): Work =>
  someWork(
    { attemptId, applications: { app: 'http://app' }, limitMs },
    { steps: [{ verb: 'open', address: 'app:/' }] },
  )

const quiet = calmDriver()

let server: Server200
let address: string
let folder: string
const ended: string[] = []
beforeEach(async () => {
  server = new Server200()
  address = await server.start()
  folder = mkdtempSync(join(tmpdir(), 'oak-attack-'))
  ended.length = 0
})
afterEach(() => {
  server.stop()
  rmSync(folder, { recursive: true, force: true })
})

async function serve(done: () => boolean, driver: BrowserDriver = quiet): Promise<string[]> {
  const ending = new AbortController()
  const said: string[] = []
  const client = new ProtocolClient(address, 'good', () => {}, { firstMs: 5, mostMs: 50 })
  const pulse = pulseHere(client, (mark) => ended.push(mark))
  const options = { name: 'one', pool: 'p', version: '1', seats: 1, environments: ['e'], simulated: true }
  const ports = {
    client,
    pulse,
    sent: new SentHashes(),
    spool: new Spool(folder),
    say: (text: string) => void said.push(text),
    openDriver: async () => ({ driver, mark: 'browser-1', end: () => {} }),
  }
  const running = runAgent(options, ports, ending.signal)
  while (!done()) await new Promise((resolve) => setTimeout(resolve, 5))
  ending.abort()
  await running
  pulse.end()
  return said
}

test('a log the server does not take ends its attempt as errored with the reason, is set aside, and the seat goes on', async () => {
  server.eventsAnswer = (attemptId) => (attemptId === 'a' ? 400 : 204)
  server.works = [work('a'), work('b')]
  const said = await serve(() => server.finished.length === 2)
  expect(server.finished[0]).toMatchObject({
    attemptId: 'a',
    result: {
      outcome: 'errored',
      failure: { kind: 'agent', message: expect.stringContaining('cannot be stored') as string },
    },
  })
  expect(server.finished[1]).toMatchObject({ attemptId: 'b', result: { outcome: 'passed' } })
  expect(readdirSync(join(folder, 'aside'))).toEqual(['a.jsonl'])
  expect(said.join('\n')).toContain('cannot be stored')
})

test('a log an earlier process left, which the server does not take, is set aside, ended with the reason, and keeps nobody from registering', async () => {
  const left = new Spool(folder).begin({ agent: 'one', agentId: 'agent-0', attemptId: 'old', lease: 1 })
  left.event({ no: 1, atMs: 1, type: 'note', text: 'poison' })
  left.result({ outcome: 'passed', ms: 1 })
  server.eventsAnswer = (attemptId) => (attemptId === 'old' ? 400 : 204)
  server.works = [work('b')]
  await serve(() => server.finished.length === 2)
  expect(server.finished.map(({ attemptId, result }) => [attemptId, result.outcome])).toEqual([
    ['old', 'errored'],
    ['b', 'passed'],
  ])
  expect(readdirSync(join(folder, 'aside'))).toEqual(['old.jsonl'])
})

test('signs of life go on while a delivery is not answered', async () => {
  let beatsBefore: number | undefined
  const over = () => beatsBefore !== undefined && server.beats > beatsBefore + 5
  server.eventsAnswer = () => {
    beatsBefore ??= server.beats
    return over() ? 204 : 'never'
  }
  server.works = [work('a')]
  const slow = { ...quiet, open: () => new Promise<void>((resolve) => setTimeout(resolve, 500)) }
  await serve(over, slow)
  expect(server.beats).toBeGreaterThan(5)
})

test('an attempt whose browser answers nothing is over within its limit, and the next one begins', async () => {
  const never = () => new Promise<never>(() => {})
  const stuck = bounded(
    { ...quiet, open: never, look: never, screen: never, source: never, openDialog: never, close: never },
    () => ended.push('closed'),
  )
  const short = work('a')
  short.case = { ...short.case, steps: [{ verb: 'open', address: 'app:/', limitMs: 300 }] }
  server.works = [short]
  const begun = performance.now()
  await serve(() => server.finished.length === 1, stuck)
  const { result } = server.finished[0]!
  expect(result).toMatchObject({ outcome: 'errored', failure: { kind: 'time-limit' } })
  expect(performance.now() - begun).toBeLessThan(8000)
  expect(ended).toContain('closed')
})

test('a driver that is stuck beyond all limits has its browser ended from outside, and the failure says so', async () => {
  let fail: (error: Error) => void = () => {}
  const stuck = { ...quiet, open: () => new Promise<void>((_, reject) => (fail = reject)) }
  const client = { heartbeat: async () => ({ draining: false, commands: [] }) }
  const told: string[] = []
  const pulse = pulseHere(client, (mark) => {
    told.push(mark)
    fail(new Error('Target closed'))
  })
  pulse.begin('agent-1', 1000, { answer: () => {}, overdue: (attemptId) => told.push(attemptId) })
  const opening = stuck.open().catch((error: Error) => error.message)
  pulse.carries('agent-1', [{ attemptId: 'a', lease: 1, overdueAt: Date.now(), mark: 'browser-1' }])
  expect(await opening).toBe('Target closed')
  while (told.length < 2) await new Promise((resolve) => setTimeout(resolve, 5))
  pulse.end()
  expect(told).toEqual(['browser-1', 'a'])
})
