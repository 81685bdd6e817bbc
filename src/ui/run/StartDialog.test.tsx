/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { render, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { StartOptions } from '@/core/view-models'
import { answerWith, Around, refusal, type Answers } from '../testing/around'
import { StartDialog } from './StartDialog'

const OPTIONS: StartOptions = {
  suites: [
    { key: 'booking', title: 'Booking', caseRuns: 6, estimateMs: 60_000 },
    { key: 'gate', title: 'Gate', caseRuns: 4, estimateMs: 30_000 },
  ],
  environments: [
    { key: 'chromium-windows', title: 'Chromium, Windows', simulated: true, seats: 4 },
    { key: 'chromium-debian', title: 'Chromium, Debian', simulated: false, seats: 2 },
    { key: 'firefox-debian', title: 'Firefox, Debian', simulated: false, seats: 0 },
  ],
  cases: [],
  builds: ['2031.3.2'],
  stages: [],
  people: ['Wren Adeyemi', 'Priya Castellan'],
}
const FORECAST = {
  caseRuns: 6,
  seats: 2,
  p50Ms: 60_000,
  p90Ms: 90_000,
  boundMs: 50_000,
  bound: 'load',
  expectedRetries: 0,
  unplaceable: 0,
  lacking: [],
  hindered: false,
}

async function open(answers: Answers = {}, suite?: string) {
  const asked = answerWith({
    'GET /api/start-options': OPTIONS,
    'POST /api/runs/forecast': FORECAST,
    'POST /api/rules': { count: 2, of: 30, caseRuns: 2, estimateMs: 9000, cases: [], unknown: [] },
    ...answers,
  })
  const [goTo, onClose] = [jest.fn(), jest.fn()]
  render(
    <Around goTo={goTo}>
      <StartDialog {...(suite && { suite })} onClose={onClose} />
    </Around>,
  )
  await screen.findByLabelText('Suite')
  return {
    goTo,
    onClose,
    user: userEvent.setup(),
    starts: () => asked.filter(({ path }) => path === '/api/runs'),
  }
}
const start = () => screen.getByRole('button', { name: 'Start' })

test('begins with what is usual: the newest build, real browsers; and starts that', async () => {
  const { goTo, onClose, user, starts } = await open({ 'POST /api/runs': { id: 7 } })
  await user.click(start())
  await waitFor(() => expect(goTo).toHaveBeenCalledWith('/runs/7'))
  expect(onClose).toHaveBeenCalled()
  expect(starts()[0]?.body).toEqual({
    suite: 'booking',
    environments: ['chromium-debian'],
    build: '2031.3.2',
    retries: 1,
    limitMs: 120_000,
  })
})

test('begins with the suite it was asked for', async () => {
  await open({}, 'gate')
  expect(screen.getByLabelText<HTMLSelectElement>('Suite').value).toBe('gate')
})

test('a build and a limit that cannot be are told at their fields, and nothing starts', async () => {
  const { user, starts } = await open({ 'POST /api/runs': { id: 7 } })
  await user.clear(screen.getByLabelText('Build under test'))
  await user.type(screen.getByLabelText('Build under test'), 'build 7!')
  await user.clear(screen.getByLabelText('Limit of a case, minutes'))
  await user.type(screen.getByLabelText('Limit of a case, minutes'), '90')
  await user.click(start())
  await waitFor(() =>
    expect(screen.getAllByRole('alert').map(({ textContent }) => textContent)).toEqual([
      'Letters, digits, dots and dashes',
      'Between 0.1 and 60 minutes',
    ]),
  )
  expect(screen.getByLabelText('Build under test').getAttribute('aria-invalid')).toBe('true')
  expect(starts()).toEqual([])
})

test('an environment no agent serves is named, and has to be left out first', async () => {
  const { user } = await open()
  await user.click(screen.getByRole('checkbox', { name: /Firefox/ }))
  expect(screen.getByRole('alert').textContent).toContain('No live agent serves Firefox, Debian')
  expect(start().hasAttribute('disabled')).toBe(true)
  await user.click(screen.getByRole('checkbox', { name: /Firefox/ }))
  expect(start().hasAttribute('disabled')).toBe(false)
})

test('without an environment nothing starts', async () => {
  const { user } = await open()
  await user.click(screen.getByRole('checkbox', { name: /Chromium, Debian/ }))
  expect(start().hasAttribute('disabled')).toBe(true)
  expect(screen.getByText('Choose at least one environment')).toBeTruthy()
})

test('a refusal is said, and what was written stays', async () => {
  const { onClose, user } = await open({ 'POST /api/runs': refusal(422, 'UNKNOWN_BUILD', 'No such build.') })
  await user.type(screen.getByLabelText('Name of the run'), 'Before the storm')
  await user.click(start())
  expect((await screen.findByRole('alert')).textContent).toBe('No such build.')
  expect(screen.getByLabelText<HTMLInputElement>('Name of the run').value).toBe('Before the storm')
  expect(onClose).not.toHaveBeenCalled()
})

test('cases by a rule: it is read as it is written, and one that cannot be read does not start', async () => {
  const { user, starts } = await open({ 'POST /api/runs': { id: 8 } })
  await user.selectOptions(screen.getByLabelText('Suite'), 'Cases by a rule')
  await user.clear(screen.getByLabelText('Rule'))
  await user.type(screen.getByLabelText('Rule'), 'smoke and')
  expect((await screen.findByRole('alert')).textContent).toMatch(/^At character /)
  expect(start().hasAttribute('disabled')).toBe(true)
  await user.type(screen.getByLabelText('Rule'), ' gate')
  await waitFor(() => expect(start().hasAttribute('disabled')).toBe(false))
  await user.click(start())
  await waitFor(() => expect(starts()[0]?.body).toMatchObject({ rule: 'smoke and gate' }))
  expect(starts()[0]?.body).not.toHaveProperty('suite')
})

test('without a suite there is nothing to choose, and it says what to do', async () => {
  answerWith({ 'GET /api/start-options': { ...OPTIONS, suites: [], cases: [] } })
  render(
    <Around>
      <StartDialog onClose={() => {}} />
    </Around>,
  )
  expect(await screen.findByText(/There is no suite and no case yet/)).toBeTruthy()
})
