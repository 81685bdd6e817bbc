import { expect, test, type Page } from '@playwright/test'
import { expectAccessible, signIn } from './helpers'

const OWN = { 'sec-fetch-site': 'same-origin' }
const OPENS_MS = 60_000
const WHOLE_MS = 180_000

async function keep(page: Page, kind: string, key: string, source: string): Promise<void> {
  const kept = await page.request.put(`/api/definitions/${kind}/${key}`, {
    headers: OWN,
    data: { source, basedOn: 0 },
  })
  expect(kept.ok(), await kept.text()).toBe(true)
}

async function openLive(page: Page, key: string): Promise<void> {
  await page.goto(`/cases/${key}`)
  await page.getByRole('button', { name: /^Live/ }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Build').fill('2026.11.3')
  await dialog.getByRole('button', { name: 'Open the browser' }).click()
  await page.waitForURL(/\/live\//, { timeout: OPENS_MS })
  await expect(page.getByText('Click into the picture to type')).toBeVisible({ timeout: OPENS_MS })
}

async function endSession(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'End', exact: true }).click()
  await page.getByRole('button', { name: 'Undo and end' }).click()
}

test('a loop is held the second time, and only when a value is so; rows are gone through', async ({
  page,
}) => {
  test.setTimeout(WHOLE_MS)
  await signIn(page)
  await keep(page, 'data', 'held.csv', 'to\nTolva\nQuillhaven\n')
  await keep(
    page,
    'case',
    'held-in-a-loop',
    `case: held-in-a-loop
title: Held in a loop
entry: booking-open
data: held.csv
steps:
  - choose: { in: { label: To }, value: "\${row.to}" }
  - repeat: { times: 3 }
    steps:
      - type: { in: { label: Passengers }, value: "4" }
`,
  )
  await openLive(page, 'held-in-a-loop')
  const steps = page.getByRole('tree', { name: 'Steps of the case' })
  const inner = steps.getByRole('treeitem').nth(2)
  await inner.getByRole('button', { name: 'Stop before step 3' }).click()
  await inner.click()
  const stop = page.getByRole('region', { name: 'Stop before step 3' })
  await stop.getByLabel('When it stops').selectOption('value')
  await stop.getByLabel('Which value').selectOption('row.to')
  await stop.getByLabel('Text').fill('Quillhaven')
  await page.keyboard.press('Enter')
  await stop.getByRole('textbox', { name: 'From time' }).fill('2')
  await page.keyboard.press('Enter')
  await expectAccessible(page)

  const held = page.getByRole('region', { name: 'Held' })
  const loop = steps.getByRole('treeitem').nth(1)
  await steps.getByRole('treeitem').first().click()
  await page.getByRole('button', { name: /^From here/ }).click()
  await expect(loop.getByRole('img', { name: 'passed' })).toBeVisible() // the first row is another one
  await page.getByRole('button', { name: 'Next row' }).click()
  await expect(page.getByRole('region', { name: 'Values here' })).toContainText('Quillhaven')
  await steps.getByRole('treeitem').first().click()
  await page.getByRole('button', { name: /^From here/ }).click()
  await expect(held).toContainText('type Passengers')
  await expectAccessible(page)
  await page.keyboard.press('g') // the third time it holds again
  await expect(held).toBeVisible()
  await held.getByRole('button', { name: /Go on/ }).click()
  await expect(held).toBeHidden()
  await expect(loop.getByRole('img', { name: 'passed' })).toBeVisible()
  await endSession(page)
  await page.waitForURL(/\/attempts\//)
})

test('a step within a routine is stopped at, and the routine is left for what comes after it', async ({
  page,
}) => {
  test.setTimeout(WHOLE_MS)
  await signIn(page)
  await keep(
    page,
    'routine',
    'who-sails',
    `routine: who-sails
title: Say who sails
parameters:
  passengers: "2"
steps:
  - open: booking:/
  - type: { in: { label: Passengers }, value: "\${passengers}" }
  - type: { in: { label: Passengers }, value: "3" }
`,
  )
  await keep(
    page,
    'case',
    'within-a-routine',
    `case: within-a-routine
title: Within a routine
steps:
  - use: who-sails
  - check: { of: { label: Passengers }, value: { equals: "3" } }
`,
  )
  await openLive(page, 'within-a-routine')
  const steps = page.getByRole('tree', { name: 'Steps of the case' })
  await steps.getByRole('treeitem').first().click()
  await page.getByText('Steps of Say who sails').click()
  await page
    .getByRole('list', { name: 'Steps of Say who sails' })
    .getByRole('button', { name: 'Stop before type Passengers' })
    .first()
    .click()
  await expectAccessible(page)
  await page.getByRole('button', { name: /^From here/ }).click()
  const held = page.getByRole('region', { name: 'Held' })
  await expect(held).toContainText('type Passengers')
  await page.keyboard.press('o')
  await expect(held).toBeHidden()
  // what comes after it is stopped at, and not done yet
  await expect(steps.getByRole('treeitem', { selected: true })).toContainText('Passengers')
  await expect(steps.getByRole('treeitem').first().getByRole('img', { name: 'passed' })).toBeVisible()
  await page.getByRole('button', { name: /^One step/ }).click()
  await expect(steps.getByRole('treeitem').nth(1).getByRole('img', { name: 'passed' })).toBeVisible()
  await endSession(page)
  await page.waitForURL(/\/attempts\//)
})

test('a guided case has its machine steps done by a browser, and counts', async ({ page }) => {
  test.setTimeout(WHOLE_MS)
  await signIn(page, 'priya')
  await keep(
    page,
    'case',
    'half-done',
    `case: half-done
title: Half by hand
entry: booking-open
steps:
  - open: booking:/
  - do: Read the heading aloud
    expect: Somebody beside you understands it
`,
  )
  await keep(
    page,
    'suite',
    'half-done',
    'suite: half-done\ntitle: Half by hand\nentries:\n  - case: half-done\n',
  )
  const started = await page.request.post('/api/runs', {
    headers: OWN,
    data: {
      suite: 'half-done',
      environments: ['chromium-debian'],
      build: '2026.11.3',
      retries: 0,
      limitMs: 60_000,
      guided: [{ person: 'Priya Castellan' }],
    },
  })
  expect(started.ok(), await started.text()).toBe(true)
  await page.goto('/guided')
  const cases = page.getByRole('table', { name: 'Cases by hand' })
  await cases.getByRole('link', { name: 'Half by hand', exact: true }).first().click()
  await page.getByRole('button', { name: /Open one/ }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Open the browser' }).click()
  await page.waitForURL(/\/live\/.*guided=/, { timeout: OPENS_MS })
  await expect(page.getByText('Click into the picture to type')).toBeVisible({ timeout: OPENS_MS })
  const steps = page.getByRole('tree', { name: 'Steps of the case' })
  await steps.getByRole('treeitem').first().click()
  await page.getByRole('button', { name: /^From here/ }).click()
  const turn = page.getByRole('region', { name: 'Your turn' })
  await expect(turn).toContainText('Read the heading aloud')
  await turn.getByLabel('Note').fill('they asked what a crossing is')
  await turn.getByRole('button', { name: /It is not so/ }).click()
  await expect(turn).toBeHidden()
  await endSession(page)

  await page.waitForURL(/\/guided\//)
  const sheet = page.getByRole('list', { name: 'Steps' })
  await expect(sheet.getByRole('button', { name: /Read the heading aloud/ })).toContainText('failed')
  await expect(sheet.getByRole('button', { name: /open/ }).last()).toContainText('passed')
  await sheet.getByRole('button', { name: /Read the heading aloud/ }).click()
  await expect(page.getByLabel('Note')).toHaveValue('they asked what a crossing is')
  await expect(page.getByRole('img', { name: 'Picture 1 of this step' })).toBeVisible()
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Conclude and draft the defect' }).click()
  await page.waitForURL(/\/attempts\/.*draft=1/)
  await expect(page.getByRole('dialog').getByLabel('Actual')).toHaveValue(/what a crossing is/)
})
