import { expect, test, type Locator, type Page } from '@playwright/test'
import { WebSocket } from 'ws'
import { endOf, expectAccessible, expectPassed, signIn } from './helpers'

const OWN = { 'sec-fetch-site': 'same-origin' }
const OPENS_MS = 60_000
const RUN_MS = 90_000

/** Keeps a case that begins at the booking site, and opens a browser for it. */
async function openLive(
  page: Page,
  key: string,
  { steps = '', environment }: { steps?: string; environment?: string } = {},
): Promise<Locator> {
  const source = `case: ${key}\ntitle: Found by hand\nentry: booking-open\nsteps:\n  - open: booking:/\n${steps}`
  const kept = await page.request.put(`/api/definitions/case/${key}`, {
    headers: OWN,
    data: { source, basedOn: 0 },
  })
  expect(kept.ok(), await kept.text()).toBe(true)
  await page.goto(`/cases/${key}`)
  await page.getByRole('button', { name: /^Live/ }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Build').fill('2026.11.3')
  if (environment) await dialog.getByLabel('Environment').selectOption(environment)
  await dialog.getByRole('button', { name: 'Open the browser' }).click()
  await page.waitForURL(/\/live\//, { timeout: OPENS_MS })
  await expect(page.getByText('Click into the picture to type')).toBeVisible({ timeout: OPENS_MS })
  const canvas = page.getByRole('img', { name: 'The browser, live' })
  await expect(canvas).toHaveAttribute('data-frames', /[1-9]/)
  return canvas
}

/** Clicks at a point of the page in the picture. */
async function clickAt(page: Page, canvas: Locator, x: number, y: number): Promise<void> {
  const box = (await canvas.boundingBox())!
  await page.mouse.click(box.x + (x / 1280) * box.width, box.y + (y / 800) * box.height)
}

test('a case is recorded by hand, checked, kept, and passes by itself', async ({ page }) => {
  test.setTimeout(3 * RUN_MS)
  await signIn(page)
  const canvas = await openLive(page, 'recorded-by-hand')
  const recorded = page.getByRole('list', { name: 'Recorded steps' })

  await clickAt(page, canvas, 415, 257) // the list “To”, which the browser would draw itself
  await page.getByRole('list', { name: 'The list of the page' }).getByText('Quillhaven').click()
  await expect(recorded).toContainText('choose To Quillhaven')
  await clickAt(page, canvas, 415, 398) // Passengers: a mistake first
  await page.keyboard.press('End')
  await page.keyboard.press('Backspace')
  await page.keyboard.type('33')
  await page.keyboard.press('Backspace')
  await expect(recorded).toContainText('type Passengers 3')
  await clickAt(page, canvas, 265, 440) // Return crossing
  await expect(recorded).toContainText('choose Return crossing yes')
  await clickAt(page, canvas, 334, 484) // Find sailings
  await expect(recorded).toContainText('click Find sailings')
  await expect(recorded.getByRole('listitem')).toHaveCount(4)
  await expectAccessible(page)

  await page.getByRole('button', { name: /^Insert/ }).click()
  await expect(recorded).toBeHidden()
  await page.getByRole('button', { name: 'Pick for a check' }).click()
  await clickAt(page, canvas, 330, 97) // the heading
  const picked = page.getByRole('region', { name: 'What was picked' })
  await expect(picked).toContainText('Skerrow to Quillhaven')
  await picked.getByRole('button', { name: /it is seen/ }).click()
  await expect(picked).toBeHidden()
  const steps = page.getByRole('tree', { name: 'Steps of the case' })
  await expect(steps.getByRole('treeitem')).toHaveCount(6)
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('version 2', { exact: true })).toBeVisible()

  await page.getByRole('button', { name: 'End', exact: true }).click()
  await page.getByRole('button', { name: 'Undo and end' }).click()
  await page.waitForURL(/\/attempts\//)
  await expect(page.getByRole('listbox', { name: 'Steps' })).toContainText('by hand')

  const suite = 'suite: recorded-by-hand\ntitle: By hand\nentries:\n  - case: recorded-by-hand\n'
  await page.request.put('/api/definitions/suite/recorded-by-hand', {
    headers: OWN,
    data: { source: suite, basedOn: 0 },
  })
  const started = await page.request.post('/api/runs', {
    headers: OWN,
    data: {
      suite: 'recorded-by-hand',
      environments: ['chromium-debian', 'firefox-debian', 'webkit-debian'],
      build: '2026.11.3',
      retries: 0,
      limitMs: 60_000,
    },
  })
  const { id } = (await started.json()) as { id: number }
  const { groups } = await endOf(page, id, RUN_MS)
  const { cells } = groups[0]!.rows[0]!
  expect(cells).toHaveLength(3)
  for (const cell of cells) await expectPassed(page.request, cell!)
})

test('a step that fails is changed and tried again in the same browser; two people hand it over', async ({
  page,
  browser,
}) => {
  test.setTimeout(3 * RUN_MS)
  await signIn(page)
  await openLive(page, 'tried-by-hand')
  const steps = page.getByRole('tree', { name: 'Steps of the case' })
  await page.getByRole('button', { name: /^One step/ }).click()
  await expect(steps.getByRole('treeitem').first().getByRole('img', { name: 'passed' })).toBeVisible()

  const other = await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' })
  const priya = await other.newPage()
  await signIn(priya, 'priya')
  await priya.goto(page.url())
  await expect(priya.getByText('Wren Adeyemi drives')).toBeVisible()
  await expect(priya.getByRole('button', { name: /^One step/ })).toBeDisabled()
  await priya.getByRole('button', { name: 'Ask to drive' }).click()
  await page.getByRole('button', { name: 'Hand over' }).click()
  await expect(priya.getByRole('button', { name: /^One step/ })).toBeEnabled()
  await expect(page.getByText('Priya Castellan drives')).toBeVisible()
  await other.close()
  await expect(page.getByRole('button', { name: /^One step/ })).toBeEnabled()

  await page.getByLabel('Address to open').fill('nowhere:/')
  await page.keyboard.press('Enter')
  await expect(page.getByText('there is no application “nowhere”')).toBeVisible()
  await page.getByRole('button', { name: 'End', exact: true }).click()
  await page.getByRole('button', { name: 'Undo and end' }).click()
  await page.waitForURL(/\/attempts\//)
})

for (const environment of ['firefox-debian', 'webkit-debian'])
  test(`the machine prepares, a person judges, in ${environment}`, async ({ page }) => {
    test.setTimeout(3 * RUN_MS)
    await signIn(page, 'priya')
    const step = '  - do: Look at the passengers\n    expect: There are four\n'
    const canvas = await openLive(page, `judged-in-${environment}`, { steps: step, environment })
    const steps = page.getByRole('tree', { name: 'Steps of the case' })
    const turn = page.getByRole('region', { name: 'Your turn' })
    const [first, second] = [steps.getByRole('treeitem').first(), steps.getByRole('treeitem').nth(1)]
    await first.click()
    await page.getByRole('button', { name: /^From here/ }).click()
    await expect(turn).toContainText('Look at the passengers')
    await expect(turn).toContainText('There are four')
    await expectAccessible(page)

    await turn.getByLabel('Note').fill('there are two')
    await turn.getByRole('button', { name: /It is not so/ }).click()
    await expect(turn).toBeHidden()
    await expect(second.getByRole('img', { name: 'failed' })).toBeVisible()

    await second.click()
    await page.getByRole('button', { name: /^One step/ }).click()
    await expect(turn).toBeVisible()
    await clickAt(page, canvas, 415, 257) // the list “To”: the browser is the person’s meanwhile
    await page.getByRole('list', { name: 'The list of the page' }).getByText('Quillhaven').click()
    await page.keyboard.press('Shift+Escape')
    await page.keyboard.press('y')
    await expect(turn).toBeHidden()
    await expect(second.getByRole('img', { name: 'passed' })).toBeVisible()

    await page.getByRole('button', { name: 'End', exact: true }).click()
    await page.getByRole('button', { name: 'Undo and end' }).click()
    await page.waitForURL(/\/attempts\//)
    await expect(page.getByRole('listbox', { name: 'Steps' })).toContainText('Look at the passengers')
    await page
      .getByRole('option', { name: /Look at the passengers/ })
      .last()
      .click()
    await expect(page.locator('main')).toContainText('seen by Priya Castellan')
  })

test('a line is refused without a session, from another site, and where nothing goes on', async ({
  page,
}) => {
  await signIn(page)
  const cookie = (await page.context().cookies()).map(({ name, value }) => `${name}=${value}`).join('; ')
  const { host } = new URL((await page.request.get('/api/health')).url())
  const nowhere = '00000000-0000-4000-8000-000000000000'
  const answerTo = (path: string, headers: Record<string, string>) =>
    new Promise<number>((resolve) => {
      const line = new WebSocket(`ws://${host}${path}`, { headers })
      line.on('unexpected-response', (_, { statusCode }) => resolve(statusCode ?? 0))
      line.on('open', () => resolve(101))
      line.on('error', () => {})
    })
  const path = `/api/live-sessions/${nowhere}/line`
  const origin = `http://${host}`
  expect(await answerTo(path, { origin })).toBe(401)
  expect(await answerTo(path, { cookie, origin: 'http://elsewhere.invalid' })).toBe(403)
  expect(await answerTo(path, { cookie })).toBe(403)
  expect(await answerTo(path, { cookie, origin })).toBe(404)
  expect(await answerTo('/api/live-sessions/x/line', { cookie, origin })).toBe(404)
  expect(await answerTo('/api/now', { cookie, origin })).toBe(404)
  const ofAgent = `/api/agents/${nowhere}/attempts/${nowhere}/live?lease=1`
  expect(await answerTo(ofAgent, { cookie, origin })).toBe(401)
  expect(await answerTo(ofAgent, { authorization: 'Bearer oak_wrong' })).toBe(401)
})

test('exploring: what is noticed on the way stands in the log with its screen, and becomes a defect', async ({
  page,
}) => {
  test.setTimeout(3 * RUN_MS)
  await signIn(page, 'priya')
  await page.goto('/suites?show=new')
  const making = page.getByRole('dialog', { name: 'New' })
  await making.getByRole('radio', { name: 'Exploring' }).click()
  await making.getByLabel('What to find out').fill('What a party of nine is told')
  await making.getByRole('button', { name: 'Choose where' }).click()
  const dialog = page.getByRole('dialog', { name: /^Live: What a party/ })
  await dialog.getByLabel('Build').fill('2026.11.3')
  await dialog.getByRole('button', { name: 'Open the browser' }).click()
  await page.waitForURL(/\/live\//, { timeout: OPENS_MS })
  await expect(page.getByText('Click into the picture to type')).toBeVisible({ timeout: OPENS_MS })
  const canvas = page.getByRole('img', { name: 'The browser, live' })
  await page.getByLabel('Address to open').fill('booking:/')
  await page.keyboard.press('Enter')
  const recorded = page.getByRole('list', { name: 'Recorded steps' })
  await expect(recorded).toContainText('open booking')
  await clickAt(page, canvas, 265, 440) // Return crossing
  await expect(recorded).toContainText('choose Return crossing yes')

  await page.keyboard.press('Shift+Escape') // out of the picture
  await page.keyboard.press('w')
  const noticed = page.getByRole('dialog', { name: 'What you notice' })
  await expect(noticed.getByRole('button', { name: 'Keep the note' })).toBeDisabled()
  await noticed.getByLabel('In words').fill('The date of the way back is before the way out')
  await expectAccessible(page)
  await noticed.getByRole('button', { name: 'Something is wrong' }).click()
  await expect(page.getByText('It stands in the log as a failure')).toBeVisible()

  await page.getByRole('button', { name: 'End', exact: true }).click()
  await page.getByRole('button', { name: 'End, and leave what was made' }).click()
  await page.waitForURL(/\/attempts\//)
  const line = page.getByRole('option', { name: /noticed The date of the way back/ })
  await expect(line).toBeVisible()
  await page.getByRole('button', { name: /Draft a defect/ }).click()
  const draft = page.getByRole('dialog')
  await expect(draft.getByLabel('Actual')).toHaveValue(/date of the way back/)
  await draft.getByRole('button', { name: 'Save as a draft' }).click()
  await page.waitForURL(/\/defects/)
})
