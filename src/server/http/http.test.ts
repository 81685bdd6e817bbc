import { createHash } from 'node:crypto'
import { keepEvidence, missingEvidence, serveEvidence } from '../evidence'
import { agentBodies } from '../dispatch'
import { startBody } from '../runs'
import { testContext, type TestContext } from '../testing/context'
import { Problem } from './problems'
import { newWebhookSecret, requireSigned, signatureOf } from './signed'
import { Webhook } from 'standardwebhooks'
import { describeError, readBody, readNumber, readUuid, requireSameOrigin, route } from './route'
import { validator } from './validator'

const ask = (body: string, headers: Record<string, string> = {}) =>
  new Request('http://oak.test/x', { method: 'POST', body, headers: { host: 'oak.test', ...headers } })
const noParams = { params: Promise.resolve({}) }

describe('a route', () => {
  test('a refusal becomes a problem with its status', async () => {
    const answer = await route(async () => {
      throw new Problem('ROLE_TOO_LOW', 'Ask a coordinator.')
    })(ask(''), noParams)
    expect(answer.status).toBe(403)
    expect(answer.headers.get('content-type')).toBe('application/problem+json')
    expect(await answer.json()).toEqual({
      code: 'ROLE_TOO_LOW',
      title: 'Your role does not allow this',
      message: 'Ask a coordinator.',
    })
  })
  test('a problem of another bundle’s copy of the class is one here too', async () => {
    class Copy extends Error {
      readonly isProblem = true
      readonly code = 'TOOK_TOO_LONG'
      toJSON() {
        return { code: this.code }
      }
    }
    const answer = await route(async () => {
      throw new Copy()
    })(ask(''), noParams)
    expect(answer.status).toBe(503)
  })
  test('a fault of ours tells the client nothing of it', async () => {
    const real = console.error
    const logged: unknown[] = []
    console.error = (...words: unknown[]) => void logged.push(words)
    const answer = await route(async () => {
      throw new Error('password is hunter')
    })(ask(''), noParams)
    expect(answer.status).toBe(500)
    expect(await answer.text()).not.toContain('hunter')
    console.error = real
    expect(logged).toHaveLength(1)
  })
  test('the parameters of a query never reach the log', () => {
    const error = Object.assign(new Error('Failed query: select $1 params: secret'), {
      name: 'DrizzleQueryError',
      cause: new Error('deadlock'),
    })
    expect(describeError(error)).toBe('query failed: deadlock')
  })
})

describe('bodies', () => {
  const body = validator({
    type: 'object',
    additionalProperties: false,
    required: ['name'],
    properties: { name: { type: 'string' } },
  })
  test.each([
    ['not JSON', '{', 'The body is not JSON.'],
    ['a missing field', '{}', "body must have required property 'name'"],
    ['a wrong type', '{"name":1}', 'name must be string'],
    ['too much', '{"name":"a","x":1}', 'body must NOT have additional properties'],
  ])('%s is refused with its place', async (_, text, message) =>
    expect(readBody(ask(text), body)).rejects.toMatchObject({ code: 'BODY_INVALID', message }),
  )
  test('what is too large is refused before it is read whole', async () =>
    expect(readBody(ask('x'.repeat(4_000_001)), body)).rejects.toMatchObject({ code: 'BODY_TOO_LARGE' }))
  test.each([
    ['retries beyond two', { retries: 3 }],
    ['no environment', { environments: [] }],
    ['an environment twice', { environments: ['a', 'a'] }],
    ['a build that is a path', { build: '../x' }],
    ['a limit of nothing', { limitMs: 1 }],
    ['a field we do not know', { shell: 'x' }],
  ])('starting a run refuses %s', (_, wrong) =>
    expect(
      startBody({ suite: 's', environments: ['a'], build: '1', retries: 0, limitMs: 60_000, ...wrong }),
    ).toBe(false),
  )
  test.each([
    ['../etc', 1],
    ['UPPER', 1],
    ['fine-01', 0],
  ])('an agent called %s', (name, refused) =>
    expect(
      agentBodies.register({
        name,
        instance: 'i',
        pool: 'p',
        version: '1',
        seats: 1,
        environments: ['a'],
        simulated: false,
      }),
    ).toBe(!refused),
  )
  test('ids that are none never reach the database', () => {
    for (const text of ['1', "'; drop table runs", '00000000-0000-0000-0000-00000000000g'])
      expect(() => readUuid(text)).toThrow(Problem)
    for (const text of ['-1', '1.5', '99999999999', 'x']) expect(() => readNumber(text)).toThrow(Problem)
    expect(readNumber('12')).toBe(12)
  })
})

test.each<[string, Record<string, string>, boolean]>([
  ['our own page', { 'sec-fetch-site': 'same-origin' }, true],
  ['another site', { 'sec-fetch-site': 'cross-site' }, false],
  ['a sibling site', { 'sec-fetch-site': 'same-site', origin: 'http://oak.test' }, false],
  ['an older browser, same origin', { origin: 'http://oak.test' }, true],
  ['an older browser, another origin', { origin: 'http://evil.test' }, false],
  ['a page without an origin', { origin: 'null' }, false],
  ['nothing said', {}, false],
])('a change asked by %s', (_, headers, good) => {
  const check = () => requireSameOrigin(ask('', headers))
  if (good) expect(check).not.toThrow()
  else expect(check).toThrow(Problem)
})

describe('evidence', () => {
  let ctx: TestContext
  beforeAll(async () => {
    ctx = await testContext()
  })
  afterAll(() => ctx.end())
  const bytes = Buffer.from('0123456789')
  const hash = createHash('sha256').update(bytes).digest('hex')
  test('is kept once, by its hash, and asked for only while it is missing', async () => {
    expect(await missingEvidence(ctx, [hash])).toEqual([hash])
    await keepEvidence(ctx, hash, 'image/jpeg', bytes)
    await keepEvidence(ctx, hash, 'image/jpeg', bytes)
    expect(await missingEvidence(ctx, [hash])).toEqual([])
  })
  test.each([
    ['bytes of another hash', 'f'.repeat(64), 'image/jpeg', 'EVIDENCE_DIFFERS'],
    ['a hash that is a path', '../../etc/passwd', 'image/jpeg', 'BODY_INVALID'],
    ['a page', hash, 'text/html', 'BODY_INVALID'],
  ])('refuses %s', async (_, name, mime, code) =>
    expect(keepEvidence(ctx, name, mime, bytes)).rejects.toMatchObject({ code }),
  )
  test.each<[string | null, number, string, string | null]>([
    [null, 200, '0123456789', null],
    ['bytes=2-4', 206, '234', 'bytes 2-4/10'],
    ['bytes=7-', 206, '789', 'bytes 7-9/10'],
    ['bytes=5-99', 206, '56789', 'bytes 5-9/10'],
    ['bytes=50-', 416, '', 'bytes */10'],
  ])('serves %s', async (range, status, text, contentRange) => {
    const answer = await serveEvidence(ctx, hash, { range })
    expect([answer.status, await answer.text(), answer.headers.get('content-range')]).toEqual([
      status,
      text,
      contentRange,
    ])
  })
  test('is never served as something a browser would run', async () => {
    const { headers } = await serveEvidence(ctx, hash)
    expect([headers.get('x-content-type-options'), headers.get('content-security-policy')]).toEqual([
      'nosniff',
      "default-src 'none'; sandbox",
    ])
    await expect(serveEvidence(ctx, '../secret')).rejects.toMatchObject({ code: 'NOT_FOUND' })
  })
})

describe('signed messages', () => {
  const secret = newWebhookSecret()
  const nowMs = Date.parse('2026-11-28T12:00:00Z')
  const stamp = String(nowMs / 1000)
  const signed = (by: string, at = stamp, body = '{}') => ({
    id: 'msg-1',
    timestamp: at,
    signature: `v1,${signatureOf(by, 'msg-1', at, body)}`,
  })
  test.each(['{}', '', '{"title":"Überfahrt ⛴"}'])(
    'as the library of the standard makes and takes them: %s',
    (body) => {
      const theirs = new Webhook(secret)
      const at = new Date()
      const timestamp = String(Math.floor(at.getTime() / 1000))
      const signature = theirs.sign('msg-1', at, body)
      expect(requireSigned(secret, body, { id: 'msg-1', timestamp, signature }, at.getTime())).toBe('msg-1')
      const headers = {
        'webhook-id': 'msg-1',
        'webhook-timestamp': timestamp,
        'webhook-signature': `v1,${signatureOf(secret, 'msg-1', timestamp, body)}`,
      }
      expect(() => theirs.verify(body, headers)).not.toThrow()
      expect(() => theirs.verify(`${body} `, headers)).toThrow()
    },
  )
  test('are taken with the right signature, one of several too', () => {
    expect(requireSigned(secret, '{}', signed(secret), nowMs)).toBe('msg-1')
    expect(
      requireSigned(
        secret,
        '{}',
        { ...signed(secret), signature: `v1,AAAA ${signed(secret).signature}` },
        nowMs,
      ),
    ).toBe('msg-1')
  })
  test.each([
    ['another secret', secret, signed(newWebhookSecret())],
    ['a body that was changed', secret, signed(secret, stamp, '{"build":"x"}')],
    ['ten minutes ago', secret, signed(secret, String(nowMs / 1000 - 600))],
    ['ten minutes ahead', secret, signed(secret, String(nowMs / 1000 + 600))],
    ['no time at all', secret, { ...signed(secret), timestamp: null }],
    ['no id', secret, { ...signed(secret), id: null }],
    ['no secret here: in the same words as a wrong one', undefined, signed(secret)],
  ])('are refused: %s', (_, own, headers) => {
    expect(() => requireSigned(own, '{}', headers, nowMs)).toThrow(
      'The signature is not right, or no secret was made for such messages here.',
    )
  })
})
