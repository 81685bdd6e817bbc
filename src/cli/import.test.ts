import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { jest } from '@jest/globals'
import { importResults } from './import'
import { options } from './options'

const folder = mkdtempSync(join(tmpdir(), 'oak-import-'))
const file = join(folder, 'night services.tap')
let server: Server
let asked: { url: string; token: string | undefined; body: string }[]
let answer: { status: number; body: unknown }

beforeAll(async () => {
  writeFileSync(file, '1..1\nnot ok 1 - lights\n')
  server = createServer((request, response) => {
    let body = ''
    request.on('data', (part: Buffer) => (body += String(part)))
    request.on('end', () => {
      asked.push({ url: request.url!, token: request.headers.authorization, body })
      response.writeHead(answer.status).end(JSON.stringify(answer.body))
    })
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
})
afterAll(() => {
  server.close()
  rmSync(folder, { recursive: true, force: true })
})
beforeEach(() => {
  asked = []
  jest.spyOn(console, 'log').mockImplementation(() => {})
  jest.spyOn(console, 'error').mockImplementation(() => {})
})
afterEach(() => jest.restoreAllMocks())

const summary = {
  format: 'tap',
  suites: 1,
  cases: 1,
  outcomes: { failed: 1 },
  ms: 0,
  attachments: 0,
  problems: [],
}
const sent = (...args: string[]) =>
  importResults({
    ...options([file, ...args]),
    rest: [file],
    server: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    token: 'secret',
  })

test.each([
  ['without a build', [], '/api/results?name=night+services.tap'],
  ['with one', ['--build', '2026.11.4'], '/api/results?name=night+services.tap&build=2026.11.4'],
])('a file is sent whole, %s', async (_, args, url) => {
  answer = { status: 201, body: { run: 3, address: '/runs/3', summary } }
  expect(await sent(...args)).toBe(0)
  expect(asked).toEqual([{ url, token: 'Bearer secret', body: '1..1\nnot ok 1 - lights\n' }])
  expect(jest.mocked(console.log).mock.calls.flat().join()).toContain('/runs/3')
})

test('a refusal is told with its line', async () => {
  answer = { status: 422, body: { message: 'it is cut off', detail: { line: 2 } } }
  expect(await sent()).toBe(2)
  expect(jest.mocked(console.error)).toHaveBeenCalledWith(`error: ${file}:2: it is cut off`)
})
