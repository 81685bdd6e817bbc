import { expect, test, type Page } from '@playwright/test'
import { endOf, expectAccessible, signIn } from './helpers'

test.setTimeout(180_000)

const rule = (page: Page, title: string) =>
  page.getByRole('listitem').filter({ has: page.getByRole('heading', { name: title }) })
const titles = (page: Page) => page.getByRole('list').getByRole('heading', { level: 2 }).allTextContents()
const ready = (page: Page) => expect(page.getByText('version 1', { exact: true })).toBeVisible()
/** As the page itself asks: the server takes changes from its own origin only. */
const ask = (page: Page, method: string, path: string, body: object) =>
  page.evaluate(
    async ([how, where, what]) => {
      const answer = await fetch(where!, {
        method: how!,
        headers: { 'content-type': 'application/json' },
        body: what!,
      })
      return {
        status: answer.status,
        body: answer.status === 204 ? undefined : ((await answer.json()) as { id: number }),
      }
    },
    [method, path, JSON.stringify(body)],
  )
const put = async (page: Page, kind: string, key: string, source: string) =>
  expect((await ask(page, 'PUT', `/api/definitions/${kind}/${key}`, { source, basedOn: 0 })).status).toBe(200)

test('rules read as sentences, are edited with a mistake, moved, tried on a past failure; nothing is lost', async ({
  page,
}) => {
  await signIn(page)
  await page.getByRole('link', { name: 'Recovery' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'Harbour policy' })).toBeVisible()
  await ready(page)
  await expect(rule(page, 'Storm notice')).toContainText(
    'When an unexpected dialog appears and the message has /Storm notice/,',
  )
  // held against what happened
  await expect(rule(page, 'Storm notice').locator('[data-figure]')).toHaveText(/\d/)

  await page.getByRole('button', { name: 'Edit Storm notice' }).click()
  const message = page.getByLabel('Expression in the message')
  await message.fill('Storm (')
  await message.press('Enter')
  await expect(page.getByText('/Storm (/ cannot be used').first()).toBeVisible()
  await expect(message).toHaveValue('Storm (') // mended where it stands
  await expect(page.getByRole('button', { name: 'Save' })).toBeDisabled()
  await message.fill('Storm|Gale')
  await message.press('Enter')
  const most = page.getByLabel('Uses in a case run')
  await most.fill('1')
  await most.press('Enter')
  await page.getByRole('button', { name: 'Done' }).click()
  await expect(rule(page, 'Storm notice')).toContainText('/Storm|Gale/')
  await expect(rule(page, 'Storm notice')).toContainText('at most once a case run')
  await expectAccessible(page)

  const before = await titles(page)
  await page.getByRole('button', { name: '1: move Storm notice' }).press('Alt+ArrowDown')
  await expect.poll(() => titles(page)).toEqual([before[1], before[0], ...before.slice(2)])
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect.poll(() => titles(page)).toEqual(before)

  await page.keyboard.press('t')
  const dialog = page.getByRole('dialog', { name: 'Try on a past failure' })
  await dialog.getByRole('button', { name: /it is covered/ }).click()
  await expect(dialog).toContainText('No rule would be used; the failure stands.')
  await expect(dialog).toContainText('no: the failure is of kind target')
  await page.keyboard.press('Escape')
  await expect(page).not.toHaveURL(/[?&]try=/)

  await page.reload()
  await expect(rule(page, 'Storm notice')).toContainText('/Storm|Gale/') // kept until it is saved
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('version 2', { exact: true })).toBeVisible()
})

test('a rule drags to its place', async ({ page }) => {
  await signIn(page)
  await page.goto('/recovery?policy=harbour')
  await expect(page.getByText(/^version \d+$/)).toBeVisible()
  const before = await titles(page)
  await expect(page.getByRole('button', { name: `Edit ${before[0]}` })).toBeVisible()
  const handle = await page.getByRole('button', { name: `1: move ${before[0]}` }).boundingBox()
  const target = await page.locator('[data-rule]').nth(2).boundingBox()
  await page.mouse.move(handle!.x + 8, handle!.y + 8)
  await page.mouse.down()
  await page.mouse.move(handle!.x + 8, handle!.y + 40, { steps: 4 })
  await page.mouse.move(handle!.x + 8, target!.y + target!.height / 2, { steps: 8 })
  await page.mouse.up()
  await expect.poll(() => titles(page)).toEqual([before[1], before[2], before[0], before[3]])
})

test('a policy from nothing puts a case right in its own browser, and the log shows how; quarantine keeps a failure from failing the run', async ({
  page,
}) => {
  await signIn(page, 'wren')
  await put(
    page,
    'case',
    'reworded-button',
    'case: reworded-button\ntitle: Reworded button\nsteps:\n  - open: gate:/\n  - click: { on: { ' +
      'role: button, name: Old name } }\n    limit: 500ms\n    tag: reworded\n  - check: { title: { ' +
      'contains: Fennel } }\n',
  )
  await put(
    page,
    'case',
    'always-wrong',
    'case: always-wrong\ntitle: Always wrong\nsteps:\n  - open: gate:/\n  - check: { title: { ' +
      'equals: Nothing } }\n    limit: 300ms\n',
  )
  await page.goto('/recovery')
  await page.getByRole('button', { name: 'New policy' }).click()
  await page.getByRole('dialog').getByLabel('Title').fill('Gate upsets')
  await page.getByRole('dialog').getByRole('button', { name: 'Make it' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'Gate upsets' })).toBeVisible()
  await expect(page.getByText('No rule yet: every failure stands')).toBeVisible()
  await ready(page)
  await page.getByRole('button', { name: 'New rule' }).click()
  const commit = async (label: string, value: string) => {
    await page.getByLabel(label, { exact: true }).fill(value)
    await page.getByLabel(label, { exact: true }).blur()
  }
  await commit('Name of the rule', 'renamed')
  await page.getByRole('button', { name: 'dialog', exact: true }).click()
  await page.getByRole('button', { name: 'target', exact: true }).click()
  await commit('Tag of the step', 'reworded')
  await commit('Steps of the rule', '- note: the button has another name now')
  await page.getByLabel('Where it goes on').selectOption({ label: 'go on at the next check' })
  await page.getByRole('button', { name: 'Done' }).click()
  await expect(rule(page, 'Renamed')).toContainText(
    'When a target is missing and the step is tagged reworded,',
  )
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('version 2', { exact: true })).toBeVisible()
  await page.getByRole('tab', { name: 'Where it counts' }).click()
  await page.getByLabel(/It counts for everything/).check()
  await expect(page.getByText(/they count for everything/)).toBeVisible()
  await page.getByLabel('Case', { exact: true }).selectOption({ label: 'Always wrong' })
  await page.getByLabel('Why').fill('the title is being discussed')
  await page.getByRole('button', { name: 'Quarantine' }).click()
  await expect(page.getByText(/by Wren Adeyemi: the title is being discussed/)).toBeVisible()

  const { id } = (
    await ask(page, 'POST', '/api/runs', {
      cases: ['reworded-button', 'always-wrong'],
      environments: ['chromium-windows'],
      build: '2026.11.3',
      retries: 0,
      limitMs: 60_000,
    })
  ).body!
  const viewModel = await endOf(page, id)
  expect(viewModel.run.counts).toMatchObject({ recovered: 1, failed: 1 })
  await page.goto(`/runs/${id}`)
  await expect(page.getByText('1 of the failures in quarantine')).toBeVisible()
  const { groups } = (await (await page.request.get(`/api/runs/${id}`)).json()) as {
    groups: { rows: { title: string; cells: { attemptId: string }[] }[] }[]
  }
  await page.goto(
    `/attempts/${groups.flatMap(({ rows }) => rows).find(({ title }) => title === 'Reworded button')!.cells[0]!.attemptId}`,
  )
  const outline = page.getByRole('listbox', { name: 'Steps' })
  await expect(outline.getByRole('option', { name: /recovery renamed/ })).toBeVisible()
  await outline.getByRole('option', { name: /recovery renamed/ }).click()
  await expect(
    page.getByText('The rule is of the policy gate-upsets, attached to the workspace'),
  ).toBeVisible()
  await expectAccessible(page)
  await page.goto('/recovery?policy=gate-upsets')
  await expect(rule(page, 'Renamed').locator('[data-figure=helped]')).toHaveText('1 of 1')
  expect((await ask(page, 'PUT', '/api/recovery', { policy: null })).status).toBe(204)
})

test('a run pauses and goes on; an agent pauses with its pool', async ({ page }) => {
  await signIn(page, 'wren')
  const { id } = (
    await ask(page, 'POST', '/api/runs', {
      suite: 'gate-and-manifest',
      environments: ['android-handset'],
      build: '2026.11.4',
      retries: 0,
      limitMs: 60_000,
    })
  ).body!
  await page.goto(`/runs/${id}`)
  // The page may not listen yet when it is drawn; once it is paused there is no such button any more.
  await expect(async () => {
    await page.getByRole('button', { name: 'Pause' }).click({ timeout: 1000 })
    await expect(page.getByText(/; paused/)).toBeVisible({ timeout: 3000 })
  }).toPass()
  const open = async () =>
    (
      (await (await page.request.get(`/api/runs/${id}`)).json()) as {
        run: { counts: Record<string, number> }
      }
    ).run.counts
  await expect
    .poll(
      async () => {
        const counts = await open()
        return counts.running! + counts.claimed!
      },
      { timeout: 60_000 },
    )
    .toBe(0) // what ran waits at its next step, or ended
  const held = await open()
  expect(held.waiting).toBeGreaterThan(0)
  expect((await open()).waiting).toBe(held.waiting) // nothing was begun meanwhile
  await page.keyboard.press('p')
  await expect(page.getByText(/; paused/)).toBeHidden()
  await endOf(page, id)

  await page.goto('/fleet?agent=quill-01')
  await expect(async () => {
    await page.getByRole('button', { name: 'Pause its pool' }).click({ timeout: 1000 })
    await expect(page.locator('[data-agent=aske-01]')).toContainText('paused', { timeout: 3000 })
  }).toPass()
  await page.getByRole('button', { name: 'Let its pool go on' }).click()
  await expect(page.locator('[data-agent=aske-01]')).not.toContainText('paused')
})
