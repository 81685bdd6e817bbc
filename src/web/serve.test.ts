import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { Problem } from '@/server/http/problems'
import { noContent, readBody, type Asked } from '@/server/http/route'
import { validator } from '@/server/http/validator'
import { answerBy, type Route } from './serve'

const body = validator({
  type: 'object',
  additionalProperties: false,
  required: ['lease'],
  properties: { lease: { type: 'integer' } },
})
let waiting: Asked | undefined
const routes: Route[] = [
  {
    method: 'POST',
    path: '/api/agents/:id/claim',
    answer: async (asked, params) =>
      Response.json({
        ...params,
        ...(await readBody(asked, body)),
        token: asked.headers.get('authorization'),
      }),
  },
  { method: 'PUT', path: '/api/agents/:id/evidence/:hash', answer: async () => noContent() },
  {
    method: 'POST',
    path: '/api/agents/:id/lost',
    answer: async () => {
      throw new Problem('LEASE_LOST')
    },
  },
  {
    method: 'POST',
    path: '/api/agents/:id/broken',
    answer: async () => {
      throw new Error('password is hunter')
    },
  },
  {
    method: 'POST',
    path: '/api/agents/:id/wait',
    answer: (asked) =>
      new Promise((resolve) => {
        waiting = asked
        asked.signal.addEventListener('abort', () => resolve(noContent()))
      }),
  },
]

let server: Server
let base: string
beforeAll(async () => {
  const answer = answerBy(routes)
  server = createServer((incoming, outgoing) => {
    if (!answer(incoming, outgoing)) outgoing.writeHead(418).end('pages')
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
})
afterAll(() => {
  server.closeAllConnections()
  server.close()
})
const post = (path: string, text = '{"lease":1}') =>
  fetch(base + path, { method: 'POST', body: text, headers: { authorization: 'Bearer x' } })

test('what differs in an address reaches the handler, with body and headers', async () => {
  const answer = await post('/api/agents/a-1/claim?again=1')
  expect([answer.status, await answer.json()]).toEqual([200, { id: 'a-1', lease: 1, token: 'Bearer x' }])
})
test.each([
  ['another address', 'POST', '/api/agents'],
  ['a longer one', 'POST', '/api/agents/a/claim/more'],
  ['another method', 'GET', '/api/agents/a/claim'],
  ['a page', 'GET', '/'],
])('%s is left to the pages', async (_, method, path) =>
  expect((await fetch(base + path, { method })).status).toBe(418),
)
test('an answer without a body has none', async () => {
  const answer = await fetch(`${base}/api/agents/a/evidence/f`, { method: 'PUT', body: 'bytes' })
  expect([answer.status, await answer.text()]).toEqual([204, ''])
})
test('a refusal is a problem with its status; a wrong body names the place', async () => {
  const lost = await post('/api/agents/a/lost')
  expect([
    lost.status,
    lost.headers.get('content-type'),
    ((await lost.json()) as { code: string }).code,
  ]).toEqual([409, 'application/problem+json', 'LEASE_LOST'])
  const wrong = await post('/api/agents/a/claim', '{"lease":"one"}')
  expect([wrong.status, ((await wrong.json()) as { message: string }).message]).toEqual([
    400,
    'lease must be integer',
  ])
})
test('a fault of ours is a 500 that tells nothing of it', async () => {
  const real = console.error
  console.error = () => {}
  const answer = await post('/api/agents/a/broken')
  console.error = real
  expect([answer.status, (await answer.text()).includes('hunter')]).toEqual([500, false])
})
test('a handler that waits hears when nobody is there any more', async () => {
  const leaving = new AbortController()
  const asked = fetch(`${base}/api/agents/a/wait`, {
    method: 'POST',
    body: '{}',
    signal: leaving.signal,
  }).catch(() => 'gone')
  while (!waiting) await new Promise((resolve) => setImmediate(resolve))
  const heard = new Promise<void>((resolve) => waiting!.signal.addEventListener('abort', () => resolve()))
  leaving.abort()
  await heard
  expect(await asked).toBe('gone')
})
