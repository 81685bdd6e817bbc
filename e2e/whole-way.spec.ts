import { expect, test } from '@playwright/test'
import { expectAccessible, openKnownFailure, signIn, startRun, TRACKER, endedWell, endOf } from './helpers'

test.setTimeout(300_000)

test('the whole way: start on two real environments, watch, read the failure, log the defect, get its number', async ({
  page,
}) => {
  await signIn(page)
  const begun = Date.now()
  const id = await startRun(page, { suite: 'Gate and manifest', build: '2026.11.3', retries: '0' })
  await expect(page.getByRole('grid')).toBeVisible()
  await expect(page.locator('[data-mark=running]').first()).toBeVisible() // live, without a reload
  await expect(page.locator('[role=grid] [data-mark=passed]').first()).toBeVisible({ timeout: 120_000 })
  test.info().annotations.push({ type: 'first result after', description: `${Date.now() - begun} ms` })

  const ended = await endOf(page, id)
  const board = ended.groups
    .flatMap(({ rows }) => rows)
    .find(({ caseKey }) => caseKey === 'board-with-a-reference')!
  expect(board.cells.map((cell) => endedWell(cell!.mark))).toEqual(['passed', 'errored']) // wide, narrow
  await expect(page.getByRole('button', { name: /Run again the \d+ that failed/ })).toBeVisible()

  await page.keyboard.press('.')
  await expect(page).toHaveURL(/cell=/)
  await expect(page.getByRole('complementary', { name: 'Selected case run' })).toContainText(
    'the point belongs to footer.shore-notice',
  )
  await expectAccessible(page)
  await page.keyboard.press('o')
  await page.waitForURL(/\/attempts\//)
  await expect(page.locator('[role=option][aria-selected=true]')).toHaveAttribute('data-state', 'errored')

  const screen = page.locator('[data-evidence=screen]')
  await expect.poll(() => screen.evaluate((image: HTMLImageElement) => image.naturalWidth)).toBe(390)
  await page.getByRole('tab', { name: 'Video' }).click()
  const video = page.getByLabel('Video of the attempt')
  await expect
    .poll(() => video.evaluate((element: HTMLVideoElement) => element.readyState))
    .toBeGreaterThanOrEqual(2)
  expect(await video.evaluate((element: HTMLVideoElement) => element.duration)).toBeGreaterThan(3)
  await video.evaluate((element: HTMLVideoElement) => {
    element.currentTime = 0
    return element.play()
  })
  await expect
    .poll(() => video.evaluate((element: HTMLVideoElement) => element.currentTime))
    .toBeGreaterThan(0.3)
  await expectAccessible(page)

  await page.keyboard.press('d')
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByLabel('Steps to reproduce')).toHaveValue(/1\. Open booking \//)
  await dialog.getByLabel('Title').fill('')
  await dialog.getByRole('button', { name: 'Log it' }).click()
  await expect(dialog.getByText('A defect needs a title')).toBeVisible() // and nothing typed is lost
  await expect(dialog.getByLabel('Steps to reproduce')).toHaveValue(/Open booking/)
  await dialog.getByLabel('Title').fill('Gate: Board cannot be pressed on narrow screens')
  await dialog.getByRole('button', { name: 'Log it' }).click()
  await page.waitForURL(/\/defects\?id=/)
  const detail = page.getByRole('article', { name: 'Gate: Board cannot be pressed on narrow screens' })
  await expect(detail).toContainText(/The tracker knows it as FSF-\d+/)
  const number = /FSF-\d+/.exec((await detail.textContent()) ?? '')![0]
  const issue = (await (await page.request.get(`${TRACKER}/api/issues/${number}`)).json()) as {
    title: string
    body: string
  }
  expect(issue).toMatchObject({
    title: 'Gate: Board cannot be pressed on narrow screens',
    body: expect.stringContaining('Build: 2026.11.3') as unknown,
  })
  await expectAccessible(page)
})

test('the tracker is down: the defect is kept, says so, and is sent when it is back', async ({ page }) => {
  await signIn(page, 'joss')
  await openKnownFailure(page)
  await expect(page.getByRole('button', { name: 'Draft a defect' })).toBeVisible()
  await page.request.post(`${TRACKER}/control/down?on=yes`)
  await page.keyboard.press('d')
  await page.getByLabel('Title').fill('Kept while the tracker is away')
  await page.getByRole('button', { name: 'Log it' }).click()
  const detail = page.getByRole('article', { name: 'Kept while the tracker is away' })
  await expect(detail).toContainText('The tracker answers 503.')
  await expect(detail).toContainText('is sent by itself as soon as that works')
  await page.request.post(`${TRACKER}/control/down?on=no`)
  await page.getByRole('button', { name: 'Send now' }).click()
  await expect(detail).toContainText(/The tracker knows it as FSF-\d+/, { timeout: 20_000 })

  // what is said there waits as well, and closes it once the tracker is back
  await page.request.post(`${TRACKER}/control/down?on=yes`)
  const said = detail.getByRole('region', { name: 'At the tracker' })
  await said.getByLabel('Say there').fill('Not seen any more on the quay')
  await said.getByLabel('And it is then').selectOption('closed')
  await said.getByRole('button', { name: 'Say it' }).click()
  await expect(said).toContainText('waits, and is sent by itself (The tracker answers 503.')
  await page.request.post(`${TRACKER}/control/down?on=no`)
  await expect(said).toContainText('closes it: said there', { timeout: 60_000 })
  await expect(detail).toContainText(/state closed/)
  await expectAccessible(page)
  const number = /FSF-\d+/.exec((await detail.textContent())!)![0]
  const there = await page.request.get(`${TRACKER}/issues/${number}`)
  expect(await there.text()).toContain('Not seen any more on the quay')
})
