/** What is around all views: keys, the finder, the margin. */
import { expect, test, type Page } from '@playwright/test'
import { openKnownFailure, signIn } from './helpers'

test('the reader is walked by keys, and its address shares the same view', async ({ page }) => {
  await signIn(page)
  await openKnownFailure(page)
  const first = page.url()
  await page.keyboard.press('f')
  await expect(page).toHaveURL(/fold=true/)
  const ways = page.getByRole('listbox', { name: 'Steps' }).getByRole('option')
  await expect(ways.first()).toBeVisible()
  for (const way of await ways.all())
    expect(['failed', 'errored']).toContain(await way.getAttribute('data-state'))
  await page.keyboard.press('f')
  await page.getByRole('listbox', { name: 'Steps' }).focus()
  await page.keyboard.press('ArrowUp')
  await expect(page).toHaveURL(/step=/)
  const shared = page.url()
  await page.keyboard.press('e')
  await expect(page.getByRole('dialog')).toBeVisible()
  await page.keyboard.press('Escape')
  const chosen = await page.locator('[role=option][aria-selected=true]').getAttribute('data-path')
  await page.goto(shared)
  await expect(page.locator('[role=option][aria-selected=true]')).toHaveAttribute('data-path', chosen!)
  await page.keyboard.press('.')
  await page.keyboard.press('.')
  await expect(page).not.toHaveURL(first)
})

test('the finder goes to a case and does things by name; ? lists the keys', async ({ page }) => {
  await signIn(page)
  await page.keyboard.press('Control+k')
  await page.getByPlaceholder('A case, run, defect, agent').fill('refund over')
  await page.getByRole('option', { name: /Refund over 400/ }).click()
  await page.waitForURL(/case=refund-over-400/)
  await expect(page.getByRole('article', { name: 'Refund over 400' })).toContainText('Ask for the refund')
  await page.getByRole('button', { name: 'YAML' }).click()
  await expect(page.getByText('case: refund-over-400')).toBeVisible()
  await page.keyboard.press('Control+k')
  await page.getByPlaceholder('A case, run, defect, agent').fill('bark')
  await page.keyboard.press('Enter')
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'bark')
  await page.reload()
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'bark')
  await page.keyboard.press('?')
  const keys = page.getByRole('dialog')
  await expect(keys).toContainText('start this suite')
  await expect(keys.getByRole('region', { name: 'Help' })).toContainText('What there is to run')
  await keys.getByRole('link', { name: 'All pages of help' }).click()
  await page.waitForURL(/\/help\?page=suites/)
  await page.keyboard.press('Control+k')
  await page.getByPlaceholder('A case, run, defect, agent').fill('step upload')
  await page.getByRole('option', { name: /Step: upload/ }).click()
  await expect(page.getByRole('article', { name: 'Step: upload' })).toContainText('Gives a file')
})

test('the margin closes, and stays closed for its view', async ({ page }) => {
  await signIn(page)
  await page.goto('/suites?case=refund-over-400')
  await expect(page.getByRole('article', { name: 'Refund over 400' })).toBeVisible()
  await page.getByRole('button', { name: 'Margin' }).click()
  await expect(page.getByRole('article', { name: 'Refund over 400' })).toBeHidden()
  await page.reload()
  await expect(page.getByRole('tree', { name: /Entries of/ })).toBeVisible()
  await expect(page.getByRole('article', { name: 'Refund over 400' })).toBeHidden()
  await page.getByRole('link', { name: 'Fleet' }).click()
  await expect(page.getByRole('complementary', { name: 'Cover' })).toBeVisible()
})

test('an agent is added by one command with a token that is shown once', async ({ page }) => {
  await signIn(page, 'tomas')
  await page.goto('/fleet')
  await page.getByRole('button', { name: 'Add an agent' }).click()
  await page.getByLabel('Name of the agent').fill('Tolva 9')
  await expect(page.getByRole('button', { name: 'Make its token' })).toBeDisabled()
  await page.getByLabel('Name of the agent').fill('tolva-09')
  await page.getByLabel('Pool it begins in').fill('Quay')
  await page.getByRole('button', { name: 'Make its token' }).click()
  const command = (await page.getByRole('dialog').locator('pre').textContent())!
  const token = /OAK_TOKEN=(\S+)/.exec(command)![1]
  const register = (bearer: string, environments = ['chromium-debian', 'chromium-narrow']) => {
    const of = {
      name: 'tolva-09',
      instance: 'i',
      pool: 'elsewhere',
      version: '1',
      protocol: 2,
      seats: 1,
      simulated: false,
    }
    return page.request.post('/api/agents/register', {
      headers: { authorization: `Bearer ${bearer}` },
      data: { ...of, environments },
    })
  }
  expect((await register(`${token}x`)).status()).toBe(401)
  // its token is for the real browsers of this machine
  expect((await register(token!, ['chromium-macos'])).status()).toBe(403)
  expect((await register(token!)).status()).toBe(200)
  await page.getByRole('button', { name: 'Done' }).click()
  await expect(page.locator('[data-agent=tolva-09]')).toBeVisible()
  await expect(page.getByRole('main')).toContainText('Quay')
  await expect(page.getByRole('main')).not.toContainText('elsewhere')
})

test('a view asks for no other view ahead; one that takes its time says so', async ({ page }) => {
  const ahead: string[] = []
  page.on('request', (request) => request.url().includes('_rsc=') && ahead.push(request.url()))
  await signIn(page)
  await expect(page.getByRole('link', { name: 'Gate Handsets 76' }).last()).toBeVisible()
  await page.waitForLoadState('networkidle')
  expect(ahead).toEqual([])

  const opening = page.getByRole('progressbar', { name: 'Opening' })
  const letFleet = await holdBack(page, /\/fleet\?_rsc=/)
  await page.getByRole('navigation', { name: 'Views' }).getByRole('link', { name: 'Fleet' }).click()
  await expect(opening).toBeVisible()
  letFleet()
  await expect(page.getByRole('complementary', { name: 'Cover' })).toBeVisible()
  await expect(opening).toHaveCount(0)

  // the same where no link is pressed
  const letCase = await holdBack(page, /\/suites\?.*_rsc=/)
  await page.keyboard.press('Control+k')
  await page.getByPlaceholder('A case, run, defect, agent').fill('refund over')
  await page.getByRole('option', { name: /Refund over 400/ }).click()
  await expect(opening).toBeVisible()
  letCase()
  await expect(page.getByRole('article', { name: 'Refund over 400' })).toBeVisible()
  await expect(opening).toHaveCount(0)
})

/** Requests are answered only once the returned function is called. */
async function holdBack(page: Page, url: RegExp): Promise<() => void> {
  let letGo = () => {}
  const held = new Promise<void>((resolve) => (letGo = resolve))
  await page.route(url, async (route) => {
    await held
    await route.continue()
  })
  return letGo
}
