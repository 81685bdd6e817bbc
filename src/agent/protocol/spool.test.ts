import { appendFileSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { NumberedEvent } from '@/core/execution'
import { pulseHere } from '../pulse/port'
import { runAgent } from '../agent'
import { ProtocolClient } from './client'
import { Reporter, SentHashes } from './reporter'
import { Spool } from './spool'

const head = { agent: 'quill', agentId: 'id-1', attemptId: 'a-1', lease: 3 }
const note = (no: number): NumberedEvent => ({ no, atMs: no, type: 'note', text: `line ${no}` })
const HASH = 'f'.repeat(64)

let folder: string
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'oak-spool-'))
})
afterEach(() => rmSync(folder, { recursive: true, force: true }))
const files = () =>
  readdirSync(folder, { recursive: true })
    .map(String)
    .filter((name) => name !== 'evidence')
    .sort()

test('what was not sent is there for the next process; what was sent is not', () => {
  const attempt = new Spool(folder).begin(head)
  for (const no of [1, 2, 3]) attempt.event(note(no))
  attempt.sent(2)
  attempt.piece({ hash: HASH, mime: 'image/png', bytes: Buffer.from('png') })
  attempt.result({ outcome: 'passed', ms: 5 })
  const spool = new Spool(folder)
  expect(spool.leftoversOf('other')).toEqual([])
  expect(spool.leftoversOf('quill')).toEqual([
    {
      ...head,
      events: [note(3)],
      pieces: new Map([[HASH, 'image/png']]),
      result: { outcome: 'passed', ms: 5 },
    },
  ])
  expect(String(spool.readPiece(HASH))).toBe('png')
  spool.drop(spool.leftoversOf('quill')[0]!)
  expect(files()).toEqual([])
})

test('a line that a crash cut off is passed over', () => {
  const attempt = new Spool(folder).begin(head)
  attempt.event(note(1))
  appendFileSync(join(folder, 'a-1.jsonl'), '{"event":{"no":2,"at')
  expect(new Spool(folder).leftoversOf('quill')).toMatchObject([{ events: [note(1)] }])
})

test('an attempt that went well leaves nothing', () => {
  const attempt = new Spool(folder).begin(head)
  attempt.piece({ hash: HASH, mime: 'image/png', bytes: Buffer.from('png') })
  attempt.piece({ hash: HASH, mime: 'image/png', bytes: Buffer.from('png') })
  attempt.pieceSent(HASH)
  attempt.piece({ hash: 'e'.repeat(64), mime: 'image/png', bytes: Buffer.from('more') })
  attempt.end()
  expect(files()).toEqual([])
})

describe('with a server', () => {
  let server: Server
  let asked: string[]
  let refuse: boolean
  beforeEach(async () => {
    asked = []
    refuse = false
    server = createServer((request, response) => {
      let body = ''
      request.on('data', (part: Buffer) => {
        body += String(part)
      })
      request.on('end', () => {
        const path = request.url!.replace('/api/agents/', '').replace('?lease=3', '')
        if (path === '/api/health') return response.writeHead(204).end()
        const { events = [], result } = body.startsWith('{')
          ? (JSON.parse(body) as { events?: NumberedEvent[]; result?: { outcome: string } })
          : {}
        asked.push(
          /\/(events|finish)$/.test(path)
            ? [path, ...events.map(({ no }) => no), ...(result ? [result.outcome] : [])].join(' ')
            : path,
        )
        if (refuse && path.includes('/attempts/')) return response.writeHead(409).end('{}')
        if (path === 'register')
          return response
            .writeHead(200, { 'content-type': 'application/json' })
            .end('{"id":"id-2","heartbeatMs":1000}')
        if (path.endsWith('/evidence'))
          return response
            .writeHead(200, { 'content-type': 'application/json' })
            .end(JSON.stringify({ missing: [HASH] }))
        if (path.endsWith('/claim'))
          return response.writeHead(200, { 'content-type': 'application/json' }).end('{"work":null}')
        response.writeHead(204).end()
      })
    })
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  })
  afterEach(() => {
    server.closeAllConnections()
    server.close()
  })
  const client = () =>
    new ProtocolClient(`http://127.0.0.1:${(server.address() as AddressInfo).port}`, 'token')
  const leave = (result: boolean) => {
    const attempt = new Spool(folder).begin(head)
    for (const no of [1, 2, 3]) attempt.event(note(no))
    attempt.sent(1)
    attempt.piece({ hash: HASH, mime: 'image/png', bytes: Buffer.from('png') })
    if (result) attempt.result({ outcome: 'passed', ms: 5 })
  }
  /** An agent that starts, says what it has of before, registers, and is told to end at its first claim. */
  async function startAgent(): Promise<string[]> {
    const [ending, said] = [new AbortController(), [] as string[]]
    const spool = new Spool(folder)
    const pulse = pulseHere(client(), () => {})
    const running = runAgent(
      { name: 'quill', pool: 'p', version: '1', seats: 1, environments: ['e'], simulated: true },
      {
        client: client(),
        sent: new SentHashes(),
        pulse,
        spool,
        say: (text) => said.push(text),
        openDriver: () => Promise.reject(new Error('no work')),
      },
      ending.signal,
    )
    while (!asked.includes('id-2/claim')) await new Promise((resolve) => setImmediate(resolve))
    ending.abort()
    await running
    pulse.end()
    return said
  }

  test('the result of before is delivered, evidence first, before the agent registers anew', async () => {
    leave(true)
    await startAgent()
    expect(asked.slice(0, 4)).toEqual([
      'id-1/attempts/a-1/evidence',
      `id-1/attempts/a-1/evidence/${HASH}`,
      'id-1/attempts/a-1/finish 2 3 passed',
      'register',
    ])
    expect(files()).toEqual([])
  })
  test('without a result the log is delivered as far as it came', async () => {
    leave(false)
    const said = await startAgent()
    expect(asked.slice(0, 4)).toEqual([
      'id-1/attempts/a-1/evidence',
      `id-1/attempts/a-1/evidence/${HASH}`,
      'id-1/attempts/a-1/events 2 3',
      'register',
    ])
    expect(said[0]).toBe('quill: attempt a-1 of before is delivered, as far as it came')
  })
  test('what the server refuses is dropped, said, and keeps nobody from working', async () => {
    leave(true)
    refuse = true
    const said = await startAgent()
    expect(said[0]).toContain('is not wanted any more')
    expect([asked.includes('register'), files()]).toEqual([true, []])
  })
  test('a reporter keeps on disk what is not taken yet, and takes it off when it is', async () => {
    const attempt = new Spool(folder).begin(head)
    const reporter = new Reporter(
      client(),
      'id-1',
      head,
      new SentHashes(),
      new AbortController().signal,
      () => {},
      attempt,
    )
    reporter.event(note(1))
    reporter.evidence({ hash: HASH, mime: 'image/png', bytes: Buffer.from('png') })
    expect(files()).toEqual(['a-1.jsonl', join('evidence', HASH)])
    await reporter.finish({ outcome: 'passed', ms: 1 })
    expect(files()).toEqual(['a-1.jsonl'])
    attempt.end()
    expect(files()).toEqual([])
  })
  test('a disk that is full ends what is kept there, is said once, and keeps nothing from being sent', async () => {
    const said: string[] = []
    let room = 3
    const take = () => {
      if (room-- <= 0)
        throw Object.assign(new Error('ENOSPC: no space left on device, write'), { code: 'ENOSPC' })
    }
    const attempt = new Spool(folder, (text) => said.push(text), {
      append: (...line) => {
        take()
        appendFileSync(...line)
      },
      write: (...piece) => {
        take()
        writeFileSync(...piece)
      },
    }).begin(head)
    const reporter = new Reporter(
      client(),
      'id-1',
      head,
      new SentHashes(),
      new AbortController().signal,
      () => {},
      attempt,
    )
    reporter.event(note(1))
    reporter.evidence({ hash: HASH, mime: 'image/png', bytes: Buffer.from('png') })
    reporter.event(note(2))
    expect(files()).toEqual([]) // no half of a log is left for the next start
    await reporter.finish({ outcome: 'passed', ms: 1 })
    expect(asked.at(-1)).toMatch(/finish 1 2 passed$/)
    expect(said).toEqual([
      expect.stringMatching(/cannot be kept on disk \(ENOSPC.*goes on and keeps it in memory/),
    ])
  })
})
