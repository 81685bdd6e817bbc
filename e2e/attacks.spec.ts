/** What somebody may try on the running product. Nothing here measures time: it is enough that everybody else
 * is answered. */
import { connect } from 'node:net'
import { expect, request as newRequest, test, type APIRequestContext } from '@playwright/test'
import { PORT, signIn } from './helpers'

const OWN = { 'sec-fetch-site': 'same-origin' }
const BASE = `http://127.0.0.1:${PORT}`

async function as(username: string): Promise<APIRequestContext> {
  const request = await newRequest.newContext({ baseURL: BASE })
  const answer = await request.post('/api/sign-in', {
    headers: OWN,
    data: { username, password: 'fennel-sound' },
  })
  expect(answer.status()).toBe(204)
  return request
}

test.describe('nothing a person sends stops the web process', () => {
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
  const deep = `${'['.repeat(100_000)}`
  const check = (source: string) => (request: APIRequestContext) =>
    request.post('/api/definitions/case/x/check', { headers: OWN, data: { source } })
  const deeds: [string, number[], (request: APIRequestContext) => Promise<{ status(): number }>][] = [
    [
      'a case of 130,000 keys',
      [200],
      check(Array.from({ length: 130_000 }, (_, i) => `k${i}: v`).join('\n')),
    ],
    ['a case that is nested without end', [200], check(deep)],
    [
      'an expression that runs away',
      [200],
      check('case: x\ntitle: X\nsteps:\n  - check: { of: { text: A }, text: { matches: "^(a+)+$" } }\n'),
    ],
    [
      'a minute’s search',
      [200],
      (request) => request.post('/api/compute/plan', { headers: OWN, data: plan }),
    ],
    [
      'a body that is nested without end',
      [400],
      (request) =>
        request.post('/api/compute/plan', {
          headers: { ...OWN, 'content-type': 'application/json' },
          data: Buffer.from(`${deep}${']'.repeat(100_000)}`),
        }),
    ],
    [
      'text that cannot be stored',
      [400],
      (request) => request.post('/api/rules', { headers: OWN, data: { rule: 'a\0b', text: 'a\0b' } }),
    ],
    [
      'an archive that is none',
      [403, 422],
      (request) =>
        request.post('/api/workspace/import', {
          headers: { ...OWN, 'content-type': 'application/zip' },
          data: Buffer.alloc(1_000_000, 7),
        }),
    ],
  ]
  for (const [name, statuses, deed] of deeds) {
    test(name, async () => {
      const [viewer, other] = [await as('edda'), await as('wren')]
      const answers = Promise.all([deed(viewer), deed(viewer), deed(viewer)])
      expect((await other.get('/api/health')).status()).toBe(200)
      expect((await other.get('/api/now')).status()).toBe(200)
      for (const answer of await answers) expect([...statuses, 503]).toContain(answer.status())
      expect((await other.get('/api/health')).status()).toBe(200)
    })
  }

  test('uploads that never come to their end hold nothing up', async () => {
    const tester = await as('priya')
    const { cookies } = await tester.storageState()
    const cookie = cookies.map(({ name, value }) => `${name}=${value}`).join('; ')
    const slow = Array.from({ length: 30 }, () => {
      const socket = connect(PORT, '127.0.0.1')
      socket.on('error', () => {})
      socket.write(
        `POST /api/results?name=slow HTTP/1.1\r\nHost: 127.0.0.1:${PORT}\r\nCookie: ` +
          `${cookie}\r\nSec-Fetch-Site: same-origin\r\nContent-Type: application/xml\r\nContent-Length: ` +
          `1000000\r\n\r\n<testsuite>`,
      )
      return socket
    })
    expect((await tester.get('/api/runs/1')).status()).toBe(200)
    expect((await tester.get('/api/now')).status()).toBe(200)
    for (const socket of slow) socket.destroy()
  })
})

test.describe('signing in', () => {
  test('works before any script has come, by a post; nothing of it stands in the address', async ({
    browser,
  }) => {
    const page = await (await browser.newContext({ javaScriptEnabled: false, baseURL: BASE })).newPage()
    await page.goto('/sign-in?to=/fleet')
    await page.getByLabel('Name').fill('wren')
    await page.getByLabel('Password').fill('low-tide')
    await page.getByRole('button', { name: 'Sign in' }).click()
    await expect(page.getByText('The name or the password is not right.')).toBeVisible()
    expect(page.url()).not.toContain('low-tide')
    await page.getByLabel('Name').fill('wren')
    await page.getByLabel('Password').fill('fennel-sound')
    await page.getByRole('button', { name: 'Sign in' }).click()
    await expect(page).toHaveURL(`${BASE}/fleet`)
  })

  test('a way back that leads elsewhere stays here', async ({ page, request }) => {
    const tries = [
      '/%09/evil.invalid',
      '//evil.invalid',
      '/%5Cevil.invalid',
      'https:%2F%2Fevil.invalid',
      '/%0a/evil.invalid',
      'javascript:alert(1)',
    ]
    for (const to of tries) {
      const form = { username: 'wren', password: 'fennel-sound', to: decodeURIComponent(to) }
      const answer = await request.post('/api/sign-in', { headers: OWN, form, maxRedirects: 0 })
      expect(answer.status(), to).toBe(303)
      expect(new URL(answer.headers().location!, BASE).host, to).toBe(`127.0.0.1:${PORT}`)
    }
    await page.goto(`/sign-in?to=${tries[0]}`)
    await page.getByLabel('Name').fill('wren')
    await page.getByLabel('Password').fill('fennel-sound')
    await page.getByRole('button', { name: 'Sign in' }).click()
    await expect(page.getByRole('navigation', { name: 'Views' })).toBeVisible()
    expect(new URL(page.url()).host).toBe(`127.0.0.1:${PORT}`)
  })

  test('addresses of the library are not there', async ({ request }) => {
    for (const path of [
      '/api/auth/is-username-available',
      '/api/auth/sign-up/email',
      '/api/auth/sign-in/username',
      '/api/auth/get-session',
      '/api/auth/list-sessions',
      '/api/auth/update-user',
      '/api/auth/ok',
      '/api/auth/error',
    ]) {
      expect((await request.post(path, { headers: OWN, data: { username: 'wren' } })).status(), path).toBe(
        404,
      )
    }
  })

  test('a form of another site signs nobody in', async ({ request }) => {
    const form = { username: 'wren', password: 'fennel-sound' }
    expect(
      (
        await request.post('/api/sign-in', {
          headers: { 'sec-fetch-site': 'cross-site', origin: 'https://evil.invalid' },
          form,
        })
      ).status(),
    ).toBe(403)
    expect(
      (await request.post('/api/sign-in', { headers: { origin: 'https://evil.invalid' }, form })).status(),
    ).toBe(403)
  })
})

test('what is malformed is 4xx, and says so', async () => {
  const wren = await as('wren')
  const asked: [string, string, unknown][] = [
    ['GET', '/api/runs/99999999999999', undefined],
    ['GET', '/api/runs/abc', undefined],
    ['GET', '/api/attempts/not-a-uuid', undefined],
    ['GET', '/api/evidence/..%2f..%2fetc%2fpasswd', undefined],
    ['POST', '/api/runs', { suite: 'a\0b', environments: ['x'], build: '1', retries: 0, limitMs: 60_000 }],
    ['PUT', '/api/definitions/case/x', { source: 'case: x\0', basedOn: 0 }],
    ['PATCH', '/api/runs/1', {}],
    ['GET', '/api/definitions/constructor/x', undefined],
  ]
  for (const [method, path, data] of asked) {
    const status = (
      await wren.fetch(path, { method, headers: OWN, ...(data !== undefined && { data }) })
    ).status()
    expect(status, `${method} ${path}`).toBeGreaterThanOrEqual(400)
    expect(status, `${method} ${path}`).toBeLessThan(500)
  }
})

test('pages, the API and what is not there have the headers that keep them here; styles and scripts want a nonce', async ({
  request,
}) => {
  const wren = await as('wren')
  const page = (await wren.get('/')).headers()
  expect(page['content-security-policy']).not.toContain('unsafe-inline')
  expect(page['content-security-policy']).toMatch(/style-src 'self' 'nonce-/)
  for (const path of ['/', '/nothing-here', '/api/now', '/api/nothing', '/sign-in']) {
    const headers = (await wren.get(path)).headers()
    expect(headers['x-content-type-options'], path).toBe('nosniff')
    expect(headers['content-security-policy'], path).toBeDefined()
    expect(headers['cache-control'], path).toContain('no-store')
  }
  expect((await request.get('/api/now')).status()).toBe(401)
})

test('an administrator invites, and takes it back: the page that is open ends', async ({ page, browser }) => {
  await signIn(page, 'tomas')
  await page.goto('/settings?part=people')
  const form = page.getByRole('form', { name: 'Invite a person' })
  await form.getByLabel('Name').fill('Wren  Adeyemi')
  await form.getByLabel('Signs in as').fill('wrenn')
  await form.getByRole('button', { name: 'Invite' }).click()
  await expect(form.getByRole('alert')).toContainText('somebody else here is known by')
  const username = `isla-${Date.now() % 100_000}`
  await form.getByLabel('Name').fill(`Isla Brandt ${username}`)
  await form.getByLabel('Signs in as').fill(username)
  await form.getByRole('button', { name: 'Invite' }).click()
  const link = (await form.getByRole('status').locator('code').textContent())!
  const isla = await (await browser.newContext({ baseURL: BASE })).newPage()
  await isla.goto(link)
  await isla.getByLabel(/^Password/).fill('a calm crossing')
  await isla.getByRole('button', { name: 'Set the password' }).click()
  await expect(isla.getByRole('status')).toContainText('Your password is set')
  await isla.getByLabel('Name').fill(username)
  await isla.getByLabel('Password').fill('a calm crossing')
  await isla.getByRole('button', { name: 'Sign in' }).click()
  await expect(isla.getByRole('navigation', { name: 'Views' })).toBeVisible()
  // of this one the connection that tells what changed comes too late
  const late = await isla.context().newPage()
  let letIn = () => {}
  const isDeactivated = new Promise<void>((resolve) => (letIn = resolve))
  await late.route('**/api/live', async (route) => {
    await isDeactivated
    await route.continue()
  })
  await late.goto('/')
  await expect(late.getByRole('navigation', { name: 'Views' })).toBeVisible()
  await page.getByRole('button', { name: `Deactivate Isla Brandt ${username}` }).click()
  const answered = page.waitForResponse(/api\/people\//)
  await page.getByRole('dialog').getByRole('button', { name: 'Deactivate' }).click()
  await answered
  letIn()
  await expect(late).toHaveURL(/sign-in/)
  await expect(isla).toHaveURL(/sign-in/, { timeout: 40_000 })
  await page.goto('/settings?part=audit')
  await expect(page.getByRole('table')).toContainText('person.invite')
})
