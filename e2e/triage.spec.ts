import { expect, test, type Page } from '@playwright/test'
import { expectAccessible, signIn } from './helpers'

const toDecide = (page: Page) => page.getByRole('list', { name: 'To decide' }).getByRole('listitem')
/** The demo's known one: it has a log, which those of result files that other journeys took in have not. */
const known = (page: Page) => page.getByRole('button', { name: /^it is covered: .*shore-notice/i })
const decided = (page: Page) => page.getByRole('list', { name: 'Decided' }).getByRole('listitem')

test('the failures of the last days are decided by keys alone, one key each; one is taken back', async ({
  page,
}) => {
  await signIn(page)
  const keys: string[] = []
  const press = async (key: string) => {
    keys.push(key)
    await page.keyboard.press(key)
  }
  await page.getByRole('link', { name: 'Triage', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'Triage', level: 1 })).toBeVisible()
  await expect(page.getByText(/\d+ causes? of \d+ failures?; \d+ to decide/)).toBeVisible()
  await expect(toDecide(page).first()).toBeVisible()
  await known(page).click()
  await expect(page.getByRole('img', { name: 'The screen at the failure' })).toBeVisible()
  await expectAccessible(page)

  // one failure of it is read, and back
  await press('o')
  await page.waitForURL(/\/attempts\//)
  await expect(page.getByRole('listbox', { name: 'Steps' })).toBeVisible()
  await page.goBack()
  await toDecide(page).first().click()

  // a figure that is typed into the word decides nothing
  const word = page.getByRole('textbox', { name: 'A word on it' })
  await word.fill('the footer of build 2026.11.3')
  await word.press('Tab')
  const already = await decided(page).count()
  // runs that end meanwhile may bring more
  while ((await toDecide(page).count()) > 0) {
    const before = await decided(page).count()
    await press('1')
    await expect.poll(() => decided(page).count()).toBeGreaterThan(before)
  }
  await expect(page.getByText(/all are decided/)).toBeVisible()
  const all = await decided(page).count()
  // one key each, and one to read a failure
  expect(keys).toHaveLength(all - already + 1)

  await page.reload()
  await expect(decided(page).nth(all - 1)).toBeVisible()
  // one that has a log: others were told by a result file
  await expect(async () => {
    await known(page).click() // the page takes it once it is ready
    await expect(known(page)).toHaveAttribute('aria-current', 'true', { timeout: 1000 })
  }).toPass()
  await expect(page.getByRole('complementary', { name: 'Decision' })).toContainText(
    'Stands for failures of build',
  )
  await expect(page.getByRole('region', { name: 'This run' })).toContainText('build')
  await press('z')
  await expect(toDecide(page).first()).toContainText(/case/)
})

test('several causes of a run are marked and decided at once; a viewer sees it and decides nothing', async ({
  page,
}) => {
  await signIn(page)
  await page.getByRole('link', { name: 'Gate Handsets 76' }).last().click()
  await page.getByRole('tab', { name: 'Causes' }).click()
  const items = page.locator('ol[aria-label="Causes to decide"] > li, ol[aria-label="Decided causes"] > li')
  await expect(items.first()).toBeVisible()
  const count = await items.count()
  expect(count).toBeGreaterThan(1)
  await page.keyboard.press('v')
  await page.keyboard.press('j')
  await page.keyboard.press('v')
  await expect(page.getByText('These 2 are')).toBeVisible()
  await expectAccessible(page)
  await page.keyboard.press('6')
  const lists = page.getByRole('list', { name: 'Decided causes' })
  await expect(lists.locator('b').filter({ hasText: 'an intended change' })).toHaveCount(2)

  await page.context().clearCookies()
  await signIn(page, 'edda')
  await page.goto('/triage')
  await expect(page.getByRole('heading', { name: 'Triage', level: 1 })).toBeVisible()
  await expect(decided(page).first()).toBeVisible()
  await page.keyboard.press('4')
  await expect(page.getByRole('button', { name: 'Take back' })).toBeHidden()
  await expect(page.getByRole('textbox', { name: 'A word on it' })).toBeHidden()
})

test('a cause is linked with the defect it is, by keys; the fix of that is confirmed', async ({ page }) => {
  test.setTimeout(240_000)
  await signIn(page)
  await page.goto('/triage')
  await known(page).click()
  await page.keyboard.press('d')
  await page.waitForURL(/draft=1/)
  const draft = page.getByRole('dialog')
  const title = await draft.getByLabel('Title').inputValue()
  await draft.getByRole('button', { name: 'Save as a draft' }).click()
  await page.waitForURL(/\/defects/)

  await page.goto('/triage')
  await known(page).click()
  await page.keyboard.press('2')
  const which = page.getByRole('region', { name: 'Which known defect' })
  await expect(which).toContainText(title)
  await expectAccessible(page)
  const first = which.getByRole('listitem').filter({ hasText: title }).first()
  await first.getByRole('button').click()
  await decided(page).filter({ hasText: 'a known defect' }).first().click()
  const column = page.getByRole('complementary', { name: 'Decision' })
  await column
    .getByRole('link', { name: new RegExp(title.slice(0, 20).replace(/[.*+?^${}()|[\]\\]/g, '.')) })
    .click()
  await page.waitForURL(/\/defects\?id=/)

  const mended = page.getByRole('region', { name: 'Is it mended?' })
  await mended.getByRole('button', { name: /Confirm a fix/ }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Times on each').fill('often') // a mistake first
  await expect(dialog.getByRole('button', { name: /^Start/ })).toBeDisabled()
  await dialog.getByLabel('Times on each').fill('1')
  await expectAccessible(page)
  await dialog.getByRole('button', { name: /^Start/ }).click()
  await expect(mended.getByRole('listitem')).toHaveCount(1)
  await expect(mended).toContainText(/Mended|Still there|Unclear/, { timeout: 120_000 })
  await page.goto('/triage/proposals')
  await expect(page.getByRole('region', { name: 'By cause' })).toContainText(/a defect of the product/i)
  await expectAccessible(page)
})

test('two causes are taken for one by key, and apart again', async ({ page }) => {
  await signIn(page)
  await page.goto('/triage')
  const all = toDecide(page).or(decided(page))
  await expect(all.first()).toBeVisible()
  // runs that go on bring others meanwhile: how many causes there are tells nothing
  const merged = async () => {
    const answer = await page.request.get('/api/triage', { headers: { 'sec-fetch-site': 'same-origin' } })
    const { groups } = (await answer.json()) as { groups: { merges: unknown[] }[] }
    return groups.flatMap(({ merges }) => merges).length
  }
  const before = await merged()
  await all.first().getByRole('button').click()
  await page.keyboard.press('s')
  const same = page.getByRole('region', { name: 'The same as' })
  await expect(same.getByRole('button', { name: 'Back' })).toBeVisible()
  await expectAccessible(page)
  await page.keyboard.press('Escape') // not this one
  await expect(same).toBeHidden()
  await page.keyboard.press('s')
  await page.keyboard.press('1')
  await expect(page.getByText('One cause from now on')).toBeVisible()
  await expect(page.getByRole('region', { name: 'Taken for this one' })).toBeVisible()
  expect(await merged()).toBe(before + 1)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect.poll(merged).toBe(before)
})

test('a part of a cause is set apart, and put back; another person is seen at the same cause', async ({
  page,
  browser,
}) => {
  await signIn(page)
  await page.goto('/triage')
  const all = toDecide(page).or(decided(page))
  await all.first().getByRole('button').click()
  await page.keyboard.press('a')
  const part = page.getByRole('region', { name: 'A part of it' })
  await part.getByLabel('Those that say').fill('no')
  await part.getByRole('button', { name: 'Set apart' }).click() // a mistake first
  await expect(part).toContainText('At least 3 characters')
  await part.getByLabel('Those that say').fill('words that no failure says')
  await expectAccessible(page)
  await part.getByRole('button', { name: 'Set apart' }).click()
  const rules = page.getByRole('region', { name: 'Set apart' })
  await expect(rules).toContainText('saying “words that no failure says”')
  await rules.getByRole('button', { name: 'put back' }).click()
  await expect(rules).toBeHidden()

  const other = await browser.newContext()
  const second = await other.newPage()
  await signIn(second, 'joss')
  await second.goto(page.url())
  await expect(page.getByText('Joss Okafor looks at it too.')).toBeVisible()
  await second
    .getByRole('navigation', { name: 'Views' })
    .getByRole('link', { name: 'Now', exact: true })
    .click()
  await expect(page.getByText('Joss Okafor looks at it too.')).toBeHidden()
  await other.close()
})
