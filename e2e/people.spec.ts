import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from '@playwright/test'
import { expectAccessible, signIn } from './helpers'

test('signing in: a wrong password is told, the place one wanted is kept', async ({ page }) => {
  await page.goto('/fleet')
  await expect(page).toHaveURL(/sign-in\?to=%2Ffleet/)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByLabel('Name')).toBeFocused() // the browser says that it is needed
  await page.getByLabel('Name').fill('wren')
  await page.getByLabel('Password').fill('low-tide')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByText('The name or the password is not right.')).toBeVisible()
  await expect(page.getByLabel('Name')).toHaveValue('wren')
  await expect(page).not.toHaveURL(/low-tide/)
  await expectAccessible(page)
  await page.getByLabel('Password').fill('fennel-sound')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('heading', { name: 'Fleet' })).toBeVisible()
})

test('a viewer sees everything and changes nothing: the server refuses, not only the page', async ({
  page,
}) => {
  await signIn(page, 'edda')
  await expect(page.getByRole('button', { name: 'Start a run' })).toHaveCount(0)
  const start = {
    suite: 'smoke',
    environments: ['chromium-windows'],
    build: '2026.11.1',
    retries: 0,
    limitMs: 60_000,
  }
  const own = { 'sec-fetch-site': 'same-origin' }
  for (const [path, data] of [
    ['/api/runs', start],
    ['/api/fleet/tokens', { name: 'x', pool: 'Shore', environments: ['chromium-debian'] }],
    ['/api/repositories/1/read', undefined],
  ] as const) {
    expect((await page.request.post(path, { headers: own, ...(data && { data }) })).status()).toBe(403)
  }
  await page.goto('/rotations/night-full')
  const fields = page.getByRole('region', { name: 'The rotation' }).locator('input, select, textarea')
  await expect(fields.first()).toBeVisible()
  // none is reached by keys either
  const open = () => fields.evaluateAll((all) => all.filter((field) => !field.matches(':disabled')).length)
  await expect.poll(open).toBe(0)
})

test('a tester may start but not change the fleet; another site may do nothing', async ({ page }) => {
  await signIn(page, 'mirela')
  expect(
    (
      await page.request.post('/api/fleet/tokens', {
        headers: { 'sec-fetch-site': 'same-origin' },
        data: { name: 'x' },
      })
    ).status(),
  ).toBe(403)
  expect(
    (
      await page.request.post('/api/runs', { headers: { 'sec-fetch-site': 'cross-site' }, data: {} })
    ).status(),
  ).toBe(403)
  expect((await page.request.get('/api/now')).status()).toBe(200)
  await signIn(page, 'tomas')
  const { lines } = (await (await page.request.get('/api/audit?action=access.refuse')).json()) as {
    lines: { who: string; subject: string; detail: string }[]
  }
  const refused = lines.map(({ who, subject, detail }) => `${who}: ${subject}, ${detail}`)
  expect(refused).toEqual(
    expect.arrayContaining([
      'Mirela Voss: POST /api/fleet/tokens, why ROLE_TOO_LOW, role tester',
      'Mirela Voss: POST /api/runs, why ORIGIN_FOREIGN, role tester',
    ]),
  )
})

test('without signing in nothing is told', async ({ request }) => {
  for (const path of [
    '/api/now',
    '/api/runs/1',
    '/api/live',
    `/api/evidence/${'a'.repeat(64)}`,
    '/api/defects',
  ])
    expect((await request.get(path)).status()).toBe(401)
  expect((await request.post('/api/agents/register', { data: {} })).status()).toBe(401)
})

/** Every address of the API with its methods, as the folders say; what is named in an address becomes
 * something that is not there. */
const ADDRESSES = readdirSync(join('src', 'app', 'api'), { recursive: true })
  .map(String)
  .filter((file) => file.endsWith('route.ts'))
  .flatMap((file) =>
    [
      ...readFileSync(join('src', 'app', 'api', file), 'utf8').matchAll(
        /export const (GET|POST|PUT|PATCH|DELETE)\b/g,
      ),
    ].map(([, method]) => ({
      method: method!,
      path: `/api/${file.replace(/\/?route\.ts$/, '').replace(/\[[^\]]+\]/g, '999999')}`,
    })),
  )
/** Open to all: signing in, and whether it is up. */
const OPEN = /^\/api\/(sign-in|welcome)$/
/** Questions too long for an address: they change nothing, so a viewer may ask them; nor does saying what one
 * looks at. Signed messages of other programs stand for no person. */
const ASKED = new RegExp(
  `^/api/(${[
    'compute/999999',
    'rules',
    'suites/999999',
    'definitions/\\w+/\\w+/check',
    'rotations/(starts|basis)',
    'runs/forecast',
    'recovery/999999/(history|try)',
    'live/watch',
    'triage/looking',
    'sign-out',
    'you(/.*)?',
    '(repositories|rotations)/999999/webhook',
  ].join('|')})$`,
)
const OWN = { 'sec-fetch-site': 'same-origin' }

test('no address of the API answers who is not signed in', async ({ request }) => {
  expect(ADDRESSES.length).toBeGreaterThan(80)
  const open: string[] = []
  for (const { method, path } of ADDRESSES.filter((one) => !OPEN.test(one.path))) {
    const status = (
      await request.fetch(path, { method, headers: OWN, ...(method !== 'GET' && { data: {} }) })
    ).status()
    if (status !== 401) open.push(`${method} ${path}: ${status}`)
  }
  expect(open).toEqual([])
})

/** No person asks these: who has no signature is refused, whoever it is. */
const SIGNED = new Set(['POST /api/builds/webhook', 'POST /api/tracker-messages'])

test('no address of the API lets a viewer change anything: the role is looked at before what was sent', async ({
  page,
}) => {
  await signIn(page, 'edda')
  const open: string[] = []
  for (const { method, path } of ADDRESSES.filter(
    (one) =>
      one.method !== 'GET' &&
      !OPEN.test(one.path) &&
      !ASKED.test(one.path) &&
      !SIGNED.has(`${one.method} ${one.path}`),
  )) {
    const status = (await page.request.fetch(path, { method, headers: OWN, data: {} })).status()
    if (status !== 403) open.push(`${method} ${path}: ${status}`)
  }
  expect(open).toEqual([])
})
