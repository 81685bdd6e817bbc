import { expect, test, type Page } from '@playwright/test'
import { endOf, expectAccessible, expectPassed, readRun, signIn, startRun } from './helpers'

test.setTimeout(240_000)

const cellsOf = (run: Awaited<ReturnType<typeof readRun>>) =>
  run.groups.flatMap(({ rows }) =>
    rows.flatMap((row) => row.cells.map((cell) => ({ ...cell!, caseKey: row.caseKey }))),
  )
const attemptOf = async (page: Page, id: number, caseKey: string) =>
  cellsOf(await readRun(page.request, id)).find((cell) => cell.caseKey === caseKey)!.attemptId!

test('two roles play one case at the same time; both logs are read, and each names the other', async ({
  page,
}) => {
  await signIn(page)
  const id = await startRun(page, {
    suite: 'Together',
    build: '2026.11.1',
    environments: ['Chromium, Debian'],
  })
  await page.getByRole('tab', { name: 'Seats' }).click()
  const tiles = page.getByRole('list', { name: 'Seats at work' })
  await expect(tiles.getByText('A passenger books while the crew opens boarding, crew')).toBeVisible({
    timeout: 60_000,
  })
  // What is on its screen comes while somebody looks.
  await expect(page.locator('img[src*="/screen?n="]').first()).toBeVisible({ timeout: 60_000 })
  await expectAccessible(page)
  const ended = await endOf(page, id)
  expect(cellsOf(ended).map(({ caseKey }) => caseKey)).toEqual([
    'board-together',
    'refund-while-the-gate-refuses',
    'all-four-applications',
  ])
  for (const cell of cellsOf(ended)) await expectPassed(page.request, cell)

  await page.goto(`/attempts/${await attemptOf(page, id, 'board-together')}`)
  const roles = page.getByRole('navigation', { name: 'Attempts' })
  await expect(roles.getByRole('link')).toHaveText([/crew/, /passenger/])
  await roles.getByRole('link', { name: /crew/ }).click()
  await expect(page.getByText('as crew')).toBeVisible()
  await expect(
    page.getByRole('listbox', { name: 'Steps' }).getByRole('option', { name: /meet boarding open/ }),
  ).toBeVisible()
})

test('one role cannot go on: the other ends with the reason; a reference fails at the third application', async ({
  page,
}) => {
  await signIn(page)
  // There the Board button is under the footer. That a joint case is tried again as a whole has tests of its
  // own beside the server.
  const id = await startRun(page, {
    suite: 'Together',
    build: '2026.11.3',
    environments: ['Android 16, handset'],
    retries: '0',
  })
  const cells = cellsOf(await endOf(page, id))
  expect(cells.map(({ caseKey, mark }) => [caseKey, mark])).toEqual([
    ['board-together', 'errored'],
    ['refund-while-the-gate-refuses', 'errored'],
    ['all-four-applications', 'errored'],
  ])
  await page.goto(`/attempts/${await attemptOf(page, id, 'board-together')}`)
  await expect(page.getByText('as crew')).toBeVisible() // the one that decided is shown first
  await page
    .getByRole('navigation', { name: 'Attempts' })
    .getByRole('link', { name: /passenger/ })
    .click()
  await expect(page.getByText('as passenger')).toBeVisible()
  await page.goto(`/attempts/${await attemptOf(page, id, 'all-four-applications')}`)
  await expect(page.getByRole('listbox', { name: 'Steps' }).locator('[aria-selected=true]')).toContainText(
    'Board',
  )
})

test('a simulated agent is told to be lost: its work goes to others, and Fleet says what is made up', async ({
  page,
}) => {
  await signIn(page)
  // Cases that stand alone: what a lost agent has already boarded cannot be boarded again.
  const id = await startRun(page, {
    suite: 'Booking',
    build: '2026.11.1',
    environments: ['WebKit, macOS'],
    retries: '0',
  })
  let victim = ''
  await expect
    .poll(
      async () =>
        (victim =
          (await readRun(page.request, id)).lanes.find(({ bars }) =>
            bars.some(({ mark }) => mark === 'running'),
          )?.agent ?? ''),
      { intervals: [200], timeout: 60_000 },
    )
    .not.toBe('')
  await page.goto('/fleet')
  await page.getByRole('button', { name: victim, exact: true }).click()
  const misbehave = page.getByRole('region', { name: 'Misbehave, simulated' })
  await misbehave.getByLabel('How long').selectOption({ label: 'for 1 min' })
  await misbehave.getByRole('button', { name: 'Do it' }).click()
  await expect(misbehave).toContainText('Told so: not heard from')
  await expect(page.locator(`[data-agent=${victim}]`)).toContainText('misbehaves')
  const run = await endOf(page, id)
  expect(
    run.lanes.some(({ agent, bars }) => agent === victim && bars.some(({ mark }) => mark === 'errored')),
  ).toBe(true) // what it had in hand was lost, and done again
  // No retries are given: what was tried a second time was so for the loss alone.
  const again = cellsOf(run).filter(({ attempts }) => attempts > 1)
  expect(again.length).toBeGreaterThan(0)
  expect(again.map(({ agent }) => agent)).not.toContain(victim)
  await page.getByRole('button', { name: 'Let it be well again' }).click()
  await expect(page.locator(`[data-agent=${victim}]`)).not.toContainText('misbehaves')
})
