import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { ask, checkedSocket, OutgoingRefused, refusalOf } from './outgoing'

const policy = { except: [], forbidden: ['127.0.0.1:5432', 'oak.invalid:443'] }

test.each([
  ['169.254.169.254', '169.254.169.254', 80, true, 'where a cloud tells a machine its own secrets'],
  ['metadata.invalid', '169.254.169.254', 80, true, 'the same behind a name'],
  ['[::ffff:169.254.169.254]', '::ffff:169.254.169.254', 80, true, 'the same written the new way'],
  ['[fe80::1]', 'fe80::1', 80, true, 'link-local of version 6'],
  ['127.0.0.1', '127.0.0.1', 5432, true, 'our own database'],
  ['localhost', '::1', 5432, true, 'the same by another name'],
  ['0.0.0.0', '0.0.0.0', 5432, true, 'the same by the address of all'],
  ['127.9.9.9', '127.9.9.9', 5432, true, 'the same by any address of this machine'],
  ['oak.invalid', '203.0.113.9', 443, true, 'our own address behind a proxy'],
  ['127.0.0.1', '127.0.0.1', 4601, false, 'an application under test on this machine'],
  ['10.1.2.3', '10.1.2.3', 443, false, 'one in the house'],
  ['ferry.invalid', '203.0.113.7', 443, false, 'one anywhere'],
])('%s (%s) port %i: refused is %s: %s', (host, address, port, refused) => {
  expect(refusalOf(host, address, port, policy) !== undefined).toBe(refused)
})

test('what an administrator allows is asked', () => {
  expect(refusalOf('localhost', '127.0.0.1', 5432, { ...policy, except: ['localhost:5432'] })).toBeUndefined()
})

describe('over HTTP', () => {
  let server: Server
  let port: number
  let seen: { url: string; authorization: string | undefined }[]
  beforeAll(async () => {
    server = createServer((request, response) => {
      seen.push({ url: request.url!, authorization: request.headers.authorization })
      if (request.url === '/inside')
        return response.writeHead(302, { location: 'http://169.254.169.254/latest' }).end()
      if (request.url === '/self')
        return response.writeHead(302, { location: 'http://127.0.0.1:5432/' }).end()
      if (request.url === '/on') return response.writeHead(302, { location: '/there' }).end()
      if (request.url === '/round') return response.writeHead(302, { location: '/round' }).end()
      if (request.url === '/elsewhere')
        return response.writeHead(307, { location: `http://localhost:${port}/there` }).end()
      if (request.url === '/large') return response.end('x'.repeat(2000))
      if (request.url === '/never') return
      response.end('here')
    })
    await new Promise<void>((resolve) => server.listen(0, resolve))
    port = (server.address() as AddressInfo).port
  })
  beforeEach(() => (seen = []))
  afterAll(() => {
    server.closeAllConnections()
    server.close()
  })
  const get = (path: string, more: object = {}) =>
    ask(
      `http://127.0.0.1:${port}${path}`,
      { method: 'GET', limitMs: 5000, mostBytes: 1000, redirects: 5, ...more },
      policy,
    )

  test('redirects are followed, and each is looked at anew', async () => {
    expect(await get('/on')).toMatchObject({ status: 200, text: 'here' })
    await expect(get('/inside')).rejects.toBeInstanceOf(OutgoingRefused)
    await expect(get('/self')).rejects.toBeInstanceOf(OutgoingRefused)
    expect(await get('/round')).toMatchObject({ status: 302 })
    expect(seen.filter(({ url }) => url === '/round')).toHaveLength(6)
  })
  test('what is meant for one site is not told to another', async () => {
    await get('/elsewhere', { headers: { authorization: 'Bearer x' } })
    expect(seen).toEqual([
      { url: '/elsewhere', authorization: 'Bearer x' },
      { url: '/there', authorization: undefined },
    ])
  })
  test('an answer that is too large, or does not come, ends', async () => {
    await expect(get('/large')).rejects.toThrow('larger than 1,000 bytes')
    await expect(get('/never', { limitMs: 100 })).rejects.toMatchObject({ name: 'TimeoutError' })
    await expect(
      ask('file:///etc/passwd', { method: 'GET', limitMs: 100, mostBytes: 10 }, policy),
    ).rejects.toBeInstanceOf(OutgoingRefused)
  })
  test('a socket for others is held to the same', async () => {
    const refused = (host: string, to: number) =>
      new Promise<Error>((resolve) => checkedSocket(policy).once('error', resolve).connect(to, host))
    expect(await refused('127.0.0.1', 5432)).toBeInstanceOf(OutgoingRefused)
    expect(await refused('localhost', 5432)).toBeInstanceOf(OutgoingRefused)
    const good = checkedSocket(policy)
    await new Promise<void>((resolve) => good.once('connect', resolve).connect(port, 'localhost'))
    good.destroy()
  })
})
