import { expect, test } from '@playwright/test'
import { expectAccessible, signIn } from './helpers'

const failure = (name: string, message: string, detail: string) =>
  `<testcase classname="ferry.Services" name="${name}"><failure type="ferry.FareError" ` +
  `message="${message}">${detail}</failure></testcase>`
const SEASON = '\n\tat ferry.Fares.season(Fares.java:41)'
const NIGHT = `<testsuite name="services">
${failure('fare of a kayak', 'fare 41 has no season', `ferry.FareError: fare 41 has no season${SEASON}`)}
${failure('fare of a trailer', 'fare 52 has no season', `ferry.FareError: fare 52 has no season${SEASON}`)}
${failure('the quay is lit', 'lamp 3 answers nothing', 'Error: lamp 3 answers nothing\n    at lampAt (quay.js:7:3)')}
<testcase classname="ferry.Services" name="the tide table is read"/></testsuite>`

test('a result file: told apart while nobody looks, one cause decided, of another a defect is logged', async ({
  page,
}) => {
  await signIn(page, 'priya')
  await page.goto('/suites?show=files')
  const field = page.getByLabel('A result file (JUnit XML, TAP)')
  const file = (name: string, text: string) => ({
    name,
    mimeType: 'application/xml',
    buffer: Buffer.from(text),
  })
  await field.setInputFiles(file('cut-off.xml', NIGHT.slice(0, 400)))
  await expect(page.getByRole('dialog').getByRole('alert')).toContainText('Nothing was taken in')
  // a build of its own: decisions stand for a build
  await page.getByLabel('Build that the result file is of').fill(`2026.12.${Date.now()}`)
  await field.setInputFiles(file('night-services.xml', NIGHT))
  await page.waitForURL(/\/runs\/\d+/)
  await page.getByRole('tab', { name: 'Causes' }).click()
  await expect(page.getByText('3 failures, 2 causes by what they say.')).toBeVisible()

  await page.getByRole('link', { name: 'Triage', exact: true }).click()
  await page.waitForURL(/\/triage/) // the causes of the run have such a list, too
  const toDecide = page.getByRole('list', { name: 'To decide' })
  const lamp = toDecide.getByRole('button', { name: /lamp … answers nothing/ })
  await expect(lamp).toBeVisible()
  await lamp.click()
  await expect(lamp).toHaveAttribute('aria-current', 'true')
  await expect(page.getByText('taken in from a result file')).toBeVisible()
  await expect(page.getByText('at lampAt (quay.js:7:3)')).toBeVisible()
  await expectAccessible(page)
  await page.keyboard.press('4')
  await expect(page.getByRole('list', { name: 'Decided' })).toContainText('lamp … answers nothing')

  await toDecide.getByRole('button', { name: /fare … has no season/ }).click()
  await expect(page.getByText(/^Its failures.*: 2$/)).toBeVisible()
  await page.keyboard.press('1')
  await page
    .getByRole('list', { name: 'Decided' })
    .getByRole('button', { name: /fare … has no season/ })
    .click()
  await page.getByRole('link', { name: 'Draft the defect' }).click()
  const dialog = page.getByRole('dialog', { name: 'Log a defect' })
  await expect(dialog.getByLabel('Title')).toHaveValue('fare of a kayak: fare 41 has no season')
  await expect(dialog.getByLabel('Actual')).toHaveValue(/ferry\.Fares\.season/)
  await expectAccessible(page)
  await dialog.getByLabel('Title').fill('')
  await dialog.getByRole('button', { name: 'Save as a draft' }).click()
  await expect(dialog).toBeVisible() // a defect has a title
  await dialog.getByLabel('Title').fill('A fare without a season stops the booking')
  await dialog.getByRole('button', { name: 'Save as a draft' }).click()
  await page.waitForURL(/\/defects\?id=/)
  const defect = page.getByRole('article', { name: 'A fare without a season stops the booking' })
  await expect(defect).toContainText('Run the test “fare of a kayak” of ferry.Services')
  await defect.getByRole('link', { name: 'Read the result' }).click()
  await expect(page.getByRole('complementary', { name: 'Selected case run' })).toContainText(
    'fare 41 has no season',
  )
})
