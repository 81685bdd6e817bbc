import { expect, test, type Page } from '@playwright/test'
import { expectAccessible, openKnownFailure, signIn } from './helpers'

/** Compressed script a page may bring at first load. */
const SCRIPT_MOST_BYTES = 300_000
/** A bench brings the library that edits YAML as well, every verb, and the planner for its forecast. A
 * rotation has steps before and after all, which are edited in place like those of a case. */
const BENCH_MOST_BYTES = 345_000

/** Addresses of the main views. @param run address of one */
const views = (run: string) => [
  '/',
  '/suites?case=refund-over-400',
  '/suites?suite=booking&side=order',
  '/cases/refund-over-400',
  '/cases/foot-passenger-single?side=versions',
  '/routines/pay-by-card?side=uses',
  '/tables/single-fares.csv',
  run,
  `${run}?view=lanes`,
  `${run}?view=causes`,
  '/guided?whose=all',
  '/fleet',
  '/fleet?agent=quill-01',
  '/rota',
  '/rota?view=day',
  '/rota?view=list',
  '/rotations/night-full',
  '/rotations/weekly-devices?side=file',
  '/recovery',
  '/recovery?side=file',
  '/triage',
  '/triage/measures',
  '/defects?columns=severity,case,by',
  '/defects/outbox',
  '/release?by=build',
  '/settings',
  '/help?page=step-check',
]

/** All rules in the light; in the dark only what has to do with colours. */
async function expectAccessibleInBothThemes(page: Page): Promise<void> {
  await page.emulateMedia({ colorScheme: 'light' })
  await expectAccessible(page)
  await page.emulateMedia({ colorScheme: 'dark' })
  await expectAccessible(page, ['color-contrast'])
}

const addressOfRun = (page: Page) =>
  page.getByRole('link', { name: 'Gate Handsets 76' }).last().getAttribute('href')

test('each main view, in both themes: axe finds nothing serious, no error on the console', async ({
  page,
}) => {
  test.setTimeout(600_000) // thirty views and the parts of the settings, and axe looks at each
  const errors: string[] = []
  // Styles of elements in the first HTML are passed over by the policy, which says so, and are set when the
  // page comes alive (decision 0010).
  page.on(
    'console',
    (message) =>
      message.type() === 'error' &&
      !message.text().startsWith('Applying inline style violates') &&
      errors.push(message.text()),
  )
  page.on('pageerror', (error) => errors.push(error.message))
  await signIn(page, 'tomas') // an administrator sees all parts
  for (const path of views((await addressOfRun(page))!)) {
    await page.goto(path)
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
    await expectAccessibleInBothThemes(page)
  }
  await page.goto('/settings')
  const parts = page.getByRole('navigation', { name: 'Parts of the settings' }).getByRole('button')
  await expect(parts.first()).toBeVisible()
  for (const part of await parts.all()) {
    await part.click()
    await expect(part).toHaveAttribute('aria-current', 'page')
    await expectAccessibleInBothThemes(page)
  }
  await openKnownFailure(page)
  await expectAccessibleInBothThemes(page)
  expect(errors).toEqual([])
})

test('the script that a page brings at first load is in its bounds', async ({ page }) => {
  await signIn(page, 'tomas')
  const run = await addressOfRun(page)
  const cdp = await page.context().newCDPSession(page)
  await cdp.send('Network.enable')
  await cdp.send('Network.setCacheDisabled', { cacheDisabled: true })
  const scripts = new Set<string>()
  cdp.on(
    'Network.responseReceived',
    ({ requestId, type }) => void (type === 'Script' && scripts.add(requestId)),
  )
  let bytes = 0
  cdp.on(
    'Network.loadingFinished',
    ({ requestId, encodedDataLength }) => void (scripts.has(requestId) && (bytes += encodedDataLength)),
  )
  const sizeOf = async (path: string) => {
    await page.goto('about:blank')
    bytes = 0
    await page.goto(path, { waitUntil: 'load' })
    const size = bytes
    // What comes later is not counted to the next page.
    await page.waitForLoadState('networkidle')
    return size
  }
  const sizes: Record<string, number> = {}
  for (const path of ['/', run!, '/suites', '/defects', '/fleet', '/rota', '/recovery'])
    expect((sizes[path] = await sizeOf(path)), path).toBeLessThan(SCRIPT_MOST_BYTES)
  for (const path of ['/rotations/night-full', '/cases/refund-over-400'])
    expect((sizes[path] = await sizeOf(path)), path).toBeLessThan(BENCH_MOST_BYTES)
  expect(Math.max(...Object.values(sizes))).toBeGreaterThan(50_000) // the counting works
  test.info().annotations.push({ type: 'compressed script, bytes', description: JSON.stringify(sizes) })
})

test('the reader is walked by keys, and its address shares the same view', async ({ page }) => {
  await signIn(page)
  await openKnownFailure(page)
  const first = page.url()
  await page.keyboard.press('f')
  await expect(page).toHaveURL(/fold=true/)
  const ways = page.getByRole('listbox', { name: 'Steps' }).getByRole('option')
  await expect(ways.first()).toBeVisible()
  for (const way of await ways.all())
    expect(['failed', 'errored']).toContain(await way.getAttribute('data-state'))
  await page.keyboard.press('f')
  await page.getByRole('listbox', { name: 'Steps' }).focus()
  await page.keyboard.press('ArrowUp')
  await expect(page).toHaveURL(/step=/)
  const shared = page.url()
  await page.keyboard.press('e')
  await expect(page.getByRole('dialog')).toBeVisible()
  await page.keyboard.press('Escape')
  const chosen = await page.locator('[role=option][aria-selected=true]').getAttribute('data-path')
  await page.goto(shared)
  await expect(page.locator('[role=option][aria-selected=true]')).toHaveAttribute('data-path', chosen!)
  await page.keyboard.press('.')
  await page.keyboard.press('.')
  await expect(page).not.toHaveURL(first)
})

test('the finder goes to a case and does things by name; ? lists the keys', async ({ page }) => {
  await signIn(page)
  await page.keyboard.press('Control+k')
  await page.getByPlaceholder('A case, run, defect, agent').fill('refund over')
  await page.getByRole('option', { name: /Refund over 400/ }).click()
  await page.waitForURL(/case=refund-over-400/)
  await expect(page.getByRole('article', { name: 'Refund over 400' })).toContainText('Ask for the refund')
  await page.getByRole('button', { name: 'YAML' }).click()
  await expect(page.getByText('case: refund-over-400')).toBeVisible()
  await page.keyboard.press('Control+k')
  await page.getByPlaceholder('A case, run, defect, agent').fill('bark')
  await page.keyboard.press('Enter')
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'bark')
  await page.reload()
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'bark')
  await page.keyboard.press('?')
  const keys = page.getByRole('dialog')
  await expect(keys).toContainText('start this suite')
  await expect(keys.getByRole('region', { name: 'Help' })).toContainText('What there is to run')
  await keys.getByRole('link', { name: 'All pages of help' }).click()
  await page.waitForURL(/\/help\?page=suites/)
  await page.keyboard.press('Control+k')
  await page.getByPlaceholder('A case, run, defect, agent').fill('step upload')
  await page.getByRole('option', { name: /Step: upload/ }).click()
  await expect(page.getByRole('article', { name: 'Step: upload' })).toContainText('Gives a file')
})

test('the margin closes, and stays closed for its view', async ({ page }) => {
  await signIn(page)
  await page.goto('/suites?case=refund-over-400')
  await expect(page.getByRole('article', { name: 'Refund over 400' })).toBeVisible()
  await page.getByRole('button', { name: 'Margin' }).click()
  await expect(page.getByRole('article', { name: 'Refund over 400' })).toBeHidden()
  await page.reload()
  await expect(page.getByRole('tree', { name: /Entries of/ })).toBeVisible()
  await expect(page.getByRole('article', { name: 'Refund over 400' })).toBeHidden()
  await page.getByRole('link', { name: 'Fleet' }).click()
  await expect(page.getByRole('complementary', { name: 'Cover' })).toBeVisible()
})

test('an agent is added by one command with a token that is shown once', async ({ page }) => {
  await signIn(page, 'tomas')
  await page.goto('/fleet')
  await page.getByRole('button', { name: 'Add an agent' }).click()
  await page.getByLabel('Name of the agent').fill('Tolva 9')
  await expect(page.getByRole('button', { name: 'Make its token' })).toBeDisabled()
  await page.getByLabel('Name of the agent').fill('tolva-09')
  await page.getByLabel('Pool it begins in').fill('Quay')
  await page.getByRole('button', { name: 'Make its token' }).click()
  const command = (await page.getByRole('dialog').locator('pre').textContent())!
  const token = /OAK_TOKEN=(\S+)/.exec(command)![1]
  const register = (bearer: string, environments = ['chromium-debian', 'chromium-narrow']) => {
    const of = {
      name: 'tolva-09',
      instance: 'i',
      pool: 'elsewhere',
      version: '1',
      protocol: 2,
      seats: 1,
      simulated: false,
    }
    return page.request.post('/api/agents/register', {
      headers: { authorization: `Bearer ${bearer}` },
      data: { ...of, environments },
    })
  }
  expect((await register(`${token}x`)).status()).toBe(401)
  // its token is for the real browsers of this machine
  expect((await register(token!, ['chromium-macos'])).status()).toBe(403)
  expect((await register(token!)).status()).toBe(200)
  await page.getByRole('button', { name: 'Done' }).click()
  await expect(page.locator('[data-agent=tolva-09]')).toBeVisible()
  await expect(page.getByRole('main')).toContainText('Quay')
  await expect(page.getByRole('main')).not.toContainText('elsewhere')
})
