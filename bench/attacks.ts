/** What somebody may try, again and again: pages that misbehave for real browsers, and requests that are
 * meant to stop the web process. */
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { connect } from 'node:net'
import type { APIRequestContext } from 'playwright-core'
import { OWN } from './product'

const PAGES: Record<string, string> = {
  '/unstorable': '<h1>Half an emoji \ud83d</h1><script>console.log("a\\0b", "\\ud83d")</script>',
  '/talks': '<h1>Talks</h1><script>for (let i = 0; i < 200000; i++) console.log("line " + i)</script>',
  '/busy': '<h1>Busy</h1><script>setTimeout(() => { for (;;) {} }, 200)</script>',
  '/asks':
    '<h1>Asks</h1><script>for (let i = 0; i < 3000; i++) fetch("/pixel?" + i).catch(() => {})</script>',
  '/opens':
    '<h1>Opens</h1><script>for (let i = 0; i < 50; i++) { open("/unstorable"); ' +
    '}</script><script>alert("a")</script>',
}

/** A site whose pages do what they should not. */
export async function hostileSite(): Promise<{ address: string; paths: string[]; close(): void }> {
  const server: Server = createServer(({ url = '/' }, response) => {
    const page = PAGES[url.split('?')[0]!]
    response.writeHead(page ? 200 : 404, { 'content-type': 'text/html; charset=utf-8' }).end(page ?? '')
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  return {
    address: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    paths: Object.keys(PAGES),
    close: () => {
      server.closeAllConnections()
      server.close()
    },
  }
}

const deep = '['.repeat(100_000)
const plan = {
  agents: [{ id: 'a', seats: 4, environments: ['e'] }],
  work: Array.from({ length: 300 }, (_, i) => ({
    id: `w${i}`,
    environment: 'e',
    ms: 1000 + ((i * 7919) % 977),
    after: i > 0 ? [`w${i - 1}`] : [],
  })),
  spread: 'split',
  budgetMs: 60_000,
}

type Deed = (request: APIRequestContext) => Promise<unknown>
const check =
  (source: string): Deed =>
  (request) =>
    request.post('/api/definitions/case/x/check', { headers: OWN, data: { source }, timeout: 60_000 })

/** Requests of a person who is signed in. */
export const DEEDS: Record<string, Deed> = {
  'a case of 130,000 keys': check(Array.from({ length: 130_000 }, (_, i) => `k${i}: v`).join('\n')),
  'a case in flow style of 90,000 keys': check(
    `{ ${Array.from({ length: 90_000 }, (_, i) => `k${i}: v`).join(', ')} }`,
  ),
  'a case nested without end': check(deep),
  'an expression that runs away': check(
    'case: x\ntitle: X\nsteps:\n  - check: { of: { text: A }, text: { matches: "^(a+)+$" } }\n',
  ),
  'a minute’s search': (request) =>
    request.post('/api/compute/plan', { headers: OWN, data: plan, timeout: 60_000 }),
  'a body nested without end': (request) =>
    request.post('/api/compute/plan', {
      headers: { ...OWN, 'content-type': 'application/json' },
      data: Buffer.from(deep + ']'.repeat(100_000)),
    }),
  'results that are an archive of nothing': (request) =>
    request.post('/api/results?name=x', {
      headers: { ...OWN, 'content-type': 'application/zip' },
      data: Buffer.alloc(5_000_000, 7),
    }),
}

/** Uploads that never come to their end. @returns lets go of them */
export async function slowUploads(
  request: APIRequestContext,
  port: number,
  count: number,
): Promise<() => void> {
  const { cookies } = await request.storageState()
  const cookie = cookies.map(({ name, value }) => `${name}=${value}`).join('; ')
  const head =
    `POST /api/results?name=slow HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nCookie: ` +
    `${cookie}\r\nSec-Fetch-Site: same-origin\r\nContent-Type: application/xml\r\nContent-Length: ` +
    `1000000\r\n\r\n<testsuite>`
  const sockets = Array.from({ length: count }, () => {
    const socket = connect(port, '127.0.0.1')
    socket.on('error', () => {})
    socket.write(head)
    return socket
  })
  return () => {
    for (const socket of sockets) socket.destroy()
  }
}
