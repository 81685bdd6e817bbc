import { expect, test } from '@playwright/test'
import { expectAccessible, signIn } from './helpers'

test('signing in: a wrong password is told, the place one wanted is kept', async ({ page }) => {
  await page.goto('/fleet')
  await expect(page).toHaveURL(/sign-in\?to=%2Ffleet/)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByText('Write your name')).toBeVisible()
  await page.getByLabel('Name').fill('wren')
  await page.getByLabel('Password').fill('low-tide')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByText('The name or the password is not right.')).toBeVisible()
  await expectAccessible(page)
  await page.getByLabel('Password').fill('fennel-sound')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('heading', { name: 'Fleet' })).toBeVisible()
})

test('a viewer sees everything and changes nothing: the server refuses, not only the page', async ({ page }) => {
  await signIn(page, 'edda')
  await expect(page.getByRole('button', { name: 'Start a run' })).toHaveCount(0)
  const start = { suite: 'smoke', environments: ['chromium-windows'], build: '2026.11.1', retries: 0, limitMs: 60_000 }
  const own = { 'sec-fetch-site': 'same-origin' }
  for (const [path, data] of [['/api/runs', start], ['/api/fleet/tokens', { name: 'x' }], ['/api/repositories/1/read', undefined]] as const) {
    expect((await page.request.post(path, { headers: own, ...(data && { data }) })).status()).toBe(403)
  }
})

test('a tester may start but not change the fleet; another site may do nothing', async ({ page }) => {
  await signIn(page, 'mirela')
  expect((await page.request.post('/api/fleet/tokens', { headers: { 'sec-fetch-site': 'same-origin' }, data: { name: 'x' } })).status()).toBe(403)
  expect((await page.request.post('/api/runs', { headers: { 'sec-fetch-site': 'cross-site' }, data: {} })).status()).toBe(403)
  expect((await page.request.get('/api/now')).status()).toBe(200)
})

test('without signing in nothing is told', async ({ request }) => {
  for (const path of ['/api/now', '/api/runs/1', '/api/live', `/api/evidence/${'a'.repeat(64)}`, '/api/defects']) expect((await request.get(path)).status()).toBe(401)
  expect((await request.post('/api/agents/register', { data: {} })).status()).toBe(401)
})
