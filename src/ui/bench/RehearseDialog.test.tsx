/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { render, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { Rehearsed, StartOptions } from '@/core/view-models'
import { answerWith, Around, refusal, type Answers } from '../testing/around'
import { RehearseDialog } from './RehearseDialog'

const OPTIONS: StartOptions = {
  suites: [],
  environments: [
    { key: 'chromium-windows', title: 'Chromium, Windows', simulated: true, seats: 4 },
    { key: 'chromium-debian', title: 'Chromium, Debian', simulated: false, seats: 2 },
    { key: 'firefox-debian', title: 'Firefox, Debian', simulated: false, seats: 0 },
  ],
  cases: [],
  builds: ['2031.3.2'],
  stages: [],
  people: [],
}
const BOARD: Rehearsed = { title: 'Board a party', cases: ['board'], rows: 3, parameters: { party: '2' } }
const runOf = (attemptId: string | null) => ({
  run: { id: 9 },
  groups: [{ title: '', rows: [{ title: 'Board', row: null, caseKey: 'board', cells: [{ attemptId }] }] }],
})

function open(answers: Answers, what = BOARD) {
  const asked = answerWith({ 'GET /api/start-options': OPTIONS, ...answers })
  const goTo = jest.fn()
  render(
    <Around goTo={goTo}>
      <RehearseDialog what={what} onClose={() => {}} />
    </Around>,
  )
  return { goTo, user: userEvent.setup(), starts: () => asked.filter(({ path }) => path === '/api/runs') }
}
const start = () => screen.findByRole('button', { name: 'Rehearse' })

test('with a row and a value of its own, it ends in the log of its attempt', async () => {
  const { goTo, user, starts } = open({ 'POST /api/runs': { id: 9 }, 'GET /api/runs/9': runOf('a1') })
  await start()
  expect(screen.getByLabelText<HTMLSelectElement>('Environment').value).toBe('chromium-debian')
  await user.selectOptions(screen.getByLabelText('Row'), '2')
  await user.clear(screen.getByLabelText('Parameter party'))
  await user.type(screen.getByLabelText('Parameter party'), '7{Enter}')
  await user.click(await start())
  await waitFor(() => expect(goTo).toHaveBeenCalledWith('/attempts/a1'))
  expect(starts()[0]?.body).toMatchObject({ cases: ['board'], row: 2, with: { party: '7' }, rehearsal: true })
})

test('it waits for a seat, and says so', async () => {
  const { goTo, user } = open({ 'POST /api/runs': { id: 9 }, 'GET /api/runs/9': runOf(null) })
  await user.click(await start())
  await waitFor(() => expect(screen.getByRole('status').textContent).toBe('1 case run waiting for a seat'))
  expect(goTo).not.toHaveBeenCalled()
})

test('a refusal is said, what was chosen stays, and it can be tried again', async () => {
  const { user } = open({ 'POST /api/runs': refusal(422, 'UNKNOWN_SECRET', 'DESK_PASSWORD is not set.') })
  await start()
  await user.clear(screen.getByLabelText('Build'))
  await user.type(screen.getByLabelText('Build'), '2031.3.9')
  await user.click(await start())
  expect((await screen.findByRole('alert')).textContent).toBe('DESK_PASSWORD is not set.')
  expect(screen.getByLabelText<HTMLInputElement>('Build').value).toBe('2031.3.9')
  expect((await start()).hasAttribute('disabled')).toBe(false)
})

test('without a build it cannot start', async () => {
  const { user } = open({})
  await start()
  await user.clear(screen.getByLabelText('Build'))
  expect((await start()).hasAttribute('disabled')).toBe(true)
})

test('without an agent it says so', async () => {
  open({ 'GET /api/start-options': { ...OPTIONS, environments: [OPTIONS.environments[2]] } })
  expect((await screen.findByRole('alert')).textContent).toBe('No agent is there to carry it out.')
  expect((await start()).hasAttribute('disabled')).toBe(true)
})
