import { expect, test } from '@playwright/test'
import { writeFileSync } from 'node:fs'
import { git, HOME, pidsOf, PORT, readRun, signIn, startRun, endOf } from './helpers'

test.setTimeout(300_000) // runs in real browsers, with a lease to wait for

/** Every case run ended exactly once: as many as there are, each with an outcome, and one attempt at most
 * that passed. */
function expectAllEndedOnce(run: Awaited<ReturnType<typeof readRun>>, total: number): void {
  const cells = run.groups.flatMap(({ rows }) => rows.flatMap((row) => row.cells))
  expect(cells).toHaveLength(total)
  expect(
    cells.filter((cell) => cell && ['passed', 'recovered', 'failed', 'errored'].includes(cell.mark)),
  ).toHaveLength(total)
  const passedBars = run.lanes.flatMap(({ bars }) => bars).filter(({ mark }) => mark === 'passed').length
  expect(passedBars).toBe(run.run.counts.passed! + run.run.counts.recovered!)
}

test('an agent is killed in the middle of a run: its work is given to another, nothing is reported twice', async ({
  page,
}) => {
  await signIn(page)
  const id = await startRun(page, {
    suite: 'Gate and manifest',
    build: '2026.11.1',
    retries: '1',
    environments: ['Chromium, Debian'],
  })
  await expect
    .poll(
      async () =>
        (await readRun(page.request, id)).lanes.some(
          ({ agent, bars }) => agent === 'maren-01' && bars.some(({ mark }) => mark === 'running'),
        ),
      { intervals: [200], timeout: 60_000 },
    )
    .toBe(true)
  const [victim] = pidsOf(`${HOME}/agent-maren-01.json`)
  process.kill(victim!, 'SIGKILL')
  const run = await endOf(page, id)
  expectAllEndedOnce(run, 11)
  const lost = run.groups
    .flatMap(({ rows }) => rows.flatMap(({ cells }) => cells))
    .filter((cell) => cell!.attempts > 1)
  expect(lost.length).toBeGreaterThan(0)
})

test('the server is stopped and started again in the middle of a run: the run goes on and ends right', async ({
  page,
}) => {
  await signIn(page)
  const id = await startRun(page, {
    suite: 'Gate and manifest',
    build: '2026.11.1',
    environments: ['Chromium, Debian'],
  })
  await expect
    .poll(async () => (await readRun(page.request, id)).run.counts.running, {
      intervals: [200],
      timeout: 60_000,
    })
    .toBeGreaterThan(0)
  for (const pid of pidsOf(`build/web.mjs --port ${PORT} `)) process.kill(pid, 'SIGKILL')
  await expect
    .poll(async () => (await page.request.get('/api/health').catch(() => undefined))?.status(), {
      intervals: [300],
      timeout: 40_000,
    })
    .toBe(200)
  expectAllEndedOnce(await endOf(page, id), 11)
  // the page found its way back by itself
  await expect(page.getByRole('button', { name: 'Stop the run' })).toBeHidden({ timeout: 60_000 })
})

test('a broken case file is listed with its place and does not stop the others', async ({ page }) => {
  await signIn(page, 'tomas')
  writeFileSync(
    `${HOME}/demo/harbour-cases/gate/broken.case.yaml`,
    'case: broken\ntitle: Broken\nsteps:\n  - clack: { on: { text: Board } }\n',
  )
  git('add', '.')
  git('commit', '-m', 'A case with a slip')
  await page.goto('/suites?suite=nightly&show=repositories')
  await page.getByRole('button', { name: 'Read again harbour-cases' }).click()
  await expect(page.getByText('harbour-cases: nothing changed; 1 problem')).toBeVisible()
  await page.getByRole('button', { name: 'Close' }).click()
  await page.getByRole('button', { name: '1 problem in the files' }).click()
  await expect(page.getByRole('dialog')).toContainText('gate/broken.case.yaml:4:12')
  await expect(page.getByRole('dialog')).toContainText('"clack" is not known here')
  await page.getByRole('button', { name: 'Close' }).click()
  await expect(
    page.getByRole('tree', { name: /Entries of/ }).getByRole('treeitem', { name: 'Board with a reference' }),
  ).toBeVisible()
  git('rm', '-q', 'gate/broken.case.yaml')
  git('commit', '-m', 'The slip is gone')
  await page.getByRole('button', { name: '1 repository' }).click()
  await page.getByRole('button', { name: 'Read again harbour-cases' }).click()
  await page.getByRole('button', { name: 'Close' }).click()
  await expect(page.getByRole('button', { name: /problem/ })).toHaveCount(0)
})

test('an environment that no agent serves says so before it starts', async ({ page }) => {
  await signIn(page)
  for (const name of ['aske-01', 'aske-02', 'aske-03']) {
    await page.goto('/fleet')
    await page.getByRole('button', { name: `Drain ${name}` }).click()
    await expect(page.locator(`[data-agent=${name}]`)).toContainText('draining')
  }
  await page.getByRole('link', { name: 'Now', exact: true }).click()
  await page.getByRole('button', { name: 'Start a run' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('checkbox', { name: /iOS 26/ }).check()
  await expect(dialog.getByRole('alert')).toContainText('No live agent serves iOS 26, handset')
  await expect(dialog.getByRole('button', { name: 'Start', exact: true })).toBeDisabled()
  const direct = await page.request.post('/api/runs', {
    headers: { 'sec-fetch-site': 'same-origin' },
    data: { suite: 'smoke', environments: ['ios-handset'], build: '2026.11.1', retries: 0, limitMs: 60_000 },
  })
  expect(direct.status()).toBe(409)
  await dialog.getByRole('checkbox', { name: /iOS 26/ }).uncheck()
  await expect(dialog.getByRole('button', { name: 'Start', exact: true })).toBeEnabled()
  await page.keyboard.press('Escape')
  for (const name of ['aske-01', 'aske-02', 'aske-03']) {
    await page.goto('/fleet')
    await page.getByRole('button', { name: `Resume ${name}` }).click()
    await expect(page.getByRole('button', { name: `Drain ${name}` })).toBeVisible()
  }
})

test('a run can be stopped, and the seats are free again', async ({ page }) => {
  await signIn(page)
  const id = await startRun(page, {
    suite: 'Night full',
    build: '2026.11.1',
    environments: ['Chromium, Windows', 'WebKit, macOS'],
  })
  await expect(page.locator('[role=grid] [data-mark=running]').first()).toBeVisible()
  await page.getByRole('button', { name: 'Stop the run' }).click()
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('will not be run')
  await dialog.getByRole('button', { name: 'Stop and undo' }).click()
  const { run } = await endOf(page, id)
  expect(run.counts.cancelled).toBeGreaterThan(0)
  await expect(page.getByRole('link', { name: /agents/ })).toContainText('0 of')
})
