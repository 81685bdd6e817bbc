import { expect, test, type Page } from '@playwright/test'
import { endOf, expectAccessible, signIn } from './helpers'

const OWN = { 'sec-fetch-site': 'same-origin' }
const CASE = `case: more-than-it-takes
title: More than it takes
steps:
  - open: booking:/
  - type: { in: { label: Passengers }, value: '2' }
  - check: { of: { label: Passengers }, state: visible }
  - press: { key: Tab }
  - type: { in: { label: Passengers }, value: '3' }
  - check: { of: { label: Passengers }, value: { equals: many } }
`
test.setTimeout(600_000)

async function failed(page: Page): Promise<string> {
  const send = (method: string, path: string, data: object) =>
    page.request.fetch(path, { method, headers: OWN, data })
  await send('PUT', '/api/definitions/case/more-than-it-takes', { source: CASE, basedOn: 0 })
  const started = await send('POST', '/api/runs', {
    cases: ['more-than-it-takes'],
    environments: ['chromium-debian'],
    build: '2026.11.3',
    retries: 0,
    limitMs: 60_000,
  })
  expect(started.ok(), await started.text()).toBe(true)
  const { id } = (await started.json()) as { id: number }
  const { groups } = await endOf(page, id)
  return groups[0]!.rows[0]!.cells[0]!.attemptId
}

test('a defect is drafted, and its steps are shortened by trying: stopped once, tried again, taken', async ({
  page,
}) => {
  await signIn(page)
  await page.goto(`/attempts/${await failed(page)}`)
  await expect(page.getByRole('listbox', { name: 'Steps' })).toBeVisible()
  await page.keyboard.press('d')
  const dialog = page.getByRole('dialog')
  const steps = dialog.getByLabel('Steps to reproduce')
  await expect(steps).toHaveValue(/1\. Open booking/)
  expect((await steps.inputValue()).split('\n')).toHaveLength(5) // the check that passed is no step of it
  const fewer = dialog.getByRole('region', { name: 'Fewer steps' })
  await fewer.getByRole('button', { name: 'Shorten by trying' }).click()
  await expect(fewer.getByRole('status')).toContainText('of at most 40 tries')
  await fewer.getByRole('button', { name: 'Stop trying' }).click()
  await expect(fewer.getByRole('status')).toContainText('Stopped')
  await fewer.getByRole('button', { name: 'Try again' }).click()
  // what is typed meanwhile stays
  await dialog.getByLabel('Title').fill('Booking: it fails, and needs less for it')
  await expect(fewer.getByRole('status')).toContainText('2 of 6 steps are enough', { timeout: 400_000 })
  await expectAccessible(page)
  await fewer.getByRole('button', { name: 'Take these steps' }).click()
  await expect(dialog.getByLabel('Title')).toHaveValue('Booking: it fails, and needs less for it')
  expect((await steps.inputValue()).split('\n')).toHaveLength(2)
  await dialog.getByRole('button', { name: 'Save as a draft' }).click()
  await page.waitForURL(/\/defects\?id=/)
  await expect(page.getByText('Booking: it fails, and needs less for it').first()).toBeVisible()
})
