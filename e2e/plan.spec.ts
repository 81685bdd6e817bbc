import { execFile } from 'node:child_process'
import { createHmac } from 'node:crypto'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, test, type Page } from '@playwright/test'
import { endOf, expectAccessible, PORT, signIn } from './helpers'

test.setTimeout(240_000)

/** A Thursday that lies ahead: the demo has two rotations then that want the same handsets at the same
 * time. */
function nextThursday(): string {
  const day = new Date()
  do day.setDate(day.getDate() + 1)
  while (day.getDay() !== 4)
  return day.toISOString().slice(0, 10)
}
const figure = (page: Page, name: 'p50' | 'p90') => page.locator(`[data-figure=${name}]`)
const ready = (page: Page) => expect(figure(page, 'p50')).toHaveText(/\d/)

test('a rotation from nothing: chosen, mistaken, mended, forecast, started, and held against what happened', async ({
  page,
}) => {
  await signIn(page)
  await page.goto('/rota')
  await page.getByRole('button', { name: 'New rotation' }).click()
  const dialog = page.getByRole('dialog', { name: 'New rotation' })
  await expect(dialog.getByRole('button', { name: 'Make it' })).toBeDisabled()
  await dialog.getByLabel('Title').fill('Evening Smoke')
  await dialog.getByLabel('It begins with').selectOption({ label: 'Hourly smoke' })
  await dialog.getByRole('button', { name: 'Make it' }).click()
  await page.waitForURL('/rotations/evening-smoke')
  await expect(page.getByText('version 1', { exact: true })).toBeVisible()
  await ready(page)

  // Where: the real ones go, two simulated ones come; the forecast follows.
  const environments = page.getByRole('group', { name: 'Environments' })
  const forecast = page.getByRole('region', { name: 'Forecast', exact: true })
  await expect(forecast).toContainText('12 case runs on 2 of 2 seats')
  for (const name of ['Chromium, Windows', 'Firefox, Windows']) await environments.getByLabel(name).check()
  for (const name of ['Chromium, Debian', 'Chromium, narrow']) await environments.getByLabel(name).uncheck()
  await expect(forecast).toContainText('12 case runs on 8 of 8 seats')
  const before = await figure(page, 'p50').textContent()
  await page.getByRole('button', { name: 'Add…' }).click()
  await page.getByPlaceholder('Find a suite').fill('fare')
  await page.getByRole('button', { name: /Fare desk/ }).click()
  await expect(forecast).not.toContainText('12 case runs on')
  await expect(figure(page, 'p50')).not.toHaveText(before!)
  await page.getByRole('button', { name: 'Take away Fare desk' }).click()
  await expect(forecast).toContainText('12 case runs on')

  // A pool that cannot: said in the margin, and again when it is to start.
  await page.getByLabel('Pool', { exact: true }).selectOption('This machine')
  await expect(page.getByRole('region', { name: 'Can not be placed' })).toContainText(
    /case runs on Chromium, Windows: no agent serves/,
  )
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('version 2', { exact: true })).toBeVisible()
  await page.getByRole('button', { name: 'Start now: Evening Smoke' }).click()
  const refusal = page.getByRole('dialog', { name: 'Some of it can be placed nowhere' })
  await expect(refusal).toContainText('can be placed nowhere')
  await refusal.getByRole('button', { name: 'Change it first' }).click()
  await page.getByLabel('Pool', { exact: true }).selectOption('')
  await expect(page.getByRole('region', { name: 'Can not be placed' })).toContainText('Nothing')

  // When: a zone that is none is a sentence that leads to its field.
  await page.getByText('weekly', { exact: true }).click()
  await expect(page.getByRole('group', { name: 'Days of the week' })).toBeVisible()
  await page.getByLabel('Time zone').fill('Europe/Skerrow')
  await page.keyboard.press('Enter')
  const problem = page.getByRole('button', { name: /there is no time zone “Europe\/Skerrow”/ })
  await expect(page.getByRole('button', { name: 'Save' })).toBeDisabled()
  await problem.click()
  await expect(page.getByLabel('Time zone')).toBeFocused()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(problem).toBeHidden()
  await page.getByLabel('Time zone').fill('Europe/Lisbon')
  await page.keyboard.press('Enter')
  await expect(page.getByText(/Next: /)).toBeVisible()
  await expectAccessible(page)

  await page.keyboard.press('Control+s')
  await expect(page.getByText('version 3', { exact: true })).toBeVisible()
  await page.getByRole('button', { name: 'Start now: Evening Smoke' }).click()
  await page.waitForURL(/\/runs\/\d+/)
  const id = Number(/\d+$/.exec(page.url())![0])
  await endOf(page, id)
  await expect(page.getByRole('status', { name: 'Forecast against actual' })).toContainText(
    /Forecast .* it took .*:/,
  )
  await page.getByRole('tab', { name: 'Lanes' }).click()
  await expect(page.getByRole('region', { name: 'Lanes' })).toContainText('skerrow-01')
  await page.getByRole('link', { name: 'Its rotation' }).click()
  await expect(page.getByRole('region', { name: 'How good these forecasts were' })).toContainText(
    'The last run ended',
  )
})

test('picked by what they are: rules, pairs, and a rule that leaves nothing', async ({ page }) => {
  await signIn(page)
  await page.goto('/rotations/night-full')
  await ready(page)
  const said = page.getByText(/pairs of browser, system, screen and locale are met in/)
  await expect(said).toContainText('27 of 27')
  const grid = page.getByRole('table', { name: 'Environments by browser and system' })
  await grid.getByRole('button', { name: /^Firefox on Windows 11/ }).click()
  await expect(
    grid.getByRole('button', { name: 'Firefox on Windows 11: 0 of 1 picked, never' }),
  ).toBeVisible()
  await expect(said).not.toContainText('27 of 27')
  await page.getByRole('button', { name: 'Never…' }).click()
  await page.getByRole('dialog', { name: 'Never these together' }).getByLabel('Locale').selectOption('en-GB')
  await page.getByRole('button', { name: 'Never these', exact: true }).click()
  await page.getByRole('button', { name: 'Never…' }).click()
  await page.getByRole('dialog', { name: 'Never these together' }).getByLabel('Locale').selectOption('de-DE')
  await page.getByRole('button', { name: 'Never these', exact: true }).click()
  await expect(page.getByRole('button', { name: 'These rules leave no environment.' })).toBeVisible()
  for (let i = 0; i < 3; i++) await page.getByRole('button', { name: 'Undo' }).click()
  await expect(said).toContainText('27 of 27')
  await expect(page.getByRole('button', { name: 'Save' })).toBeDisabled()
})

test('a clash is mended by dragging one start, brought back by undo, and mended by a click', async ({
  page,
}) => {
  await signIn(page)
  await page.goto(`/rota?view=day&day=${nextThursday()}`)
  const clashes = page.getByRole('region', { name: 'Clashes' })
  await expect(clashes).toContainText(/want 14 of the 7 seats of Handsets/)
  const block = page.locator('[data-start^="weekly-devices@"]').first()
  const box = (await block.boundingBox())!
  await page.mouse.move(box.x + 2, box.y + 8)
  await page.mouse.down()
  await page.mouse.move(box.x + 60, box.y + 8, { steps: 5 })
  await page.mouse.move(box.x + 92, box.y + 8, { steps: 5 })
  await page.mouse.up()
  const dialog = page.getByRole('dialog', { name: 'Move Weekly Devices' })
  await expect(dialog).toContainText('From')
  await dialog.getByRole('button', { name: 'This start only' }).click()
  await expect(clashes).toBeHidden()
  await expect(page.getByRole('region', { name: 'Start of Weekly Devices' })).toContainText('moved from')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(clashes).toContainText('want 14 of the 7 seats')
  await clashes
    .getByRole('button', { name: /^Start (Gate Handsets|Weekly Devices) at/ })
    .first()
    .click()
  await expect(clashes).toBeHidden()
  await page.getByRole('button', { name: 'Undo' }).last().click()
  await expect(clashes).toContainText('want 14 of the 7 seats')

  // For who does not drag: the chosen start says where to.
  await block.focus()
  await page.keyboard.press('Enter')
  const card = page.getByRole('region', { name: 'Start of Weekly Devices' })
  await card.getByLabel('Move it to').fill('2026-01-01T10:00')
  await card.getByRole('button', { name: 'Move' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'This start only' }).click()
  await expect(page.getByText('That moment has passed.').first()).toBeVisible()
  await expect(clashes).toContainText('want 14 of the 7 seats')
  await card.getByRole('button', { name: 'Pause' }).click()
  await expect(page.locator('[data-start^="weekly-devices@"]')).toHaveCount(0)
  await page.getByRole('tab', { name: 'List' }).click()
  await page.getByRole('button', { name: 'Resume Weekly Devices' }).click()
  await expect(page.getByRole('button', { name: 'Pause Weekly Devices' })).toBeVisible()
})

test('a build system starts a rotation by the snippet, and by a signed message once', async ({
  page,
  request,
}) => {
  await signIn(page)
  await page.goto('/settings?part=tokens')
  await page.getByLabel('What your build system is called').fill('harbour CI')
  await page.getByRole('button', { name: 'Make a CI token' }).click()
  const token = (await page
    .getByText(/oak_ci_/)
    .first()
    .textContent())!.match(/oak_ci_[\w-]+/)![0]

  await page.goto('/rotations/hourly-smoke')
  await ready(page)
  await page.getByText('Started by another program').click()
  await page.getByRole('tab', { name: 'YAML pipeline' }).click()
  const pipeline = (await page.getByLabel('YAML pipeline', { exact: true }).textContent())!
  expect(pipeline).toContain(`OAK_SERVER: http://127.0.0.1:${PORT}`)
  const folder = mkdtempSync(join(tmpdir(), 'oak-ci-'))
  writeFileSync(join(folder, 'pipeline.yaml'), pipeline.replaceAll('results.xml', `${folder}/results.xml`))
  const build = (secret: string) =>
    new Promise<{ code: number; out: string }>((resolve) =>
      execFile(
        'node',
        ['build/ci.mjs', join(folder, 'pipeline.yaml')],
        { env: { ...process.env, BUILD: '2026.11.3', OAK_TOKEN: secret } },
        (error, stdout) => resolve({ code: Number(error?.code ?? 0), out: stdout }),
      ),
    )
  expect(await build('oak_ci_wrong')).toEqual({
    code: 2,
    out: `regression: ended with 2; ${folder}/results.xml was not written\n`,
  })
  const { code, out } = await build(token)
  const run = Number(/runs\/(\d+)/.exec(out)![1])
  const xml = readFileSync(join(folder, 'results.xml'), 'utf8')
  const viewModel = await endOf(page, run)
  const bad = (viewModel.run.counts.failed ?? 0) + (viewModel.run.counts.errored ?? 0)
  expect(code).toBe(bad > 0 ? 1 : 0)
  expect(out).toContain(
    `regression: ${bad > 0 ? 'ended with 1' : 'went well'}; 12 tests, ${bad} did not pass`,
  )
  expect(xml.match(/<testcase/g)).toHaveLength(12)

  // The same from a build server: a message signed with a secret made here; sent twice it starts once.
  await page.getByRole('button', { name: 'Make its secret' }).click()
  const secret = (await page
    .getByText(/whsec_/)
    .first()
    .textContent())!.match(/whsec_[\w+/=]+/)![0]
  const send = (body: string, key = secret) => {
    const [id, timestamp] = ['build-77', String(Math.floor(Date.now() / 1000))]
    const signature = createHmac('sha256', Buffer.from(key.replace('whsec_', ''), 'base64'))
      .update(`${id}.${timestamp}.${body}`)
      .digest('base64')
    return request.post('/api/rotations/hourly-smoke/webhook', {
      data: body,
      headers: {
        'content-type': 'application/json',
        'webhook-id': id,
        'webhook-timestamp': timestamp,
        'webhook-signature': `v1,${signature}`,
      },
    })
  }
  expect((await send('{"build":"2026.11.3"}', 'whsec_AAAA')).status()).toBe(401)
  expect((await send('{"build":"2026.11.3"}')).status()).toBe(201)
  expect((await send('{"build":"2026.11.3"}')).status()).toBe(202)
})

test('the rota goes to other calendars by an address with a token', async ({ page, playwright }) => {
  await signIn(page)
  await page.goto('/rota')
  await page.getByRole('button', { name: 'iCalendar' }).click()
  await page.getByRole('button', { name: 'Make a subscription address' }).click()
  const address = (await page.getByText(/calendar\.ics\?token=/).textContent())!.trim()
  const stranger = await playwright.request.newContext()
  const answer = await stranger.get(address)
  expect(answer.headers()['content-type']).toContain('text/calendar')
  expect(await answer.text()).toMatch(/SUMMARY:Night Full\r\n/)
  expect((await stranger.get(address.replace(/.$/, '!'))).status()).toBe(401)
  expect((await stranger.get(`http://127.0.0.1:${PORT}/api/rota/calendar.ics`)).status()).toBe(401)
  await stranger.dispose()
})

test('times in which nothing starts: kept in the settings, named by a rotation, drawn on the rota', async ({
  page,
}) => {
  await signIn(page)
  await page.goto('/settings?part=calendars')
  await page.getByLabel('New calendar').fill('Spring tides')
  await page.getByRole('button', { name: 'Add', exact: true }).click()
  const drills = page.getByRole('region', { name: 'Spring tides' })
  const day = nextThursday()
  await drills.getByLabel('Spring tides: from').fill('16:00 on Thursday')
  await page.keyboard.press('Tab')
  await expect(drills.getByRole('alert')).toHaveText(/^Not a date and time: write it like /)
  await drills.getByLabel('Spring tides: from').fill(`${day} 16:00`)
  await expect(drills.getByRole('alert')).toHaveCount(0)
  await drills.getByLabel('Spring tides: until').fill(`${day}T14:00`)
  await drills.getByRole('button', { name: 'Add these times' }).click()
  await expect(page.getByText('Spring tides: it ends before it starts.')).toBeVisible()
  await drills.getByLabel('Spring tides: until').fill(`${day}T20:00`)
  await drills.getByRole('button', { name: 'Add these times' }).click()
  await expect(drills).toContainText(`${day} 16:00 to ${day} 20:00`)

  await page.goto('/rotations/hourly-smoke')
  await ready(page)
  await page.getByRole('button', { name: 'Spring tides' }).click()
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('version 2', { exact: true })).toBeVisible()
  await page.goto(`/rota?view=day&day=${day}`)
  await expect(page.getByText('Spring tides').first()).toBeVisible()
  const starts = page
    .getByRole('list', { name: 'Starts on Windows' })
    .getByRole('button', { name: /Hourly Smoke/ })
  await expect(starts.first()).toBeVisible()
  for (const start of await starts.all())
    expect(await start.getAttribute('aria-label')).not.toMatch(/, 1[678]:40/)
})

test('the fleet: an agent moves to another pool with a label; an environment goes by a second name', async ({
  page,
}) => {
  await signIn(page)
  await page.goto('/fleet')
  await page.getByRole('button', { name: 'quill-04', exact: true }).click()
  await page.getByLabel('Pool', { exact: true }).selectOption('another…')
  await page.getByLabel('New pool').fill('Shore')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('region', { name: 'Pool Shore' })).toContainText('quill-04')
  await page.getByLabel('Labels', { exact: true }).fill('spare, quay')
  await page.keyboard.press('Enter')
  await page.getByLabel('Only this label').selectOption('quay')
  await expect(page.locator('[data-agent]')).toHaveCount(1)
  await page.getByLabel('Only this label').selectOption('')
  await page.getByLabel('Pool', { exact: true }).selectOption('Handsets')
  await expect(page.getByRole('region', { name: 'Pool Shore' })).toBeHidden()

  await page.getByRole('button', { name: 'Environments' }).click()
  const dialog = page.getByRole('dialog', { name: 'Environments' })
  await dialog.getByLabel('aliases of iOS 26, handset').fill('android-handset')
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(dialog.getByRole('alert')).toContainText('Two environments go by the name “android-handset”')
  await dialog.getByLabel('aliases of iOS 26, handset').fill('small-screen')
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(dialog).toBeHidden()
})
