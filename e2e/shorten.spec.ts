import { expect, test } from '@playwright/test'
import { expectAccessible, openKnownFailure, signIn } from './helpers'

test.setTimeout(600_000)

test('a defect is drafted, and its steps are shortened by trying: stopped once, tried again, taken', async ({
  page,
}) => {
  await signIn(page)
  await openKnownFailure(page)
  await page.keyboard.press('d')
  const dialog = page.getByRole('dialog')
  const steps = dialog.getByLabel('Steps to reproduce')
  await expect(steps).toHaveValue(/1\. /)
  const lines = (await steps.inputValue()).split('\n').length
  const fewer = dialog.getByRole('region', { name: 'Fewer steps' })
  await fewer.getByRole('button', { name: 'Shorten by trying' }).click()
  await expect(fewer.getByRole('status')).toContainText('of at most 40 tries')
  await fewer.getByRole('button', { name: 'Stop trying' }).click()
  await expect(fewer.getByRole('status')).toContainText('Stopped')
  await fewer.getByRole('button', { name: 'Try again' }).click()
  // what is typed meanwhile stays
  await dialog.getByLabel('Title').fill('Gate: it fails, and needs less for it')
  await expect(fewer.getByRole('status')).toContainText(/enough, and none of them can go/, {
    timeout: 500_000,
  })
  await expectAccessible(page)
  await fewer.getByRole('button', { name: 'Take these steps' }).click()
  await expect(dialog.getByLabel('Title')).toHaveValue('Gate: it fails, and needs less for it')
  expect((await steps.inputValue()).split('\n').length).toBeLessThan(lines)
  await dialog.getByRole('button', { name: 'Save as a draft' }).click()
  await page.waitForURL(/\/defects\?id=/)
  await expect(page.getByText('Gate: it fails, and needs less for it').first()).toBeVisible()
})
