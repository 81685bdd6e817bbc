import { createHmac } from 'node:crypto'
import { readFileSync, writeFileSync } from 'node:fs'
import { expect, test, type Locator, type Page } from '@playwright/test'
import { strToU8, zipSync } from 'fflate'
import { git, HOME, signIn } from './helpers'
import { xlsx } from './xlsx'

const openBench = async (page: Page, path: string) => {
  await page.goto(path)
  await expect(page.getByRole('textbox', { name: /^File of/ })).toBeVisible()
}
const save = async (page: Page) => {
  await page.getByRole('button', { name: 'Save', exact: true }).first().click()
  await expect(page.getByText(/Saved as version/).first()).toBeVisible()
}
const settings = async (page: Page, part: string) => {
  await page.goto(`/settings?part=${part}`)
  await expect(page.getByRole('heading', { level: 2 })).toBeVisible()
}
/** By the grip of one line onto another: above its middle, or below. */
async function drag(page: Page, line: Locator, onto: Locator, share: number): Promise<void> {
  await line.hover()
  const [grip, from, to] = [
    await line.locator('span').first().boundingBox(),
    await line.boundingBox(),
    await onto.boundingBox(),
  ]
  const [x, y] = [grip!.x + grip!.width / 2, grip!.y + grip!.height / 2]
  await page.mouse.move(x, y)
  await page.mouse.down()
  const by = to!.y + to!.height * share - (from!.y + from!.height / 2)
  for (let i = 1; i <= 10; i++) await page.mouse.move(x, y + (by * i) / 10)
  await page.mouse.up()
}

test('a secret goes in and is never shown; a token is shown once, used, and revoked', async ({ page }) => {
  await signIn(page)
  await settings(page, 'secrets')
  await expect(page.getByRole('row', { name: /DESK_PASSWORD/ })).toContainText('1 case or routine')
  const form = page.getByRole('form', { name: 'Set a secret' })
  await form.getByLabel('Name').fill('2 words')
  await form.getByLabel('Value').fill('harbour-lights')
  await form.getByRole('button', { name: 'Set' }).click()
  await expect(form.getByRole('alert')).toContainText('beginning with a letter')
  await form.getByLabel('Name').fill('GATE_PIN')
  await form.getByRole('button', { name: 'Set' }).click()
  await expect(page.getByRole('row', { name: /GATE_PIN/ })).toContainText('nothing')
  expect(await (await page.request.get('/api/settings')).text()).not.toContain('harbour-lights')
  await page.getByRole('button', { name: 'Remove GATE_PIN' }).click()
  await expect(page.getByRole('dialog')).toContainText('Nothing names it')
  await page.getByRole('dialog').getByRole('button', { name: 'Remove', exact: true }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await expect(page.getByRole('row', { name: /GATE_PIN/ })).toHaveCount(0)

  await page.getByRole('button', { name: /^Tokens/ }).click()
  await page.getByLabel('What your build system is called').fill('night build')
  await page.getByRole('button', { name: 'Make a CI token' }).click()
  const token = (await page.getByRole('status').locator('code').last().textContent())!
  const send = () =>
    page.request.post('/api/results?name=night.tap', {
      headers: { authorization: `Bearer ${token}` },
      data: '1..1\nok 1 - lights\n',
    })
  expect((await send()).status()).toBe(201)
  await page.getByRole('button', { name: 'Revoke night build' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Revoke', exact: true }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await expect(page.getByRole('row', { name: /night build/ })).toHaveCount(0)
  expect((await send()).status()).toBe(401)
})

test('a database is tried before it is kept', async ({ page }) => {
  await signIn(page, 'tomas')
  await settings(page, 'databases')
  await expect(page.getByRole('row', { name: /^ferry/ })).toContainText('ferry_reader')
  await page.getByLabel('Name', { exact: true }).fill('elsewhere')
  await page.getByLabel('Address of a PostgreSQL database').fill('postgres://nobody:at@127.0.0.1:9/all')
  await page.getByRole('button', { name: 'Try and keep' }).click()
  await expect(page.getByRole('region', { name: 'Databases' }).getByRole('alert')).toContainText(
    'does not answer',
  )
  await expect(page.getByRole('row', { name: /^elsewhere/ })).toHaveCount(0)
})

test('a suite by a rule: a rule that cannot be read is told at its place, and a run can be started by one', async ({
  page,
}) => {
  await signIn(page)
  await page.goto('/suites?suite=booking')
  await page.getByRole('button', { name: 'New suite, case, routine or table' }).click()
  const dialog = page.getByRole('dialog', { name: 'New' })
  await dialog.getByText('Suite by a rule').click()
  await dialog.getByLabel('Title').fill('Quick looks')
  await dialog.getByRole('textbox', { name: 'Rule' }).fill('smoke and (')
  await expect(dialog.getByRole('alert')).toContainText('At character')
  await dialog.getByRole('textbox', { name: 'Rule' }).fill('smoke and not desk')
  await expect(dialog.getByRole('list', { name: 'Chosen by the rule' })).toContainText(
    'Board with a reference',
  )
  await dialog.getByRole('button', { name: 'Make it' }).click()
  await page.waitForURL(/suite=quick-looks/)
  await page.getByRole('tab', { name: 'What will run' }).click()
  await expect(page.getByRole('list', { name: 'What will run, in order' })).toContainText(
    'Foot passenger, single',
  )

  await page.goto('/')
  await page.getByRole('button', { name: 'Start a run' }).click()
  const start = page.getByRole('dialog', { name: 'Start a run' })
  await start.getByLabel('Suite').selectOption({ label: 'Cases by a rule' })
  await start.getByRole('textbox', { name: 'Rule' }).fill('validation and nobody')
  await expect(start.getByText(/^0 cases of/)).toBeVisible()
  await expect(start.getByRole('button', { name: 'Start', exact: true })).toBeDisabled()
  await start.getByRole('textbox', { name: 'Rule' }).fill('manifest and validation')
  await expect(start.getByText(/^1 case of/)).toBeVisible()
  await start.getByLabel('Build under test').fill('2026.11.3')
  await start.getByRole('button', { name: 'Start', exact: true }).click()
  await page.waitForURL(/\/runs\/\d+/)
  await expect(page.getByRole('heading', { level: 1 })).toContainText('manifest and validation')
})

test('rows are pasted from a spreadsheet and taken from files; a column that the steps need is missed aloud', async ({
  page,
  context,
}) => {
  await signIn(page)
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await openBench(page, '/cases/foot-passenger-single')
  const rows = page.getByRole('region', { name: 'Rows of single-fares.csv' })
  await expect(rows.getByLabel('passengers, row 1')).toBeVisible()
  const before = await rows.getByLabel(/^passengers, row/).count()
  await page.evaluate(() => navigator.clipboard.writeText('1\t11.00\n2\t22.00\n3\t33.00\n4\t44.00\n'))
  await rows.getByLabel('passengers, row 1').click()
  await page.keyboard.press('Control+v')
  await expect(page.getByText(/4 rows pasted/)).toBeVisible()
  await expect(rows.getByLabel(/^passengers, row/)).toHaveCount(Math.max(before, 4))
  await expect(rows.getByLabel('passengers, row 4')).toHaveValue('4')

  await rows.getByLabel('CSV or XLSX file').setInputFiles({
    name: 'fares.xlsx',
    mimeType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    buffer: xlsx([
      ['passengers', 'price'],
      ['2', '24.00'],
    ]),
  })
  await expect(page.getByText(/1 row from fares.xlsx; without the columns fare/)).toBeVisible()
  await expect(rows.getByRole('alert')).toContainText('The steps use row.fare')
  await rows
    .getByLabel('CSV or XLSX file')
    .setInputFiles({ name: 'cut.csv', mimeType: 'text/csv', buffer: Buffer.from('passengers,fare\n1\n') })
  await expect(page.getByText(/cut.csv: line 2/)).toBeVisible()
  await rows.getByLabel('CSV or XLSX file').setInputFiles({
    name: 'fares.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('passengers,fare\n1,12.00\n9,108.00\n'),
  })
  await expect(rows.getByRole('alert')).toHaveCount(0)
  await expect(rows.getByLabel('fare, row 2')).toHaveValue('108.00')
  await page.getByRole('button', { name: 'Discard' }).click()
  await expect(rows.getByLabel(/^passengers, row/)).toHaveCount(before)
})

test('steps are dragged and become a routine, which knows where it is used', async ({ page }) => {
  await signIn(page)
  await openBench(page, '/cases/reference-not-booked')
  const steps = page.getByRole('tree', { name: 'Steps', exact: true }).getByRole('treeitem')
  const second = (await steps.nth(1).textContent())!
  await drag(page, steps.nth(1), steps.nth(0), 0.2)
  await expect(steps.nth(0)).toContainText(second.replace(/^\d+/, ''))
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await steps.nth(0).click()
  await steps.nth(1).click({ modifiers: ['Shift'] })
  await page.keyboard.press('k')
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('What it does').fill('Look up a reference')
  await dialog.getByRole('button', { name: 'Make it' }).click()
  await expect(steps).toHaveCount(2)
  await expect(steps.nth(0)).toContainText('look up a reference')
  await save(page)

  await openBench(page, '/routines/look-up-a-reference?side=file')
  await page.getByLabel('Parameters: new name').fill('reference')
  await page.keyboard.press('Enter')
  await save(page)
  await page.getByRole('tab', { name: /^Used in/ }).click()
  await expect(page.getByRole('list', { name: 'Used in' })).toContainText('A reference nobody booked')
})

test('a text that changed here and in the repository is told, and both are kept until somebody decides', async ({
  page,
}) => {
  await signIn(page, 'tomas')
  await openBench(page, '/cases/name-is-needed')
  await page.getByLabel('Tags', { exact: true }).fill('booking, here')
  await page.keyboard.press('Enter')
  await save(page)
  const file = `${HOME}/demo/harbour-cases/booking/name-is-needed.case.yaml`
  writeFileSync(file, readFileSync(file, 'utf8').replace(/^tags: .*$/m, 'tags: [booking, there]'))
  git('commit', '-am', 'Another tag')
  await settings(page, 'repositories')
  await page.getByRole('button', { name: 'Read again harbour-cases' }).click()
  await expect(page.getByText(/1 in conflict/).first()).toBeVisible()
  await page.goto('/cases/name-is-needed')
  const band = page.getByRole('alert').filter({ hasText: 'edited here and in the repository' })
  await band.getByText('What differs').click()
  await expect(band).toContainText('there')
  await band.getByRole('button', { name: 'Take the repository’s' }).click()
  await expect(band).toHaveCount(0)
  await expect(page.getByLabel('Tags', { exact: true })).toHaveValue('booking, there')
  await page.getByRole('tab', { name: 'Versions' }).click()
  await expect(page.getByRole('list', { name: 'Versions' })).toContainText('here')
})

test('what is pushed is read because the git server says so, and not because anybody else does', async ({
  page,
}) => {
  await signIn(page, 'tomas')
  await settings(page, 'repositories')
  await page.getByText('When something is pushed').click()
  const secret = (await page.getByText(/^whsec_/).textContent())!
  const file = `${HOME}/demo/harbour-cases/gate/refuse-a-passenger.case.yaml`
  writeFileSync(
    file,
    readFileSync(file, 'utf8').replace('title: Refuse a passenger', 'title: Refuse a passenger at the gate'),
  )
  git('commit', '-am', 'A longer title')
  const push = (key: string) => {
    const [id, timestamp, body] = ['msg_1', String(Math.floor(Date.now() / 1000)), '{}']
    const signature = createHmac('sha256', Buffer.from(key.replace('whsec_', ''), 'base64'))
      .update(`${id}.${timestamp}.${body}`)
      .digest('base64')
    return page.request.post('/api/repositories/1/webhook', {
      headers: {
        'webhook-id': id!,
        'webhook-timestamp': timestamp!,
        'webhook-signature': `v1,${signature}`,
        'content-type': 'application/json',
      },
      data: body!,
    })
  }
  expect((await push('whsec_bm90aGluZw==')).status()).toBe(401)
  expect((await push(secret)).status()).toBe(202)
  await page.goto('/cases/refuse-a-passenger')
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Refuse a passenger at the gate')
})

test('a case is copied, given to a repository and committed; another is removed and brought back', async ({
  page,
}) => {
  await signIn(page, 'tomas')
  await openBench(page, '/cases/unknown-sailing')
  const more = page.getByRole('button', { name: 'More to do with it' })
  await more.click()
  await page.getByRole('menuitem', { name: 'Copy under another name' }).click()
  await page.getByLabel('Title of the copy').fill('No sailing at all')
  await page.getByRole('button', { name: 'Copy', exact: true }).click()
  await page.waitForURL(/cases\/no-sailing-at-all/)
  await expect(page.getByText('kept in this workspace')).toBeVisible()
  await more.click()
  await page.getByRole('menuitem', { name: 'Move to a repository' }).click()
  await page.getByLabel('Folder in it').fill('../out')
  await page.getByRole('button', { name: 'Move', exact: true }).click()
  await expect(page.getByRole('dialog').getByRole('alert')).toBeVisible()
  await page.getByLabel('Folder in it').fill('manifest')
  await page.getByRole('button', { name: 'Move', exact: true }).click()
  await expect(page.getByText('It waits to be committed to harbour-cases')).toBeVisible()
  await settings(page, 'repositories')
  const form = page.getByRole('form', { name: 'Commit to harbour-cases' })
  await expect(form).toContainText('manifest/no-sailing-at-all.case.yaml, new there')
  await form.getByLabel('Branch').fill('from-the-bench')
  await form.getByLabel('Message').fill('A case made here')
  await form.getByRole('button', { name: 'Commit' }).click()
  await expect(page.getByText(/committed to from-the-bench/)).toBeVisible()
  expect(git('show', 'from-the-bench:manifest/no-sailing-at-all.case.yaml')).toContain(
    'case: no-sailing-at-all',
  )

  await page.goto('/suites?suite=booking')
  await page.getByRole('button', { name: 'New suite, case, routine or table' }).click()
  await page.getByRole('dialog').getByText('Case', { exact: true }).click()
  await page.getByRole('dialog').getByLabel('Title').fill('A short thought')
  await page.getByRole('button', { name: 'Make it' }).click()
  await page.waitForURL(/cases\/a-short-thought/)
  await more.click()
  await page.getByRole('menuitem', { name: 'Remove' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Remove', exact: true }).click()
  await page.waitForURL(/\/suites/)
  await page.getByRole('button', { name: 'Bring it back' }).click()
  await page.waitForURL(/cases\/a-short-thought/)
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('A short thought')
})

test('a workspace comes in as a zip: what would change is shown first, and a broken file is named', async ({
  page,
}) => {
  await signIn(page)
  await page.goto('/suites?show=files')
  const zip = zipSync({
    'lights/harbour-lights.case.yaml': strToU8(
      'case: harbour-lights\ntitle: The harbour lights are on\nsteps:\n  - open: booking:/\n',
    ),
    'lights/broken.case.yaml': strToU8(
      'case: broken\ntitle: Broken\nsteps:\n  - clack: { on: { text: Go } }\n',
    ),
  })
  await page
    .getByLabel('From a zip')
    .setInputFiles({ name: 'lights.zip', mimeType: 'application/zip', buffer: Buffer.from(zip) })
  const report = page.getByRole('region', { name: 'What would change' })
  await expect(report).toContainText('1 new definition')
  await expect(report).toContainText('lights/broken.case.yaml:4')
  expect((await page.request.get('/api/definitions/case/harbour-lights')).status()).toBe(404)
  await report.getByRole('button', { name: 'Take the sound ones in' }).click()
  await expect(page.getByText('1 new file, 0 changed')).toBeVisible()
  await page
    .getByLabel('From a zip')
    .setInputFiles({ name: 'none.zip', mimeType: 'application/zip', buffer: Buffer.from('no zip at all') })
  await expect(page.getByRole('dialog').getByRole('alert')).toBeVisible()
  await openBench(page, '/cases/harbour-lights')
})
