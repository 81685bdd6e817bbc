import { calmDriver } from './testing/calm-driver'
import { createServer, type IncomingMessage, type Server } from 'node:http'
import { connect, createServer as createProxy, type AddressInfo } from 'node:net'
import type { NumberedEvent, Work } from '@/core/execution'
import { runAgent } from './agent'
import type { BrowserDriver } from './driver/port'
import { ProtocolClient } from './protocol/client'
import { SentHashes } from './protocol/reporter'
import { pulseHere } from './pulse/port'
import { someWork } from './testing/work'

/** A server that speaks the protocol and keeps what it is told; each test sets what it answers. */
class FakeServer {
  readonly works: Work[] = []
  readonly events: NumberedEvent[] = []
  readonly evidence: string[] = []
  readonly finished: { lease: number; result: { outcome: string } }[] = []
  readonly finishedOf: string[] = []
  readonly registrations: { instance: string }[] = []
  failNext = 0
  failWith = 503
  /** Work that goes out with the answer to a finish, which is kept back for so long. */
  next: Work | undefined
  answerFinishAfterMs = 0
  refuse = false
  /** What a heartbeat brings back for an attempt. */
  readonly commands: Record<string, 'cancel' | 'drop' | 'end'> = {}
  known = new Set<string>()
  private readonly server: Server = createServer(
    (request, response) =>
      void this.answer(request).then(({ status = 200, body }) =>
        response
          .writeHead(status, { 'content-type': 'application/json' })
          .end(body === undefined ? '' : JSON.stringify(body)),
      ),
  )

  async start(): Promise<string> {
    await new Promise<void>((resolve) => this.server.listen(0, '127.0.0.1', resolve))
    return `http://127.0.0.1:${(this.server.address() as AddressInfo).port}`
  }
  stop() {
    this.server.closeAllConnections()
    this.server.close()
  }
  private async answer(request: IncomingMessage): Promise<{ status?: number; body?: unknown }> {
    const parts: Buffer[] = []
    for await (const part of request) parts.push(part as Buffer)
    const path = request.url!
    const text = Buffer.concat(parts).toString()
    const body = (request.method === 'POST' && text ? JSON.parse(text) : undefined) as Record<string, unknown>
    if (request.headers.authorization !== 'Bearer good')
      return { status: 401, body: { code: 'TOKEN_UNKNOWN' } }
    if (this.failNext > 0) {
      this.failNext--
      return { status: this.failWith }
    }
    if (path.endsWith('/register')) {
      this.registrations.push(body as never)
      return { body: { id: 'agent-1', heartbeatMs: 20 } }
    }
    if (path.endsWith('/claim')) {
      const work = this.works.shift()
      if (!work) await new Promise((resolve) => setTimeout(resolve, 20))
      return { body: { work: work ?? null } }
    }
    if (path.endsWith('/heartbeat'))
      return {
        body: {
          draining: false,
          commands: (body.attempts as { attemptId: string }[]).flatMap(({ attemptId }) =>
            this.commands[attemptId]
              ? [{ attemptId, command: this.commands[attemptId], undo: true, because: 'crew: it is 3' }]
              : [],
          ),
        },
      }
    if (this.refuse && path.includes('/attempts/')) return { status: 409, body: { code: 'LEASE_LOST' } }
    if (path.endsWith('/events')) this.events.push(...(body.events as NumberedEvent[]))
    if (path.endsWith('/finish')) {
      this.events.push(...((body.events ?? []) as NumberedEvent[]))
      this.finished.push(body as never)
      this.finishedOf.push(path.split('/').at(-2)!)
      const next = body.next ? this.next : undefined
      if (next) {
        this.next = undefined
        this.commands[path.split('/').at(-2)!] = 'drop' // it has ended: heartbeats do not count it any more
        await new Promise((resolve) => setTimeout(resolve, this.answerFinishAfterMs))
        return { body: { work: next } }
      }
    }
    if (path.endsWith('/evidence'))
      return { body: { missing: (body.hashes as string[]).filter((hash) => !this.known.has(hash)) } }
    if (request.method === 'PUT') {
      const hash = path.split('/').at(-1)!.replace('?lease=3', '')
      this.evidence.push(hash)
      this.known.add(hash)
    }
    return { status: 204 }
  }
}

let server: FakeServer
let address: string
beforeEach(async () => {
  server = new FakeServer()
  address = await server.start()
})
afterEach(() => server.stop())

const work = (attemptId: string, steps = 1): Work =>
  someWork(
    { attemptId, lease: 3, applications: { app: 'http://app' } },
    { steps: Array.from({ length: steps }, () => ({ verb: 'open' as const, address: 'app:/' })) },
  )

/** Opens pages in no time, unless told to wait; every screen is the same picture. */
const driver = (openMs = 0): BrowserDriver =>
  calmDriver({
    open: () => new Promise((resolve) => setTimeout(resolve, openMs)),
    screen: async () => ({ bytes: Buffer.from('picture'), mime: 'image/jpeg', width: 1, height: 1 }),
  })

/** Runs an agent until `done` holds, then ends it. */
async function serve(
  done: (said: string[]) => boolean,
  { token = 'good', openMs = 0 } = {},
): Promise<string[]> {
  const ending = new AbortController()
  const said: string[] = []
  const client = new ProtocolClient(address, token, () => {}, { firstMs: 5, mostMs: 50 })
  const pulse = pulseHere(client, () => {})
  const running = runAgent(
    { name: 'one', pool: 'p', version: '1', seats: 1, environments: ['e'], simulated: true },
    {
      client,
      sent: new SentHashes(),
      pulse,
      say: (text) => void said.push(text),
      openDriver: async () => ({ driver: driver(openMs) }),
    },
    ending.signal,
  )
  const failed = running.catch((error: Error) => void said.push(error.message))
  while (!done(said) && !said.some((text) => text.includes('401')))
    await new Promise((resolve) => setTimeout(resolve, 5))
  ending.abort()
  await failed
  pulse.end()
  return said
}

test('takes work, sends its events in order with the evidence first, and finishes under its lease', async () => {
  server.works.push(work('a', 3))
  await serve(() => server.finished.length === 1)
  expect(server.finished[0]).toMatchObject({ lease: 3, result: { outcome: 'passed' } })
  expect(server.events.map(({ no }) => no)).toEqual(server.events.map((_, i) => i + 1))
  expect(server.events.filter(({ type }) => type === 'step-ended')).toHaveLength(3)
  expect(server.evidence).toHaveLength(1) // the same picture is sent once
})
test('a picture the server knows is not sent at all', async () => {
  server.works.push(work('a'))
  await serve(() => server.finished.length === 1)
  const [hash] = server.evidence
  server.stop() // the first agent may have asked it for work before it ended
  server = new FakeServer()
  address = await server.start()
  server.known = new Set([hash!])
  server.works.push(work('b'))
  await serve(() => server.finished.length === 1)
  expect(server.evidence).toEqual([])
})
test('the server away for a while loses nothing', async () => {
  server.works.push(work('a', 2))
  server.failNext = 3
  await serve(() => server.finished.length === 1)
  expect(server.events.map(({ no }) => no)).toEqual(server.events.map((_, i) => i + 1))
})
test('a request whose rest came too late for the server (408) is sent again, and nothing is lost', async () => {
  server.works.push(work('a'))
  server.failWith = 408
  server.failNext = 3
  await serve(() => server.finished.length === 1)
  expect(server.finished[0]).toMatchObject({ result: { outcome: 'passed' } })
  expect(server.events.map(({ no }) => no)).toEqual(server.events.map((_, i) => i + 1))
})
test('the network cut in the middle: connections die half-way, and every event is there once, in order', async () => {
  let cut = 0
  const target = new URL(address)
  // The first three times that something of an attempt is sent, the connection dies; then it is well again.
  const proxy = createProxy((incoming) => {
    const outgoing = connect(Number(target.port), target.hostname)
    const end = () => [incoming, outgoing].forEach((socket) => socket.destroy())
    incoming
      .on('error', end)
      .on('close', end)
      .on('data', (part) => {
        if (cut < 3 && /\/(attempts|evidence)/.test(String(part))) {
          cut++
          if (cut % 2 === 0) outgoing.write(part) // heard by the server, and the answer is lost
          return setImmediate(end)
        }
        outgoing.write(part)
      })
    outgoing
      .on('error', end)
      .on('close', end)
      .on('data', (part) => incoming.write(part))
  })
  await new Promise<void>((resolve) => proxy.listen(0, '127.0.0.1', resolve))
  address = `http://127.0.0.1:${(proxy.address() as AddressInfo).port}`
  server.works.push(work('a', 3))
  await serve(() => server.finished.length >= 1)
  proxy.close()
  // the same batch twice is the same events: the server keeps them once
  const numbers = [...new Set(server.events.map(({ no }) => no))]
  expect(cut).toBe(3)
  expect(numbers).toEqual(numbers.map((_, i) => i + 1))
  expect(server.events.filter(({ type }) => type === 'step-ended').length).toBeGreaterThanOrEqual(3)
})
test('a clock that is wrong by an hour changes nothing: times of a log count from its own beginning', async () => {
  const real = Date.now
  Date.now = () => real() + 3_600_000
  try {
    server.works.push(work('a', 2))
    await serve(() => server.finished.length === 1)
  } finally {
    Date.now = real
  }
  expect(Math.max(...server.events.map(({ atMs }) => atMs))).toBeLessThan(60_000)
  expect(server.finished[0]).toMatchObject({ result: { outcome: 'passed' } })
})
test('a lost lease drops the attempt; the agent says so', async () => {
  server.works.push(work('a'))
  server.refuse = true
  const said = await serve((soFar) => soFar.some((text) => text.includes('came too late and was refused')))
  expect(said.at(-1)).toContain('attempt a')
  expect(server.finished).toEqual([])
})
test('cancel stops the attempt, and it is reported as cancelled', async () => {
  server.works.push(work('a', 50))
  server.commands.a = 'cancel'
  await serve(() => server.finished.length === 1, { openMs: 25 })
  expect(server.finished[0]!.result.outcome).toBe('cancelled')
  expect(server.events.filter(({ type }) => type === 'step-ended').length).toBeLessThan(50)
})
test('drop: nothing more is sent, not even the result', async () => {
  server.works.push(work('a', 50), work('b'))
  server.commands.a = 'drop'
  await serve(() => server.finished.length === 1, { openMs: 10 })
  expect(server.finishedOf).toEqual(['b'])
})
test('a refused token ends the agent with the reason', async () =>
  expect((await serve(() => false, { token: 'bad' })).join()).toContain('401'))
test('told to end, since another role did not pass: cancelled, with that reason', async () => {
  server.works.push(work('a', 50))
  server.commands.a = 'end'
  await serve(() => server.finished.length === 1, { openMs: 25 })
  expect(server.finished[0]!.result).toMatchObject({
    outcome: 'cancelled',
    failure: { kind: 'agent', message: 'Ended, for another role did not pass: crew: it is 3' },
  })
})
test('the end of one brings the next; a heartbeat that crosses it, and says the first is not ours any more, takes nothing away', async () => {
  server.works.push(work('a'))
  server.next = work('b')
  server.answerFinishAfterMs = 150 // several heartbeats
  await serve(() => server.finishedOf.includes('b'))
  expect(server.finishedOf.filter((id) => id === 'b')).toEqual(['b'])
})
