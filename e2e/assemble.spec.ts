import { readFileSync } from 'node:fs'
import { expect, test, type Page } from '@playwright/test'
import { git, readRun, signIn } from './helpers'

const tree = (page: Page) => page.getByRole('tree', { name: /Entries of/ })
const row = (page: Page, name: string) =>
  tree(page)
    .getByRole('treeitem')
    .filter({ has: page.getByTitle(name, { exact: true }) })
/** A bench that can be written into: the file beside it is drawn by the browser alone. */
const openBench = async (page: Page, path: string) => {
  await page.goto(path)
  await expect(page.getByRole('textbox', { name: /^File of/ })).toBeVisible()
}
const save = async (page: Page) => {
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByText(/Saved as version/).first()).toBeVisible()
}

test('a suite is ordered, grouped and switched by keys; a circle is told; undo gives all back; it is saved as a version', async ({
  page,
}) => {
  await signIn(page)
  await page.goto('/suites?suite=fare-desk&side=order')
  await expect(page.getByText(/^version \d/)).toBeVisible() // it can be written to now
  await row(page, 'A wrong password is refused').click()
  await page.keyboard.press('Alt+ArrowUp')
  await expect(page.getByText('not saved yet')).toBeVisible()
  await expect(
    page.getByRole('list', { name: 'What will run, in order' }).getByRole('listitem').first(),
  ).toContainText('A wrong password')
  await page.keyboard.press('x')
  await expect(page.getByRole('status').filter({ hasText: 'left out' })).toContainText(
    'A wrong password is refused (switched off)',
  )
  await page.getByRole('tab', { name: 'Entry' }).click()
  await page.getByRole('combobox', { name: 'Runs after' }).selectOption({ label: 'Sign in at the desk' })
  await row(page, 'Sign in at the desk').click()
  await page
    .getByRole('combobox', { name: 'Runs after' })
    .selectOption({ label: 'A wrong password is refused' })
  await row(page, 'A wrong password is refused').getByRole('checkbox').click()
  await expect(page.getByRole('status').filter({ hasText: 'left out' })).toContainText('a circle')
  const undo = page.getByRole('button', { name: 'Undo', exact: true })
  while (await undo.isEnabled()) await undo.click()
  await expect(page.getByRole('status').filter({ hasText: 'left out' })).toHaveCount(0)
  await row(page, 'A wrong password is refused').click()
  await page.keyboard.press('w')
  await expect(row(page, 'New group')).toBeVisible()
  await save(page)
  await page.getByRole('tab', { name: 'Versions' }).click()
  await expect(page.getByRole('list', { name: 'Versions' })).toContainText('saved by Wren')
})

test('a case is edited as sentences and as a file; broken YAML is told at its line; an old version comes back', async ({
  page,
}) => {
  await signIn(page)
  await openBench(page, '/cases/wrong-password')
  const steps = page.getByRole('tree', { name: 'Steps', exact: true })
  const count = Number(await steps.getAttribute('data-rows'))
  await page.keyboard.press('a')
  await page.getByRole('menuitem', { name: /^press/ }).click()
  await page.getByLabel('Key', { exact: true }).fill('Tab')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Done' }).click()
  await expect(steps.getByRole('treeitem')).toHaveCount(count + 1)
  await expect(steps.getByRole('treeitem', { name: 'press Tab' })).toBeVisible()
  await expect(page.getByRole('textbox', { name: /^File of/ })).toContainText('press: { key: Tab }')
  await save(page)

  const file = page.getByRole('textbox', { name: /^File of/ })
  await file.click()
  await page.keyboard.press('Control+End')
  await page.keyboard.insertText('\nsteps: twice\n')
  await expect(page.getByText('in the text')).toBeVisible()
  await expect(page.getByRole('alert').filter({ hasText: /Line \d+/ })).toContainText('unique')
  await expect(page.getByRole('button', { name: 'Save', exact: true })).toBeDisabled()
  const undo = page.getByRole('button', { name: 'Undo', exact: true })
  while (await undo.isEnabled()) await undo.click()

  await page.getByRole('tab', { name: 'Versions' }).click()
  await page.getByRole('button', { name: 'Restore version 1' }).click()
  await expect(page.getByText('Version 1 is back, as version 3')).toBeVisible()
  await expect(steps.getByRole('treeitem')).toHaveCount(count)
})

test('two people edit: the second is told, sees both texts, and loses neither', async ({ page, browser }) => {
  await signIn(page)
  await openBench(page, '/cases/unknown-sailing')
  await page.getByLabel('Title', { exact: true }).fill('No such sailing, says Wren')
  await page.keyboard.press('Enter')
  await expect(page.getByText('not saved yet')).toBeVisible()
  const other = await browser.newContext({ viewport: { width: 1280, height: 800 } })
  const second = await other.newPage()
  await signIn(second, 'tomas')
  await openBench(second, '/cases/unknown-sailing')
  await second.getByLabel('Title', { exact: true }).fill('No such sailing, says Tomas')
  await second.keyboard.press('Enter')
  await save(second)
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  const dialog = page.getByRole('dialog', { name: 'Somebody else saved while you edited' })
  await expect(dialog).toContainText('says Tomas')
  await expect(dialog).toContainText('says Wren')
  await dialog.getByRole('button', { name: 'Go on with mine' }).click()
  await save(page)
  await page.getByRole('tab', { name: 'Versions' }).click()
  await expect(page.getByRole('list', { name: 'Versions' })).toContainText(
    'title: No such sailing, says Tomas became No such sailing, says Wren',
  )
  await other.close()
})

test('edits go back to the repository as a commit, and a conflicting one is told', async ({ page }) => {
  await signIn(page, 'tomas')
  await openBench(page, '/cases/unknown-reference')
  await page.getByLabel('Tags', { exact: true }).fill('desk, calm')
  await page.keyboard.press('Enter')
  await save(page)
  await page.goto('/suites?show=repositories')
  const form = page.getByRole('form', { name: 'Commit to harbour-cases' })
  await form.getByLabel('Branch').fill('main')
  await form.getByLabel('Message').fill('A calmer tag')
  await form.getByRole('button', { name: 'Commit' }).click()
  await expect(form.getByRole('alert')).toContainText('choose another branch')
  await form.getByLabel('Branch').fill('rotation-edits')
  await form.getByRole('button', { name: 'Commit' }).click()
  await expect(page.getByText(/committed to rotation-edits/)).toBeVisible()
  expect(git('log', '-1', '--format=%an %s', 'rotation-edits')).toContain('Tomas Lindqvist A calmer tag')
  expect(git('show', 'rotation-edits:desk/unknown-reference.case.yaml')).toContain('calm')
})

test('result files are taken in: one that is cut off is refused with its line, one that is dropped is asked its build', async ({
  page,
}) => {
  await signIn(page)
  await page.goto('/suites?show=files')
  const input = page.getByLabel('A result file (JUnit XML, TAP)')
  await input.setInputFiles({
    name: 'cut.xml',
    mimeType: 'text/xml',
    buffer: Buffer.from('<testsuites>\n<testsuite name="a">\n'),
  })
  await expect(page.getByRole('alert')).toContainText('cut.xml, line 3: it is cut off')
  const good =
    '<testsuites><testsuite name="Harbour"><testcase name="lights" classname="harbour" ' +
    'time="0,5"/><testcase name="horn" classname="harbour"><failure message="no sound">at the ' +
    'pier</failure><system-out>[[ATTACHMENT|horn.png]]</system-out></testcase></testsuite></testsuites>'
  const dropped = await page.evaluateHandle((text) => {
    const data = new DataTransfer()
    data.items.add(new File([text], 'harbour.xml', { type: 'text/xml' }))
    return data
  }, good)
  await page.getByRole('button', { name: 'Close' }).click()
  const where = page.getByRole('heading', { level: 1 })
  await where.dispatchEvent('dragover', { dataTransfer: dropped })
  await expect(page.getByText('Drop a result file: JUnit XML or TAP')).toBeVisible()
  await where.dispatchEvent('drop', { dataTransfer: dropped })
  const dialog = page.getByRole('dialog', { name: 'Take in harbour.xml' })
  await dialog.getByLabel('Build that it is of').fill('2026.11.1')
  await dialog.getByRole('button', { name: 'Take in' }).click()
  await page.waitForURL(/\/runs\/\d+/)
  const run = await readRun(page.request, Number(/runs\/(\d+)/.exec(page.url())![1]))
  expect(run.run.counts).toMatchObject({ passed: 1, failed: 1 })
  await expect(page.getByRole('grid')).toBeVisible()
  await page.keyboard.press('.')
  await expect(page.getByRole('region', { name: 'From the result file' })).toContainText('horn.png')
})

test('a rehearsal ends in the reader and leaves nothing behind, until it is kept', async ({ page }) => {
  test.setTimeout(300_000)
  await signIn(page)
  const before = await (await page.request.get('/api/now')).text()
  await openBench(page, '/cases/two-different-ports')
  await page.keyboard.press('h')
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Build').fill('2026.11.3')
  await dialog.getByRole('button', { name: 'Rehearse', exact: true }).click()
  await page.waitForURL(/\/attempts\//, { timeout: 120_000 })
  const attempt = (await (
    await page.request.get(`/api/attempts/${page.url().split('/').at(-1)!.split('?')[0]}`)
  ).json()) as { runId: number }
  await expect
    .poll(async () => (await readRun(page.request, attempt.runId)).run.state, { timeout: 120_000 })
    .toBe('ended')
  const lately = JSON.parse(await (await page.request.get('/api/now')).text()) as { lately: { id: number }[] }
  expect(lately.lately.map(({ id }) => id)).not.toContain(attempt.runId)
  expect(before).toContain('lately')
  await page.goto(`/runs/${attempt.runId}`)
  await expect(page.getByText('a rehearsal, in no history')).toBeVisible()
  await page.getByRole('button', { name: 'Keep it as a run' }).click()
  await expect(page.getByText('It counts as a run now')).toBeVisible()
})

test('the workspace goes out as a zip of its files', async ({ page }) => {
  await signIn(page)
  await page.goto('/suites?show=files')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Export the workspace' }).click(),
  ])
  expect(
    readFileSync((await download.path())!)
      .subarray(0, 2)
      .toString(),
  ).toBe('PK')
})
