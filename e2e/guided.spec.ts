import { expect, test, type Page } from '@playwright/test'
import sharp from 'sharp'
import { expectAccessible, readRun, signIn } from './helpers'

/** Starts “Rounds on deck” with people instead of agents. @returns the number of the run */
async function startByHand(page: Page, people: string[]): Promise<number> {
  await page.goto('/')
  await page.getByRole('button', { name: 'Start a run' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Suite').selectOption({ label: 'Rounds on deck' })
  await dialog.getByLabel('Build under test').fill('2026.11.3')
  await dialog.getByRole('radio', { name: 'people, by hand' }).click()
  await expect(dialog.getByRole('button', { name: 'Start', exact: true })).toBeDisabled() // nobody does it yet
  for (const box of await dialog.getByRole('checkbox').all()) await box.uncheck()
  await dialog.getByRole('checkbox', { name: 'Chromium, narrow' }).check()
  for (const person of people) await dialog.getByRole('checkbox', { name: person }).check()
  await dialog.getByRole('button', { name: 'Start', exact: true }).click()
  await page.waitForURL(/\/runs\/\d+/)
  return Number(/runs\/(\d+)/.exec(page.url())![1])
}
/** What is left of it waits for nobody. */
const stop = (page: Page, run: number) =>
  page.request.post(`/api/runs/${run}/cancel`, { data: {}, headers: { 'sec-fetch-site': 'same-origin' } })
const stepToDo = (page: Page) => page.getByRole('region', { name: 'The step to do' })
const work = (page: Page, run: number) =>
  page.getByRole('table', { name: 'Cases by hand' }).getByRole('row', { name: new RegExp(`deck ${run}\\b`) })

test('a round is dealt to people, done by keys over two days’ worth of leaving, and ends in a defect', async ({
  page,
}) => {
  await signIn(page, 'priya')
  const run = await startByHand(page, ['Priya Castellan'])
  await expect(page.getByRole('list', { name: 'How far each is' })).toContainText('Priya Castellan0 of 4')
  await page.goto('/guided')
  await expect(work(page, run)).toHaveCount(4)
  await expectAccessible(page)
  await work(page, run)
    .getByRole('link', { name: /^The gate on deck/ })
    .click()
  await expect(stepToDo(page)).toContainText('wet gloves')
  await expectAccessible(page)
  await page.keyboard.press('y')
  await expect(stepToDo(page)).toContainText('Look up')
  await expect(page.getByText(/1 of 4/)).not.toContainText('keeping')

  await page.goto('/guided') // she leaves, and goes on later
  await expect(work(page, run).filter({ hasText: '1 step' })).toHaveCount(1)
  await work(page, run)
    .getByRole('link', { name: /^The gate on deck/ })
    .click()
  await expect(stepToDo(page)).toContainText('Look up')
  await page.getByLabel('Device').fill('the old handset of the mate')
  await page.getByLabel('Note').fill('read only under a roof')
  await page.getByLabel('Picture of this step').setInputFiles({
    name: 'rain.png',
    mimeType: 'image/png',
    buffer: await sharp({ create: { width: 390, height: 780, channels: 3, background: '#16303c' } })
      .png()
      .toBuffer(),
  })
  await expect(page.getByRole('img', { name: 'Picture 1 of this step' })).toBeVisible()
  await page.getByRole('button', { name: 'It is so' }).click() // a slip of the hand
  await page.keyboard.press('u')
  await expect(stepToDo(page)).toContainText('Look up')
  await page.keyboard.press('n')
  await page.keyboard.press('d')
  await page.waitForURL(/\/attempts\/.*draft=1/)
  const draft = page.getByRole('dialog')
  await expect(draft.getByLabel('Title')).toHaveValue(/gate on deck/i)
  await expect(draft.getByLabel('Expected')).toHaveValue(/read at arm's length/)
  await expect(draft.getByLabel('Actual')).toHaveValue(/read only under a roof/)
  await draft.getByRole('button', { name: 'Save as a draft' }).click()
  await page.waitForURL(/\/defects/)
  await expect(page.getByRole('heading', { level: 2, name: /read only under a roof/ })).toBeVisible()

  const after = await readRun(page.request, run)
  expect(after.run.counts).toMatchObject({ failed: 1, waiting: 3 })
  await page.goto(`/runs/${run}`)
  await expect(page.getByRole('list', { name: 'How far each is' })).toContainText('1 of 4')
  await stop(page, run)
})

test('work goes to somebody else; two at one sheet are told of each other', async ({ page, browser }) => {
  await signIn(page, 'priya')
  const run = await startByHand(page, ['Priya Castellan', 'Joss Okafor'])
  await page.goto('/guided?whose=all')
  await expect(work(page, run)).toHaveCount(4)
  const party = work(page, run).filter({ hasText: 'row 1 of 2' })
  await party.getByRole('checkbox').check()
  await page.getByLabel('Give 1 to').selectOption('Mirela Voss')
  await expect(party).toContainText('Mirela Voss')
  await party.getByRole('link', { name: /^A party/ }).click()
  await expect(page.getByText(/It is with Mirela Voss/)).toBeVisible()
  const address = page.url()

  const other = await (await browser.newContext()).newPage()
  await signIn(other, 'mirela')
  await other.goto(address)
  await other.getByRole('button', { name: /steps are done/ }).click()
  await expect(stepToDo(other)).toContainText('Say the reference aloud')
  await expect(other.getByText(/12 of 15/)).not.toContainText('keeping')

  await page.keyboard.press('y')
  await expect(page.getByText(/Mirela Voss said something of this case/)).toBeVisible()
  await page.getByRole('button', { name: 'Read it again' }).click()
  await expect(stepToDo(page)).toContainText('Say the reference aloud')
  await page.keyboard.press('c') // whoever has the handset is not here
  await page.keyboard.press('e')
  await page.waitForURL((url) => url.href !== address)
  expect((await readRun(page.request, run)).run.counts).toMatchObject({ errored: 1 })
  await other.context().close()
  await stop(page, run)
})

/** A window as the browser would share it, once a person has chosen one in its own dialog. */
const sharing = () => {
  const shared = document.createElement('canvas')
  Object.assign(shared, { width: 320, height: 200 })
  const pen = shared.getContext('2d')!
  let turn = 0
  setInterval(() => {
    pen.fillStyle = turn++ % 2 ? '#0b3e4a' : '#dfe9ea'
    pen.fillRect(0, 0, 320, 200)
  }, 50)
  navigator.mediaDevices.getDisplayMedia = async () => shared.captureStream(20)
}

test('a window is shared: a picture of it is cut and marked up, and a video stands in the log', async ({
  page,
}) => {
  await page.addInitScript(sharing)
  await signIn(page, 'priya')
  const run = await startByHand(page, ['Priya Castellan'])
  await page.goto('/guided')
  await work(page, run)
    .getByRole('link', { name: /^The gate on deck/ })
    .click()
  await page.getByRole('button', { name: 'Share a window…' }).click()
  await page.keyboard.press('v')
  await expect(page.getByRole('button', { name: 'Stop the video' })).toBeVisible()
  await page.keyboard.press('p')
  const picture = page.getByRole('img', { name: 'Picture 1 of this step' })
  await expect(picture).toBeVisible()
  const before = await picture.getAttribute('src')
  await page.getByRole('button', { name: 'Cut or mark up picture 1' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('application').focus()
  await page.keyboard.press('Enter')
  await dialog.getByLabel('What it shows').fill('the lamp is out')
  await expectAccessible(page)
  await dialog.getByRole('button', { name: 'Keep in its place' }).click()
  await expect(dialog).toBeHidden()
  await expect(picture).not.toHaveAttribute('src', before!)
  await expect(page.getByLabel('Note')).toHaveValue('the lamp is out')

  // a word is kept while it is recorded, and the page may be looked away from
  await page.keyboard.press('v')
  await expect(page.getByLabel('Video of this case')).toBeVisible()
  await expectAccessible(page)
  await page.getByRole('button', { name: 'It is not so' }).click()
  await expect(page.getByText(/1 of 4/)).not.toContainText('keeping')
  await page.reload()
  await expect(page.getByLabel('Video of this case')).toBeVisible()
  // a key that comes before the scripts of the page is nobody's
  await expect(async () => {
    await page.keyboard.press('d')
    await page.waitForURL(/\/attempts\/.*draft=1/, { timeout: 3000 })
  }).toPass()
  await page.getByRole('dialog').getByRole('button', { name: 'Close' }).click()
  await page.getByRole('tab', { name: 'Video' }).click()
  const video = page.getByLabel('Video of the attempt')
  await expect.poll(() => video.evaluate((it: HTMLVideoElement) => Number.isFinite(it.duration))).toBe(true)
  expect(await video.evaluate((it: HTMLVideoElement) => it.duration)).toBeGreaterThan(0.2)
  await stop(page, run)
})
