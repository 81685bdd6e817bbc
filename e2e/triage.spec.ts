import { expect, test, type Page } from '@playwright/test'
import { expectAccessible, signIn } from './helpers'

const toDecide = (page: Page) => page.getByRole('list', { name: 'To decide' }).getByRole('listitem')
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
  await expect(page.getByRole('img', { name: 'The screen at the failure' })).toBeVisible()
  await expectAccessible(page)

  // one failure of it is read, and back
  await press('o')
  await page.waitForURL(/\/attempts\//)
  await expect(page.getByRole('listbox', { name: 'Steps' })).toBeVisible()
  await page.goBack()
  await expect(toDecide(page).first()).toBeVisible()

  // a figure that is typed into the word decides nothing
  const word = page.getByRole('textbox', { name: 'A word on it' })
  await word.fill('the footer of build 2026.11.3')
  await word.press('Tab')
  // runs that end meanwhile may bring more
  while ((await toDecide(page).count()) > 0) {
    const before = await decided(page).count()
    await press('1')
    await expect.poll(() => decided(page).count()).toBeGreaterThan(before)
  }
  await expect(page.getByText(/all are decided/)).toBeVisible()
  const all = await decided(page).count()
  // one key each, and one to read a failure
  expect(keys).toHaveLength(all + 1)

  await page.reload()
  await expect(decided(page).nth(all - 1)).toBeVisible()
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
