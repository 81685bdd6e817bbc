import { expect, test, type Page } from '@playwright/test'
import { endOf, expectAccessible, expectPassed, signIn } from './helpers'

const OWN = { 'sec-fetch-site': 'same-origin' }
const RUN_MS = 90_000

/** Keeps a case that finds the button in this way, runs it alone in Chromium, and opens its log. */
async function run(page: Page, key: string, target: string): Promise<void> {
  const send = async (method: string, path: string, data: unknown): Promise<unknown> => {
    const answer = await page.request.fetch(path, { method, headers: OWN, data })
    expect(answer.ok(), await answer.text()).toBe(true)
    return answer.json()
  }
  const source = [
    `case: ${key}`,
    'title: A crossing is found by eye',
    'steps:',
    '  - open: booking:/',
    `  - click: { on: { ${target} } }`,
    '  - wait: { for: { words: Sailing on } }',
    '  - check: { of: { words: Find a crossing }, state: hidden }',
    '',
  ].join('\n')
  await send('PUT', `/api/definitions/case/${key}`, { source, basedOn: 0 })
  const suite = `suite: ${key}\ntitle: By eye\nentries:\n  - case: ${key}\n`
  await send('PUT', `/api/definitions/suite/${key}`, { source: suite, basedOn: 0 })
  const settings = { build: '2026.11.3', retries: 0, limitMs: 60_000 }
  const { id } = (await send('POST', '/api/runs', {
    suite: key,
    environments: ['chromium-debian'],
    ...settings,
  })) as { id: number }
  const { groups } = await endOf(page, id, RUN_MS)
  const cell = groups[0]!.rows[0]!.cells[0]!
  await expectPassed(page.request, cell)
  await page.goto(`/attempts/${cell.attemptId}`)
}

test('a button is found by its words, cut out of the screen, and found by its picture', async ({ page }) => {
  test.setTimeout(4 * RUN_MS)
  await signIn(page)
  await run(page, 'found-by-words', 'words: find sailings')
  await page.getByRole('listbox', { name: 'Steps' }).getByRole('option').nth(1).click()
  await expect(page.locator('main')).toContainText(/read on the screen at \d+, \d+/)

  await page.getByRole('button', { name: 'Cut out a picture' }).click()
  const dialog = page.getByRole('dialog', { name: 'Cut out a picture' })
  const keep = dialog.getByRole('button', { name: 'Keep' })
  await expect(keep).toBeDisabled()
  const width = await dialog.getByLabel('Width').inputValue()
  expect(Number(width)).toBeGreaterThan(20)
  await dialog.getByLabel('Width').fill('4')
  await dialog.getByLabel('Name').fill('find-by-eye')
  await keep.click()
  await expect(dialog.getByRole('alert')).toContainText('at least 8 x 8 pixels')
  await expectAccessible(page)
  await dialog.getByLabel('Width').fill(width)
  await keep.click()
  await expect(dialog).toBeHidden()
  await page.goto('/settings?part=pictures')
  await expect(page.getByRole('img', { name: 'find-by-eye' })).toBeVisible()
  await expectAccessible(page)

  await run(page, 'found-by-picture', 'picture: find-by-eye')
  await page.getByRole('listbox', { name: 'Steps' }).getByRole('option').nth(1).click()
  await expect(page.locator('main')).toContainText(/seen on the screen at \d+, \d+/)
})
