import { execFileSync } from 'node:child_process'
import { readdirSync, readFileSync, statSync } from 'node:fs'
import AxeBuilder from '@axe-core/playwright'
import { expect, type APIRequestContext, type Page } from '@playwright/test'

export const PORT = Number(process.env.OAK_PORT ?? 4700)
export const HOME = process.env.OAK_HOME ?? '.oak/test-journeys'
export const TRACKER = `http://127.0.0.1:${PORT + 2}`

/** Signs in by the API, and opens Now: the form has journeys of its own (people, attacks). */
export async function signIn(page: Page, username = 'wren'): Promise<void> {
  const answer = await page.request.post('/api/sign-in', {
    data: { username, password: 'fennel-sound' },
    headers: { 'sec-fetch-site': 'same-origin' },
  })
  expect(answer.status(), await answer.text()).toBe(204)
  await page.goto('/')
  await expect(page.getByRole('navigation', { name: 'Views' })).toBeVisible()
}

/** Starts a run through the dialog; by default on the two real environments. @returns its number */
export async function startRun(
  page: Page,
  {
    suite,
    build,
    environments,
    retries,
  }: { suite: string; build: string; environments?: string[]; retries?: string },
): Promise<number> {
  await page.goto('/')
  await page.getByRole('button', { name: 'Start a run' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Suite').selectOption({ label: suite })
  await dialog.getByLabel('Build under test').fill(build)
  if (retries) await dialog.getByLabel('Retries of what fails').selectOption(retries)
  if (environments) {
    for (const box of await dialog.getByRole('checkbox').all()) await box.uncheck()
    for (const name of environments) await dialog.getByRole('checkbox', { name }).check()
  }
  await dialog.getByRole('button', { name: 'Start', exact: true }).click()
  await page.waitForURL(/\/runs\/\d+/)
  return Number(/runs\/(\d+)/.exec(page.url())![1])
}

/** From Now into the reader, at the first failure of the handset run the demo always has. */
export async function openKnownFailure(page: Page): Promise<void> {
  await page.getByRole('link', { name: 'Gate Handsets 76' }).last().click()
  await walkToFailure(page)
}

/** From a run that is being opened into the reader, at its first failure, by keys. */
export async function walkToFailure(page: Page): Promise<void> {
  await page.waitForURL(/\/runs\//)
  await expect(page.getByRole('grid')).toBeVisible()
  await page.keyboard.press('.')
  await expect(page).toHaveURL(/cell=/)
  await page.keyboard.press('o')
  await page.waitForURL(/\/attempts\//)
  await expect(page.getByRole('listbox', { name: 'Steps' })).toBeVisible()
}

type RunAnswer = {
  run: { state: string; counts: Record<string, number> }
  groups: {
    rows: {
      title: string
      caseKey: string
      cells: ({ id: string; mark: string; attemptId: string; attempts: number; agent: string } | null)[]
    }[]
  }[]
  lanes: { agent: string; bars: { mark: string }[] }[]
}

export async function readRun(request: APIRequestContext, id: number): Promise<RunAnswer> {
  return (await (await request.get(`/api/runs/${id}`)).json()) as RunAnswer
}

export async function endOf(page: Page, id: number, ms = 240_000): Promise<RunAnswer> {
  await expect
    .poll(async () => (await readRun(page.request, id)).run.state, { timeout: ms, intervals: [1000] })
    .toBe('ended')
  return readRun(page.request, id)
}

/** On a busy machine a page may come late, which a rule of the demo recovers from: that is a good end too. */
export const endedWell = (mark: string) => (mark === 'recovered' ? 'passed' : mark)

/** That a case run passed; where it did not, its log says why. */
export async function expectPassed(
  request: APIRequestContext,
  { mark, attemptId }: { mark: string; attemptId: string },
): Promise<void> {
  if (endedWell(mark) === 'passed') return
  const log = await (await request.get(`/api/attempts/${attemptId}/text`)).text()
  throw new Error(`${mark}, and not passed:\n${log.slice(0, 4000)}`)
}

/** The worst axe finds on what is shown; nothing serious may be among it. @param rules only these; all
 * without */
export async function expectAccessible(page: Page, rules?: string[]): Promise<void> {
  // What passed is counted, and not described: half of the time of a large page. The mode without frames asks
  // this page alone: the other one opens a page more to put results together, two thirds of the time.
  const axe = new AxeBuilder({ page: page as never })
    .options({ resultTypes: ['violations'] })
    .setLegacyMode(true)
  const { violations } = await (rules ? axe.withRules(rules) : axe).analyze()
  const bad = violations.filter(({ impact }) => impact === 'serious' || impact === 'critical')
  expect(
    bad.map(
      ({ id, nodes }) =>
        `${id}: ${nodes
          .slice(0, 3)
          .map(({ html }) => html.slice(0, 140))
          .join(' | ')}`,
    ),
  ).toEqual([])
}

/** Processes of this product by what their command line holds. */
export function pidsOf(part: string): number[] {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .flatMap((pid) => {
      try {
        const line = readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ')
        return line.includes(part) ? [Number(pid)] : []
      } catch {
        return []
      }
    })
}

/** As who the repository belongs to: git refuses to anybody else. */
export function git(...args: string[]): string {
  const folder = `${HOME}/demo/harbour-cases`
  const { uid, gid } = statSync(folder)
  return execFileSync('git', ['-C', folder, ...args], {
    encoding: 'utf8',
    uid,
    gid,
    env: { ...process.env, HOME: folder },
  })
}
