import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { createServer, type IncomingMessage, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { NO_COUNTS } from '@/core/execution'
import { options } from './options'
import { runCommand, verdict } from './run'

/** A server that answers what it is told, and keeps what it was asked. */
let server: Server
let address: string
let asked: { method: string; url: string; token: string; body: unknown }[] = []
let answers: { status: number; body: unknown }[] = []
const said = { out: [] as string[], err: [] as string[] }

async function bodyOf(request: IncomingMessage): Promise<unknown> {
  const parts: Buffer[] = []
  for await (const part of request) parts.push(part as Buffer)
  return parts.length > 0 ? (JSON.parse(Buffer.concat(parts).toString()) as unknown) : undefined
}

beforeAll(async () => {
  server = createServer(
    (request, response) =>
      void bodyOf(request).then((body) => {
        asked.push({
          method: request.method!,
          url: request.url!,
          token: request.headers.authorization ?? '',
          body,
        })
        const { status, body: answer } = answers.shift() ?? {
          status: 500,
          body: { message: 'nothing is prepared' },
        }
        response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(answer))
      }),
  )
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
  console.log = (text: string) => void said.out.push(text)
  console.error = (text: string) => void said.err.push(text)
})
const { log, error } = console
afterAll(() => {
  Object.assign(console, { log, error })
  server.close()
})
beforeEach(() => {
  asked = []
  answers = []
  said.out = []
  said.err = []
})

const run = (...args: string[]) =>
  runCommand(options(['run', ...args], { OAK_SERVER: address, OAK_TOKEN: 'oak_ci_x' }))
const started = { status: 201, body: { run: 7, address: '/runs/7' } }
const cell = (environment: string, mark: string, more: object = {}) => ({
  environment,
  mark,
  durationMs: 1500,
  failure: null,
  failureKind: null,
  ...more,
})
/** What a server answers of a run that has ended: how far it is, then all of it. */
const ending = (counts: object, cells: object[] = []) => [
  { status: 200, body: { state: 'ended', counts: { ...NO_COUNTS, ...counts } } },
  viewModel(counts, cells),
]
const viewModel = (counts: object, cells: object[]) => ({
  status: 200,
  body: {
    run: { title: 'Night full', state: 'ended', counts: { ...NO_COUNTS, ...counts } },
    environments: [{ key: 'wide', title: 'Chromium, Debian' }],
    groups: [{ title: 'Gate', rows: [{ caseKey: 'board', title: 'Board', row: '2 of 3', cells }] }],
  },
})

test('without --wait it starts, says where, and is done', async () => {
  answers = [started]
  expect(await run('night-full', '--build', '2026.11.3', '--set', 'port=Tolva', '--set', 'note=a=b')).toBe(0)
  expect(asked).toEqual([
    {
      method: 'POST',
      url: '/api/rotations/night-full/run',
      token: 'Bearer oak_ci_x',
      body: { build: '2026.11.3', with: { port: 'Tolva', note: 'a=b' } },
    },
  ])
  expect(said.out).toEqual([`${address}/runs/7`])
})
test.each([
  ['all passed or recovered', { passed: 2, recovered: 1 }, 0, '3 of 3, 1 recovered'],
  ['one failed', { passed: 2, failed: 1 }, 1, '3 of 3, 1 failed'],
  ['one errored', { passed: 2, errored: 1 }, 1, '3 of 3, 1 errored'],
  ['it was cancelled', { cancelled: 3 }, 1, '3 of 3'],
  ['nothing was carried out', { skipped: 3 }, 2, '3 of 3'],
])('with --wait, %s', async (_, counts, code, line) => {
  answers = [started, ...ending(counts)]
  expect(await run('night-full', '--wait')).toBe(code)
  expect(said.err).toEqual([line])
})
test('--junit writes what came out, and waits for it', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'oak-run-'))
  answers = [
    started,
    ...ending({ failed: 1, passed: 1 }, [
      cell('wide', 'failed', { failure: 'a < b', failureKind: 'check', attemptId: 'a1' }),
      cell('narrow', 'passed'),
    ]),
    { status: 200, body: [{ attemptId: 'a1', expected: 'is “4”', actual: 'a & b' }] },
  ]
  expect(await run('night-full', '--junit', join(folder, 'out.xml'))).toBe(1)
  const xml = readFileSync(join(folder, 'out.xml'), 'utf8')
  expect(xml).toContain('<testsuite name="Chromium, Debian" tests="1" failures="1"')
  expect(xml).toContain(
    '<testcase classname="board" name="Board, 2 of 3" time="1.500"><failure message="a &lt; b" ' +
      'type="check">expected: is “4”&#10;actual: a &amp; b</failure></testcase>',
  )
  expect(xml).toContain('<testsuite name="narrow" tests="1" failures="0"')
  rmSync(folder, { recursive: true })
})
test('what the server refuses is said, and it could not run', async () => {
  answers = [{ status: 409, body: { message: 'No live agent serves WebKit.' } }]
  expect(await run('night-full', '--wait')).toBe(2)
  expect(said.err).toEqual(['error: No live agent serves WebKit.'])
})
test('a server that is not there', async () => {
  expect(
    await runCommand(options(['run', 'night-full'], { OAK_SERVER: 'http://127.0.0.1:9', OAK_TOKEN: 'x' })),
  ).toBe(2)
  expect(said.err[0]).toMatch(/^error: no answer from http:\/\/127\.0\.0\.1:9/)
})
test.each([
  [['--set', 'port'], 'NAME=VALUE'],
  [['a', 'b'], 'one rotation'],
  [[], 'one rotation'],
])('%j is not understood', async (args, words) => {
  const refused = async () => run(...args)
  await expect(refused()).rejects.toThrow(words)
})
test('without a token it says where one is made', async () =>
  expect(() => options(['run', 'x'], {}) && runCommand(options(['run', 'x'], {}))).rejects.toThrow(
    'make a CI token in Settings',
  ))
test('only skipped is no success', () =>
  expect(verdict({ run: { counts: { ...NO_COUNTS, skipped: 2 } } as never })).toBe(2))
