import { expect, test, type Page } from '@playwright/test'
import { PORT, signIn } from './helpers'

const FERRY = `http://127.0.0.1:${PORT + 1}`
const settings = async (page: Page, part: string) => {
  await page.goto(`/settings?part=${part}`)
  await expect(page.getByRole('heading', { level: 2 })).toBeVisible()
}

test('an application that a case names is set up from the problem, tried, and found wrong before it is kept', async ({
  page,
}) => {
  await signIn(page)
  await page.goto('/suites?show=new&kind=case')
  const making = page.getByRole('dialog', { name: 'New' })
  await making.getByLabel('Title').fill('Look at the pier')
  await making.getByRole('button', { name: 'Make it' }).click()
  await page.waitForURL(/\/cases\/look-at-the-pier/)
  const file = page.getByRole('textbox', { name: /^File of/ })
  await file.click()
  await page.keyboard.press('Control+a')
  await page.keyboard.insertText(
    'case: look-at-the-pier\ntitle: Look at the pier\nsteps:\n  - open: pier:/\n',
  )
  await page.getByRole('tab', { name: /^Problems/ }).click()
  await expect(page.getByText('there is no application “pier”')).toBeVisible()
  await page.getByRole('button', { name: 'Save', exact: true }).first().click()
  await expect(page.getByText(/Saved as version/).first()).toBeVisible()
  await page.getByRole('link', { name: 'set it up' }).click()

  await page.waitForURL(/part=applications/)
  const form = page.getByRole('form', { name: 'Add an application' })
  await expect(form.getByLabel('Key')).toHaveValue('pier')
  await form.getByLabel('Title').fill('Pier')
  await form.getByLabel('Address', { exact: true }).fill('http://127.0.0.1:9')
  await form.getByRole('button', { name: 'Try and keep' }).click()
  await expect(form.getByRole('alert')).toContainText('no connection (ECONNREFUSED). Nothing was changed')
  await form.getByLabel('Address', { exact: true }).fill(`${FERRY}/b/{build}/gate`)
  await form.getByLabel('says').fill('no such words')
  await form.getByRole('button', { name: 'Try and keep' }).click()
  await expect(form.getByRole('alert')).toContainText('“no such words” is not in its answer')
  await form.getByLabel('says').fill('')
  await form.getByRole('button', { name: 'Add a stage' }).click()
  await form.getByLabel('Name of stage 1').fill('dry-dock')
  await form.getByLabel('Address of stage 1').fill(`${FERRY}/b/2026.11.1/gate`)
  await form.getByRole('button', { name: 'Try and keep' }).click()
  const row = page.getByRole('row', { name: /^pier/ })
  await expect(row).toContainText('dry-dock')
  await expect(row).toContainText('1 case or routine')
  await page.getByRole('button', { name: 'Try pier' }).click()
  await expect(page.getByText('pier answers at 2 addresses')).toBeVisible()

  await page.goto('/cases/look-at-the-pier')
  await page.getByRole('tab', { name: 'Problems' }).click()
  await expect(page.getByText('all it refers to is there')).toBeVisible()
  await page.goto('/')
  await page.getByRole('button', { name: 'Start a run' }).click()
  await expect(page.getByRole('dialog').getByLabel('Stage').getByRole('option')).toHaveText([
    'usual',
    'dry-dock',
  ])
  await page.keyboard.press('Escape')

  await settings(page, 'applications')
  await page.getByRole('button', { name: 'Remove pier' }).click()
  await expect(page.getByRole('dialog')).toContainText('1 case or routine goes to it')
  await page.getByRole('dialog').getByRole('button', { name: 'Remove', exact: true }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await expect(page.getByText('there is no application of that key')).toBeVisible()
  await page.request.delete('/api/definitions/case/look-at-the-pier?basedOn=2', {
    headers: { 'sec-fetch-site': 'same-origin' },
  })
})

test('builds are added by hand and by a build system, and removed', async ({ page }) => {
  await signIn(page)
  await settings(page, 'builds')
  const form = page.getByRole('form', { name: 'Add a build' })
  await form.getByLabel('Label').fill('the newest one')
  await form.getByRole('button', { name: 'Add' }).click()
  await expect(form.getByRole('alert')).toContainText('label')
  await form.getByLabel('Label').fill('2026.12.1')
  await form.getByRole('button', { name: 'Add' }).click()
  await expect(page.getByRole('row', { name: /^2026\.12\.1/ })).toContainText('none')
  await page.getByRole('button', { name: 'Remove 2026.12.1' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Remove', exact: true }).click()
  await expect(page.getByRole('row', { name: /^2026\.12\.1/ })).toHaveCount(0)
})

test('a tracker and a mail server are tried before they are kept', async ({ page }) => {
  await signIn(page, 'tomas')
  await settings(page, 'delivery')
  const tracker = page.getByRole('form', { name: 'Tracker', exact: true })
  await expect(tracker.getByLabel('Address')).toHaveValue(`http://127.0.0.1:${PORT + 2}`)
  await tracker.getByLabel('Address').fill('http://127.0.0.1:9')
  await tracker.getByRole('button', { name: 'Try and keep' }).click()
  await expect(tracker.getByRole('alert')).toContainText('ECONNREFUSED. Nothing was changed')
  const mail = page.getByRole('form', { name: 'Mail' })
  await mail.getByLabel('Server (SMTP)').fill('127.0.0.1')
  await mail.getByLabel('Port').fill('9')
  await mail.getByLabel('From', { exact: true }).fill('oak@fennel-sound.invalid')
  await mail.getByRole('button', { name: 'Try and keep' }).click()
  await expect(mail.getByRole('alert')).toContainText('Nothing was changed')
  expect(await (await page.request.get('/api/settings')).json()).toMatchObject({
    tracker: { url: `http://127.0.0.1:${PORT + 2}` },
    mail: { host: '127.0.0.1', port: PORT + 3 },
  })
})
