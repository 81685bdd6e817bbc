import { expect, test, type Page } from '@playwright/test'
import { endOf, expectAccessible, signIn } from './helpers'

const OWN = { 'sec-fetch-site': 'same-origin' }

/** The heading of the desk is another one than these two expect. */
async function failedRun(page: Page): Promise<void> {
  for (const [key, title] of [
    ['heading-port', 'The heading to port'],
    ['heading-bow', 'The heading at the bow'],
  ]) {
    const source = `case: ${key}
title: ${title}
entry: booking-open
steps:
  - check: { of: { role: heading, number: 1 }, text: { equals: "Find a sailing boat" } }
`
    const kept = await page.request.put(`/api/definitions/case/${key}`, {
      headers: OWN,
      data: { source, basedOn: 0 },
    })
    expect(kept.ok(), await kept.text()).toBe(true)
  }
  const started = await page.request.post('/api/runs', {
    headers: OWN,
    data: {
      cases: ['heading-port', 'heading-bow'],
      environments: ['chromium-debian'],
      build: '2026.11.3',
      retries: 0,
      limitMs: 60_000,
    },
  })
  expect(started.ok(), await started.text()).toBe(true)
  const { id } = (await started.json()) as { id: number }
  await endOf(page, id)
}

const causes = (page: Page) => page.getByRole('navigation', { name: 'Causes' })
const column = (page: Page) => page.getByRole('complementary', { name: 'Decision' })

test('it is run again to find out, given to somebody, and what was found is adopted in all of the cause', async ({
  page,
}) => {
  test.setTimeout(240_000)
  await signIn(page)
  await failedRun(page)
  await page.goto('/triage')
  const own = causes(page).getByRole('button', { name: /sailing boat/i })
  await own.click()
  await expect(page.getByText(/^Its failures.*: 2$/)).toBeVisible()

  await expect(page.getByRole('button', { name: /Which runs would tell/ })).toBeVisible()
  await page.keyboard.press('r')
  const dialog = page.getByRole('dialog')
  const again = dialog.getByLabel('Times: The same again')
  await again.fill('many') // a mistake first
  await expect(dialog.getByRole('button', { name: /^Start/ })).toBeDisabled()
  await again.fill('2')
  await expectAccessible(page)
  await dialog.getByRole('button', { name: 'Start 2 case runs' }).click()
  const out = page.getByRole('region', { name: 'Run again to find out' })
  await expect(out).toContainText('the same again')
  await expect(out).toContainText(/2 of 2 failed/, { timeout: 120_000 })
  await expect(out).toContainText(/% before, \d+ % now/)
  await expect(column(page)).toContainText('2 runs to find out say so')

  await page.keyboard.press('g')
  const who = page.getByRole('region', { name: 'Who decides it' })
  await who.getByLabel('Who decides it').selectOption('Wren Adeyemi')
  await who.getByLabel('A word for them').fill('was it meant?')
  await who.getByRole('button', { name: 'Give it' }).click()
  await expect(who).toContainText('was it meant?')
  await page.getByRole('button', { name: 'Mine: 1' }).click()
  await expect(causes(page).getByRole('listitem')).toHaveCount(1)
  await expectAccessible(page)

  await page.keyboard.press('6')
  await expect(column(page)).toContainText('Stands for failures of build')
  await column(page).getByRole('button', { name: 'Adopt what was found…' }).click()
  await expect(dialog.getByRole('radio', { name: 'All of its cause in the run' })).toBeChecked()
  await dialog.getByRole('button', { name: 'Save 2 files' }).click()
  await expect(dialog).toBeHidden()
  for (const key of ['heading-port', 'heading-bow']) {
    await page.goto(`/cases/${key}?step=main.0`)
    await expect(page.getByRole('tree').first()).not.toContainText('sailing boat')
  }
})
