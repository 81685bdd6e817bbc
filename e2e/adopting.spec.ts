import { expect, test, type Page } from '@playwright/test'
import { endOf, expectAccessible, expectPassed, git, signIn } from './helpers'

const OWN = { 'sec-fetch-site': 'same-origin' }
const RUN_MS = 120_000

/** Runs a suite in Chromium, to its end. */
async function run(page: Page, suite: string, build: string) {
  const answer = await page.request.post('/api/runs', {
    headers: OWN,
    data: { suite, environments: ['chromium-debian'], build, retries: 0, limitMs: 120_000 },
  })
  expect(answer.ok(), await answer.text()).toBe(true)
  const { id } = (await answer.json()) as { id: number }
  return (await endOf(page, id, RUN_MS)).groups.flatMap(({ rows }) =>
    rows.map(({ caseKey, cells }) => ({ caseKey, ...cells[0]! })),
  )
}
/** The cell of the deck plan, in a run of the cases that people see. */
const deckPlan = async (page: Page, build: string) =>
  (await run(page, 'seen', build)).find(({ caseKey }) => caseKey === 'deck-plan-looks')!

test('a screen is accepted; where the deck plan moved the next run fails, is accepted, and passes', async ({
  page,
}) => {
  test.setTimeout(5 * RUN_MS)
  await signIn(page, 'priya')
  const first = await deckPlan(page, '2026.11.3')
  await expectPassed(page.request, first)
  const screen = page.getByRole('region', { name: 'Screen', exact: true })
  const accept = screen.getByRole('button', { name: 'Accept', exact: true })
  const steps = page.getByRole('listbox', { name: 'Steps' })
  await page.goto(`/attempts/${first.attemptId}`)
  for (const name of ['deck-plan', 'who-travels']) {
    await steps.getByText(`looks like ${name}`).click()
    await expect(screen).toContainText('Nothing was accepted yet')
    await accept.click()
    await expect(accept).toBeHidden()
  }
  await expectAccessible(page)

  const moved = await deckPlan(page, '2026.11.4')
  expect(moved.mark).toBe('failed')
  await page.goto(`/attempts/${moved.attemptId}`)
  await expect(screen).toContainText('It is not as it was accepted')
  await expect(screen).toContainText(/moved 12 px down/)
  await expectAccessible(page)
  await accept.click()
  await expect(page.getByText('Accepted for chromium-debian')).toBeVisible()

  await expectPassed(page.request, await deckPlan(page, '2026.11.4'))
  await page.getByRole('button', { name: /Who accepted what/ }).click()
  await screen.getByRole('button', { name: 'Hold to this again' }).first().click()
  await expect(screen.getByText('holds')).toBeVisible()
})

test('what failed checks found is adopted into the table, taken back, and committed', async ({ page }) => {
  test.setTimeout(3 * RUN_MS)
  await signIn(page, 'priya')
  const source = 'suite: fares-again\ntitle: Fares again\nentries:\n  - case: foot-passenger-return\n'
  const data = { source, basedOn: 0 }
  await page.request.put('/api/definitions/suite/fares-again', { headers: OWN, data })
  const cells = await run(page, 'fares-again', '2026.11.2')
  const failed = cells.filter(({ mark }) => mark === 'failed')
  expect(failed.length).toBe(2) // return fares for three and more are rounded wrongly in this build

  await page.goto(`/attempts/${failed[0]!.attemptId}`)
  const dialog = page.getByRole('dialog', { name: 'Adopt what was found' })
  // keys are known once the scripts of the page have come
  await expect(async () => {
    await page.keyboard.press('a')
    await expect(dialog).toBeVisible({ timeout: 1000 })
  }).toPass()
  await expect(dialog).toContainText(/Fare in row 2 of return-fares.csv/i)
  await expectAccessible(page)
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Adopt what was found' }).click()
  await dialog.getByRole('radio', { name: 'All failed checks of the run' }).check()
  await expect(dialog).toContainText(/row 3 of return-fares.csv/)
  const save = dialog.getByRole('button', { name: 'Save as the next version' })
  await save.click()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByText('As it was before')).toBeVisible()

  await page.keyboard.press('a')
  await expect(dialog).toContainText(/row 2 of return-fares.csv/)
  await save.click()
  await expect(dialog).toBeHidden()
  await page.goto('/suites?show=repositories')
  const form = page.getByRole('form', { name: 'Commit to harbour-cases' })
  await form.getByLabel('Branch').fill('adopted-fares')
  await form.getByLabel('Message').fill('The fares of build 2026.11.2')
  await form.getByRole('button', { name: 'Commit' }).click()
  await expect(page.getByText(/committed to adopted-fares/)).toBeVisible()
  const before = git('show', 'main:booking/return-fares.csv')
  const after = git('show', 'adopted-fares:booking/return-fares.csv')
  const changed = after.split('\n').filter((line, i) => line !== before.split('\n')[i])
  expect(changed).toEqual([expect.stringMatching(/^3,86\.\d\d\r?$/)])
})
