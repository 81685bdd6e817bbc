/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { render, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { NO_COUNTS, type Mark } from '@/core/execution'
import type { GridCell, Role, RunViewModel } from '@/core/view-models'
import { answerWith, Around, refusal, type Answers } from '../testing/around'
import { RunView } from './RunView'

const cell = (id: string, mark: Mark): GridCell => ({
  id,
  environment: 'chromium-debian',
  mark,
  attempts: 1,
  durationMs: 900,
  estimateMs: 1000,
  attemptId: `attempt-${id}`,
  failure: mark === 'failed' ? 'text is “Fog”' : null,
  failureKind: mark === 'failed' ? 'check' : null,
  agent: 'quill-01',
  screen: null,
})
const row = (position: number, title: string, mark: Mark) => ({
  position,
  caseKey: `case-${position}`,
  title,
  row: null,
  cells: [cell(`c${position}`, mark)],
})
const viewOf = (state: RunViewModel['run']['state'], paused = false): RunViewModel => ({
  run: {
    id: 12,
    title: 'Gate',
    build: '2031.3.1',
    suiteKey: 'gate',
    state,
    paused,
    startedBy: 'Wren Adeyemi',
    createdAt: '2031-03-03T01:00:00Z',
    startedAt: '2031-03-03T01:00:02Z',
    endedAt: state === 'ended' ? '2031-03-03T01:12:02Z' : null,
    counts: { ...NO_COUNTS, passed: 1, failed: 2 },
    quarantined: 0,
    failingCases: 2,
    retries: 1,
    limitMs: 120_000,
    againOf: null,
    commit: null,
    kind: 'run',
    goneAt: null,
    rotationKey: null,
    endedWhy: null,
    finish: null,
  } as RunViewModel['run'],
  forecast: null,
  seats: [],
  suiteTitle: 'Gate',
  environments: [{ key: 'chromium-debian', title: 'Chromium, Debian', simulated: false, narrow: false }],
  groups: [
    {
      title: 'Boarding',
      rows: [
        row(1, 'Refuse a party', 'failed'),
        row(2, 'Board a party', 'passed'),
        row(3, 'Close the gate', 'failed'),
      ],
    },
  ],
  lanes: [],
  shares: [],
  leftOut: [],
  failures: [],
})

function open(
  state: RunViewModel['run']['state'],
  { role = 'tester' as Role, answers = {} as Answers, address = '' } = {},
) {
  const view = viewOf(state)
  const asked = answerWith({ 'GET /api/runs/12': view, ...answers })
  const goTo = jest.fn()
  render(
    <Around goTo={goTo} role={role} address={address}>
      <RunView initial={view} />
    </Around>,
  )
  return { goTo, user: userEvent.setup(), posts: () => asked.filter(({ method }) => method === 'POST') }
}
const selected = () =>
  within(screen.getByRole('grid'))
    .queryAllByRole('gridcell', { selected: true })
    .map((one) => within(one).getByRole('button').getAttribute('aria-label')?.split(',')[0])

test('“.” and “,” go from failure to failure, and stay at the last', async () => {
  const { user } = open('ended')
  await user.keyboard('.')
  await waitFor(() => expect(selected()).toEqual(['Refuse a party']))
  await user.keyboard('.')
  await waitFor(() => expect(selected()).toEqual(['Close the gate']))
  await user.keyboard('.')
  expect(selected()).toEqual(['Close the gate'])
  await user.keyboard(',')
  await waitFor(() => expect(selected()).toEqual(['Refuse a party']))
})

test('arrows go from mark to mark', async () => {
  const { user } = open('ended', { address: '?cell=c1' })
  screen.getByRole('button', { name: /^Refuse a party/ }).focus()
  await user.keyboard('{ArrowDown}')
  await waitFor(() => expect(selected()).toEqual(['Board a party']))
  await user.keyboard('{ArrowLeft}')
  expect(selected()).toEqual(['Board a party'])
})

test('“o” opens what is selected, “d” drafts a defect of a failure only', async () => {
  const { goTo, user } = open('ended', { address: '?cell=c2' })
  await user.keyboard('d')
  expect(goTo).not.toHaveBeenCalled()
  await user.keyboard('o')
  expect(goTo).toHaveBeenLastCalledWith('/attempts/attempt-c2')
  await user.keyboard(',')
  await waitFor(() => expect(selected()).toEqual(['Close the gate']))
  await user.keyboard('d')
  expect(goTo).toHaveBeenLastCalledWith('/attempts/attempt-c3?draft=1')
})

test('only failures: by its box and by its key', async () => {
  const { user } = open('ended')
  const rows = () => screen.queryAllByRole('rowheader').map(({ textContent }) => textContent)
  await user.click(screen.getByLabelText('only failures'))
  await waitFor(() => expect(rows()).toEqual(['Boarding', 'Refuse a party', 'Close the gate']))
  await user.keyboard('f')
  await waitFor(() => expect(rows()).toHaveLength(4))
})

test('a run that goes on is paused by its key, and stopped with a word on what is undone', async () => {
  const { user, posts } = open('running', {
    answers: { 'POST /api/runs/12/pause': {}, 'POST /api/runs/12/cancel': {} },
  })
  await user.keyboard('p')
  await user.click(screen.getByRole('button', { name: 'Stop the run' }))
  await user.click(await screen.findByRole('button', { name: 'Stop, leave as it is' }))
  await waitFor(() => expect(posts()).toHaveLength(2))
  expect(posts()).toEqual([
    { method: 'POST', path: '/api/runs/12/pause', body: { paused: true } },
    { method: 'POST', path: '/api/runs/12/cancel', body: { undo: false } },
  ])
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
})

test('what failed is run again, and that run is opened; a refusal leaves one here', async () => {
  const { goTo, user } = open('ended', { answers: { 'POST /api/runs/12/again': { id: 13 } } })
  await user.click(screen.getByRole('button', { name: /^Run again the 2 that failed/ }))
  await waitFor(() => expect(goTo).toHaveBeenCalledWith('/runs/13'))
  answerWith({ 'POST /api/runs/12/again': refusal(409, 'NO_SEAT', 'No agent serves it.') })
  await user.keyboard('r')
  expect(goTo).toHaveBeenCalledTimes(1)
})

test('a viewer has no buttons that change something, and no keys for it', async () => {
  const { user, posts } = open('running', { role: 'viewer' })
  expect(screen.queryByRole('button', { name: /Pause|Stop/ })).toBeNull()
  await user.keyboard('pr')
  expect(posts()).toEqual([])
})

test('the pictures of a run are tabs; seats has no margin', async () => {
  const { user } = open('ended')
  expect(screen.getByRole('tab', { selected: true }).textContent).toBe('Grid')
  await user.click(screen.getByRole('tab', { name: 'Seats' }))
  await waitFor(() =>
    expect(screen.getByRole('tabpanel').textContent).toContain('what each seat did is under Lanes'),
  )
  expect(screen.queryByRole('button', { name: 'Margin' })).toBeNull()
})
