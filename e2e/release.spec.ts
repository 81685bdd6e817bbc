import { expect, test, type Page } from '@playwright/test'
import { expectAccessible, signIn } from './helpers'

const table = (page: Page) => page.getByRole('region', { name: 'Requirements' })
const file = (text: string) => ({ name: 'requirements.csv', mimeType: 'text/csv', buffer: Buffer.from(text) })

test('a list of requirements is brought, seen against a build, and its sheet is signed', async ({ page }) => {
  await signIn(page)
  await page.goto('/release')
  await page.getByRole('combobox', { name: /^Build/ }).selectOption('2026.11.3')
  await expect(page).toHaveURL(/build=2026.11.3/)
  const kept = await (await page.request.get('/api/requirements')).text()

  await page.getByRole('button', { name: 'Bring a list' }).click()
  const dialog = page.getByRole('dialog')
  const pick = dialog.locator('input[type=file]')
  await pick.setInputFiles(file('id;title\nFSF-R90;Tides'))
  await expect(dialog.getByRole('alert')).toContainText('there is no column “id”')
  await pick.setInputFiles(file(`${kept}FSF-R90,Tides are told,FSF-R9,must\n`))
  await expect(dialog.getByRole('alert')).toContainText('the parent of FSF-R90, “FSF-R9”, is not in the list')
  await pick.setInputFiles(file(`${kept}FSF-R90,Tides are told,,must\n`))
  await expect(dialog.getByText('1 new: FSF-R90')).toBeVisible()
  await expectAccessible(page)
  await dialog.getByRole('button', { name: 'Take the list' }).click()
  await expect(dialog).toBeHidden()

  const row = table(page).getByRole('row', { name: /FSF-R90/ })
  await expect(row).toContainText('no case')
  await row.getByRole('button').click()
  await expect(table(page).getByText('No case names it.')).toBeVisible()
  await table(page)
    .getByRole('button', { name: /FSF-R30 / })
    .click()
  await expect(table(page).getByRole('link', { name: 'Board with a reference' })).toBeVisible()

  const sheet = page.getByRole('region', { name: 'Sheet' })
  await expect(sheet.getByRole('link', { name: 'FSF-R90 Tides are told' })).toBeVisible()
  await expect(sheet.getByRole('button', { name: 'It goes out' })).toBeDisabled() // it does not say so itself
  await sheet.getByLabel('A word with it').fill('Tides are read on the pier until then')
  await expect(sheet.getByRole('button', { name: 'It goes out' })).toBeEnabled()
  await sheet.getByRole('button', { name: 'It stays' }).click()
  const signed = page.getByRole('region', { name: 'Signed' })
  await expect(signed).toContainText('It stays, Wren Adeyemi')
  await expectAccessible(page)

  const address = await signed.getByRole('link', { name: 'Document' }).getAttribute('href')
  const document = await (await page.request.get(address!)).text()
  expect(document).toContain('Tides are read on the pier until then')
  expect(document).toMatch(/<!-- sha256 [0-9a-f]{64} -->/)
})

test('who may not sign reads the sheet, and cannot bring a list', async ({ page }) => {
  await signIn(page, 'edda')
  await page.goto('/release')
  await expect(page.getByRole('region', { name: 'Requirements' })).toBeVisible()
  await expect(page.getByRole('button', { name: 'It stays' })).toBeHidden()
  const refused = await page.request.put('/api/requirements', {
    headers: { 'sec-fetch-site': 'same-origin' },
    data: { list: 'id,title\nA,B', look: true },
  })
  expect(refused.status()).toBe(403)
})
