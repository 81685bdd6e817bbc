import { expect, test } from '@playwright/test'
import { expectAccessible, openKnownFailure, signIn, TRACKER } from './helpers'

const OWN = { 'sec-fetch-site': 'same-origin' }
test.setTimeout(300_000)

test('an issue the tracker has is found while drafting, and a change on both sides is settled', async ({
  page,
}) => {
  const made = await page.request.post(`${TRACKER}/api/issues`, {
    data: { title: 'The shore notice lies over Board', body: 'Told by the gate crew' },
  })
  const { number } = (await made.json()) as { number: string }
  await signIn(page)
  await openKnownFailure(page)
  await page.keyboard.press('d')
  const known = page.getByRole('dialog').getByRole('region', { name: 'Known already?' })
  const words = known.getByLabel('Words to search the tracker for')
  await words.fill('no such words anywhere')
  await words.press('Enter')
  await expect(known).toContainText('It has nothing with these words.')
  await words.fill('notice board gate crew')
  await words.press('Enter')
  await expectAccessible(page)
  await known.getByRole('button', { name: `It is this one: ${number}` }).click()
  await page.waitForURL(/\/defects\?id=/)
  const detail = page.getByRole('article', { name: 'The shore notice lies over Board' })
  await expect(detail).toContainText(`The tracker knows it as ${number}`)
  const there = detail.getByRole('region', { name: 'At the tracker' })
  await expect(there).toContainText('Seen again: ')
  await expect(there).toContainText('said there', { timeout: 30_000 })

  await page.request.post(`${TRACKER}/control/down?on=yes`)
  await there.getByLabel('Say there').fill('Mended since this morning')
  await there.getByLabel('And it is then').selectOption('closed')
  await there.getByLabel('Give it to').fill('Gate crew')
  await there.getByRole('button', { name: 'Say it' }).click()
  await expect(there).toContainText('waits, and is sent by itself')
  await page.request.post(`${TRACKER}/control/edited?number=${number}&state=in work`)
  await page.getByRole('link', { name: /^Outbox: / }).click()
  await expect(page.getByRole('heading', { name: 'Outbox', level: 1 })).toBeVisible()
  const row = page.getByRole('row').filter({ hasText: 'Mended since this morning' })
  await expect(row).toContainText('The tracker answers 503.')
  await expectAccessible(page)
  await page.request.post(`${TRACKER}/control/down?on=no`)
  await page.getByRole('button', { name: 'Try all now' }).click()
  await expect(row).toContainText('It is in work at the tracker, and was open', { timeout: 30_000 })
  await row.getByRole('link').click()
  await expect(there).toContainText('waits for somebody to decide')
  await expectAccessible(page)
  await there.getByRole('button', { name: 'Say it all the same' }).click()
  await expect(there).toContainText('closes it, gives it to Gate crew: said there', { timeout: 30_000 })
  expect(await (await page.request.get(`${TRACKER}/issues/${number}`)).text()).toContain(
    'closed, with Gate crew',
  )
})

test('many defects at once: columns, a view that is kept, severity with undo, sent', async ({ page }) => {
  await signIn(page)
  await openKnownFailure(page)
  const attemptId = page.url().split('/').at(-1)!.split('?')[0]!
  for (const title of ['Berth light stays red', 'Berth light never goes out']) {
    const words = { title, steps: '1. Open it', expected: 'green', actual: 'red', severity: 'normal' }
    const answer = await page.request.post('/api/defects', {
      headers: OWN,
      data: { ...words, attemptId, evidence: [], send: false },
    })
    expect(answer.status(), await answer.text()).toBe(201)
  }
  await page.goto('/defects?words=berth light')
  const table = page.getByRole('table', { name: 'Defects' })
  await expect(table.getByRole('row')).toHaveCount(3)
  await page.getByRole('button', { name: 'Columns' }).click()
  await page.getByRole('menuitemcheckbox', { name: 'Severity' }).click()
  await page.getByRole('menuitemcheckbox', { name: 'Logged by' }).click()
  await page.keyboard.press('Escape')
  await table.getByRole('button', { name: 'Defect', exact: true }).click()
  await expect(page).toHaveURL(/order=Defect/)
  await page.getByRole('button', { name: 'Views' }).click()
  await page.getByLabel('Keep this one as').fill('Berth lights')
  await page.getByRole('button', { name: 'Keep it' }).click()
  await expect(page.getByRole('link', { name: 'Berth lights' })).toBeVisible()
  await expectAccessible(page)
  await page.goto('/defects')
  await page.getByRole('button', { name: 'Views' }).click()
  await page.getByRole('link', { name: 'Berth lights' }).click()
  await expect(page).toHaveURL(/words=berth/)
  await page.keyboard.press('Escape')
  await expect(table.getByRole('columnheader', { name: 'Logged by' })).toBeVisible()
  await expect(table.getByRole('rowheader').first()).toContainText('Berth light never goes out')

  await page.keyboard.press('a')
  const bar = page.getByRole('region', { name: 'All that are marked' })
  await expect(bar).toContainText('2 marked')
  await bar.getByLabel('Severity of all that are marked').selectOption('critical')
  await expect(table.getByRole('cell', { name: 'critical' })).toHaveCount(2)
  await page.getByRole('button', { name: 'Undo' }).click() // a slip
  await expect(table.getByRole('cell', { name: 'normal' })).toHaveCount(2)
  await bar.getByRole('button', { name: 'Send', exact: true }).click()
  await expect(table.getByText(/FSF-\d+/)).toHaveCount(2, { timeout: 30_000 })
  await bar.getByLabel('Severity of all that are marked').selectOption('low')
  await expect(bar.getByRole('list', { name: 'Not done' })).toContainText('it has been sent')
  await expectAccessible(page)
})

test('a field that the tracker refuses is found on an example; then a defect goes there with its evidence', async ({
  page,
}) => {
  await signIn(page, 'tomas')
  await page.goto('/settings')
  const parts = page.getByRole('navigation', { name: 'Parts of the settings' })
  await parts.getByRole('button', { name: 'Tracker and mail' }).click()
  const form = page.getByRole('form', { name: 'How the tracker names things' })
  const further = form.getByLabel('Further fields')
  await further.fill('crew: ${crews}')
  await expect(form.getByRole('alert')).toContainText('${crews} is nothing a defect has')
  await expect(form.getByRole('button', { name: 'Keep so' })).toBeDisabled()
  await further.fill('crew: gate')
  await form.getByLabel('Send the evidence itself').check()
  await page.request.post(`${TRACKER}/control/refuse?field=crew`)
  await form.getByRole('button', { name: 'Send an example' }).click()
  await expect(form.getByRole('alert')).toContainText('422: crew is no field of this tracker')
  await page.request.post(`${TRACKER}/control/refuse`)
  await form.getByRole('button', { name: 'Send an example' }).click()
  await expect(form.getByRole('list', { name: 'What the tracker made of it' })).toContainText(
    'It took the example as FSF-',
  )
  await expectAccessible(page)
  await form.getByRole('button', { name: 'Keep so' }).click()
  await expect(page.getByText('Kept: it holds for what is sent and told from now on')).toBeVisible()

  await page.goto('/')
  await openKnownFailure(page)
  await page.request.post(`${TRACKER}/control/refuse?field=crew`)
  await page.keyboard.press('d')
  const dialog = page.getByRole('dialog', { name: 'Log a defect' })
  await dialog.getByLabel('Title').fill('The notice lies over Board, with a picture')
  await dialog.getByRole('button', { name: 'Log it' }).click()
  await page.waitForURL(/\/defects\?id=/)
  const defect = page.getByRole('article', { name: 'The notice lies over Board, with a picture' })
  await expect(defect).toContainText('The tracker answers 422: crew is no field of this tracker')
  await page.request.post(`${TRACKER}/control/refuse`)
  await defect.getByRole('button', { name: 'Send now' }).click()
  await expect(defect).toContainText(/The tracker knows it as FSF-\d+/)
  await expect(defect).toContainText(/It has \d+ pieces? of the evidence/)
  const number = /FSF-\d+/.exec((await defect.textContent())!)![0]
  expect(await (await page.request.get(`${TRACKER}/issues/${number}`)).text()).toMatch(
    /1-screen-[\w-]+\.(jpg|png)/,
  )
})
