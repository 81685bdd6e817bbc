/** Looks at every view and changes nothing: these journeys go on beside all others. */
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
