import { execFileSync, spawnSync } from 'node:child_process'
import { readFileSync, writeFileSync } from 'node:fs'
import { expect, test } from '@playwright/test'
import { expectAccessible, openKnownFailure, signIn } from './helpers'

test('an evidence document is taken along, and tells when it was changed', async ({ page }, info) => {
  await signIn(page)
  await openKnownFailure(page)
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Evidence document of this attempt' }).click(),
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
