import { expect, test } from '@playwright/test'
import { expectAccessible, openKnownFailure, signIn } from './helpers'

test('a failure is read beside another attempt: steps aligned, screens compared, the log searched', async ({
  page,
}) => {
  await signIn(page)
  await openKnownFailure(page)
  await page.keyboard.press('c')
  const beside = page.getByRole('region', { name: 'Beside' })
  await expect(beside).toContainText(/\d+ of \d+ differ|no step differs/)
  const choice = beside.getByRole('combobox')
  await choice.selectOption({ index: 1 })
  await expect(page).toHaveURL(/against=/)
  await expect(beside.getByRole('listbox').getByRole('option').first()).toBeVisible()
  await expectAccessible(page)
  await page.getByRole('tab', { name: 'What differs' }).click()
  const screen = page.getByRole('region', { name: 'Screen' })
  await expect(screen).toContainText(/Both screens are the same|of the screen|no screen to compare/)
  await page.keyboard.press('c')
  await expect(beside).toBeHidden()

  await page.keyboard.press('/')
  const field = page.getByRole('textbox', { name: 'Find in the log' })
  await expect(field).toBeFocused()
  await field.fill('nothing of this kind')
  await expect(page.getByRole('search')).toContainText('none')
  await field.fill('click')
  await expect(page.getByRole('search')).toContainText(/of \d+/)
  await field.press('Enter')
  const selected = page.locator('[role=option][aria-selected=true]')
  await expect(selected).toHaveAttribute('data-hit', 'true')
  await page.getByRole('combobox', { name: 'Only' }).selectOption('checks')
  const steps = page.getByRole('listbox', { name: 'Steps' }).getByRole('option')
  await expect(steps.first()).toContainText('check')
  for (const step of await steps.all()) await expect(step).toContainText('check')
})
