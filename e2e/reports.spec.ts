import { execFileSync, spawnSync } from 'node:child_process'
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { expect, test } from '@playwright/test'
import { unzipSync } from 'fflate'
import { expectAccessible, openKnownFailure, signIn, TRACKER } from './helpers'

test('an evidence document is taken along, and tells when it was changed', async ({ page }, info) => {
  await signIn(page)
  await openKnownFailure(page)
  await page.keyboard.press('x')
  const dialog = page.getByRole('dialog', { name: 'Take along' })
  await expectAccessible(page)
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    dialog.getByRole('link', { name: 'Evidence' }).click(),
  ])
  const file = info.outputPath('evidence.html')
  await download.saveAs(file)
  expect(String(execFileSync(process.execPath, ['oak', 'verify', file]))).toContain('is as it was made')

  const opened = await page.context().newPage()
  await opened.goto(`file://${file}`)
  await expect(opened.getByRole('heading', { name: 'Steps' })).toBeVisible()
  await expect(opened.getByRole('img').first()).toBeVisible()

  writeFileSync(file, readFileSync(file, 'utf8').replace('<h2>Steps</h2>', '<h2>Steps, mended</h2>'))
  const { status, stderr } = spawnSync(process.execPath, ['oak', 'verify', file])
  expect(status).toBe(1)
  expect(String(stderr)).toContain('it was changed')
})

test('a case run is taken along as a zip, which works from disk', async ({ page }, info) => {
  await signIn(page)
  await openKnownFailure(page)
  await page.keyboard.press('x')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('dialog').getByRole('link', { name: 'Zip' }).click(),
  ])
  const folder = info.outputPath('case-run')
  for (const [name, bytes] of Object.entries(unzipSync(readFileSync(await download.path())))) {
    mkdirSync(dirname(join(folder, name)), { recursive: true })
    writeFileSync(join(folder, name), bytes)
  }
  const opened = await page.context().newPage()
  await opened.goto(`file://${folder}/index.html`)
  await opened.getByRole('link', { name: /^No\. 1/ }).click()
  await expect(opened.getByRole('heading', { name: 'Steps' })).toBeVisible()
  const picture = opened.getByRole('img').first()
  await expect(picture).toBeVisible()
  expect(await picture.evaluate((image: HTMLImageElement) => image.naturalWidth)).toBeGreaterThan(100)
})

test('a screen is marked up by keys, stands beside the original, and goes with a defect', async ({
  page,
}) => {
  await signIn(page)
  await openKnownFailure(page)
  await page.keyboard.press('m')
  const dialog = page.getByRole('dialog', { name: 'Mark up the screen' })
  const picture = dialog.getByRole('application')
  await picture.focus()
  await page.keyboard.press('Enter')
  await page.keyboard.press('Shift+ArrowDown')
  await dialog.getByRole('radio', { name: 'Pin' }).click()
  await picture.focus()
  await page.keyboard.press('Enter')
  await dialog.getByLabel('What this pin says').fill('here')
  await expect(dialog.getByRole('listitem')).toHaveCount(2)
  await expectAccessible(page)
  await dialog.getByRole('button', { name: 'Undo' }).click()
  await dialog.getByLabel('What it shows').fill('The party is missing')
  await dialog.getByRole('button', { name: 'Keep as new evidence' }).click()
  await expect(dialog).toBeHidden()
  const marked = page.getByRole('region', { name: 'Marked screens' })
  await expect(marked).toContainText('The party is missing')
  await page.keyboard.press('d')
  await expect(page.getByRole('dialog').getByLabel('Marked screen: The party is missing')).toBeVisible()
  await page.keyboard.press('Escape')

  await marked.getByRole('button', { name: /Marked screen, large/ }).click()
  await page.getByRole('button', { name: 'Delete this marked screen' }).click()
  await page.getByRole('dialog').last().getByRole('button', { name: 'Delete', exact: true }).click()
  await expect(marked).toBeHidden()
})

test('the line of time is moved by keys: the log goes along; and it is read by page', async ({ page }) => {
  await signIn(page)
  await openKnownFailure(page)
  const selected = page.getByRole('listbox', { name: 'Steps' }).locator('[aria-selected=true]')
  const failing = await selected.getAttribute('data-path')
  const time = page.getByRole('slider', { name: 'Time in the attempt' })
  await time.focus()
  await page.keyboard.press('Home')
  await expect(selected).not.toHaveAttribute('data-path', failing!)
  await page.keyboard.press('End')
  await expect(time).not.toHaveAttribute('aria-valuenow', '0')
  await page.getByRole('button', { name: 'By page' }).click()
  await expect(page).toHaveURL(/byPage=true/)
  await expect(page.getByRole('listbox', { name: 'Steps' }).getByRole('option').first()).toBeVisible()
  await expectAccessible(page)
})

test('a report goes out by mail, again and again; a wrong address is told', async ({ page }) => {
  await signIn(page)
  await page.goto('/rotations/gate-handsets?side=reports')
  await page.getByRole('button', { name: 'Send reports to somebody' }).click()
  const form = page.getByRole('form', { name: 'Send reports' })
  await form.getByLabel('To').fill('maren@fennel-sound.invalid, nobody')
  await form.getByLabel(/^As/).selectOption('html')
  await form.getByLabel('When').selectOption('day')
  await form.getByRole('button', { name: 'Keep' }).click()
  await expect(form.getByRole('alert')).toContainText('“nobody” is no mail address')
  await form.getByLabel('To').fill('maren@fennel-sound.invalid')
  await form.getByRole('button', { name: 'Keep' }).click()
  const mails = page.getByRole('region', { name: 'Reports by mail' })
  await expect(mails.getByRole('listitem')).toContainText('HTML of the last run, each day at 07:00')
  await mails.getByRole('button', { name: 'Send now' }).click()
  await expect(page.getByText('The mail server took it')).toBeVisible()
  await expectAccessible(page)

  const inbox = await page.context().newPage()
  await inbox.goto(`${TRACKER}/mails`)
  await inbox
    .getByRole('link', { name: /^Gate Handsets .*failed/ })
    .first()
    .click()
  await expect(inbox.getByRole('link', { name: /^run-\d+\.html/ })).toBeVisible()
  await expect(inbox.locator('pre')).toContainText('What failed')

  await mails.getByRole('button', { name: /^Stop sending to maren/ }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Stop', exact: true }).click()
  await expect(mails).toContainText('Nobody is sent a report yet')
})

test('a run is shared with somebody who is not signed in, and taken back', async ({ page, browser }) => {
  await signIn(page)
  await page.getByRole('link', { name: 'Gate Handsets 76' }).last().click()
  await page.waitForURL(/\/runs\//)
  await page.getByRole('button', { name: /^Report/ }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('How long').selectOption('1')
  await dialog.getByRole('button', { name: 'Make an address' }).click()
  const address = await dialog.getByLabel('The address').inputValue()
  await expectAccessible(page)

  const elsewhere = await (await browser.newContext()).newPage()
  await elsewhere.goto(address)
  await expect(elsewhere.getByRole('heading', { name: 'Gate Handsets 76' })).toBeVisible()
  await expect(elsewhere.getByRole('link')).toHaveCount(0)
  // its own look came through
  await expect(elsewhere.locator('table').first()).toHaveCSS('border-collapse', 'collapse')
  expect((await elsewhere.request.get(new URL('/api/now', address).href)).status()).toBe(401)

  const revoke = dialog.getByRole('button', { name: 'Revoke' })
  const open = await revoke.count()
  await revoke.first().click()
  await expect(revoke).toHaveCount(open - 1)
  expect((await elsewhere.reload())!.status()).toBe(404)
  await expect(elsewhere.locator('body')).toContainText('There is nothing at this address')
  await elsewhere.context().close()
})
