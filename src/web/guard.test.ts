import { createServer, request as httpRequest, type Server } from 'node:http'
import { connect, type AddressInfo } from 'node:net'
import { guard } from './guard'

let server: Server
let port: number
beforeAll(async () => {
  server = createServer((incoming, outgoing) => {
    if (!guard(incoming, outgoing)) outgoing.end('through')
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  port = (server.address() as AddressInfo).port
})
afterAll(() => {
  server.closeAllConnections()
  server.close()
})

/** Says what no client library would. */
const raw = (text: string) =>
  new Promise<string>((resolve) => {
    let said = ''
    const socket = connect(port, '127.0.0.1', () => socket.write(text))
    socket.on('data', (part) => (said += String(part)))
    socket.on('close', () => resolve(said))
    socket.on('error', () => resolve(said))
  })
const asked = (line: string, host = 'oak.test') =>
  raw(`${line}\r\nHost: ${host}\r\nConnection: close\r\n\r\n`)

test.each([
  ['a method of nobody', 'BREW /api/runs HTTP/1.1', /^HTTP\/1.1 400/],
  ['a method that mirrors', 'TRACE / HTTP/1.1', /^HTTP\/1.1 405/],
  ['a tunnel', 'CONNECT 169.254.169.254:80 HTTP/1.1', /^(HTTP\/1.1 4|$)/],
  ['a % that stands for nothing', 'GET /%zz HTTP/1.1', /^HTTP\/1.1 400[\s\S]*REQUEST_MALFORMED/],
  ['NUL', 'GET /runs/%00 HTTP/1.1', /^HTTP\/1.1 400/],
  ['an address of another server', 'GET http://evil.invalid/ HTTP/1.1', /^HTTP\/1.1 400/],
  ['two slashes', 'GET //evil.invalid HTTP/1.1', /^HTTP\/1.1 400/],
  ['an address without end', `GET /${'a'.repeat(9000)} HTTP/1.1`, /^HTTP\/1.1 414/],
])('%s is answered as what it is', async (_, line, answer) => expect(await asked(line)).toMatch(answer))

test.each(['a b', 'x/y', '<script>', '', 'x:99999999'])('a host %j is none', async (host) =>
  expect(await asked('GET / HTTP/1.1', host)).toMatch(/^HTTP\/1.1 400/),
)

test('every answer has the headers that keep it here; what the API says is not kept', async () => {
  const headers = (path: string) =>
    new Promise<Record<string, unknown>>((resolve, reject) =>
      httpRequest({ port, path, host: '127.0.0.1' }, (answer) => resolve(answer.resume().headers))
        .on('error', reject)
        .end(),
    )
  expect(await headers('/api/runs')).toMatchObject({
    'x-content-type-options': 'nosniff',
    'cache-control': 'no-store',
    'content-security-policy': expect.stringContaining("frame-ancestors 'none'") as string,
    'referrer-policy': 'same-origin',
    'x-frame-options': 'DENY',
    'permissions-policy': expect.stringContaining('camera=()') as string,
  })
  // A worker of a page loads the parts of itself by the policy of its own script.
  expect(await headers('/_next/static/chunks/a.js')).toMatchObject({
    'content-security-policy': expect.stringContaining("script-src 'self'") as string,
  })
  expect(await headers('/api/runs')).not.toMatchObject({
    'content-security-policy': expect.stringContaining('script-src') as string,
  })
  // Whoever reads a run that was shared is not signed in: the page shows itself, and does and tells nothing.
  expect(await headers('/shared/abc')).toMatchObject({
    'content-security-policy': expect.stringMatching(/default-src 'none'.*style-src.*sandbox$/) as string,
    'referrer-policy': 'no-referrer',
  })
  expect(await headers('/nothing')).not.toHaveProperty('strict-transport-security')
  process.env.OAK_PUBLIC_URL = 'https://oak.fennel-sound.invalid'
  expect(await headers('/nothing')).toMatchObject({ 'strict-transport-security': 'max-age=31536000' })
  delete process.env.OAK_PUBLIC_URL
})
