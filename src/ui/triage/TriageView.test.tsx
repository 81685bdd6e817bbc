/** @jest-environment jsdom */
import { jest } from '@jest/globals'
import { render, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { CauseDecision, TriageGroup, TriageViewModel } from '@/core/view-models'
import { answerWith, Around, refusal, type Answers } from '../testing/around'
import { TriageView } from './TriageView'

const group = (name: string, runId: number, more: Partial<TriageGroup> = {}): TriageGroup => ({
  signature: name,
  title: name,
  failures: 3,
  cases: 2,
  environments: { failed: 1, of: 2 },
  places: ['width narrow: 3 of 3 failed, elsewhere 0 of 9; by chance less than 1 in 1,000'],
  likely: [
    { cause: 'product-defect', likelihood: 0.61 },
    { cause: 'test-fault', likelihood: 0.2 },
  ],
  because: ['checks found something else'],
  isNew: false,
  isCurrent: true,
  decision: null,
  runs: [
    {
      id: runId,
      title: `Gate Handsets ${runId}`,
      build: '2026.11.3',
      failures: 3,
      endedAt: '2026-12-01T00:00:00Z',
    },
  ],
  members: ['a', 'b', 'c'].map((id) => ({
    id: `${name} ${id}`,
    attemptId: `${name}-${id}`,
    title: `Board ${id}`,
    environment: 'Android 16, handset',
    row: null,
  })),
  ...more,
})
const decision = (as: CauseDecision['as'], more: Partial<CauseDecision> = {}): CauseDecision => ({
  id: 9,
  as,
  note: '',
  build: '2026.11.3',
  by: 'Priya Castellan',
  at: '2026-12-01T00:00:00Z',
  stands: true,
  ...more,
})
const desk = (...groups: TriageGroup[]): TriageViewModel => ({
  days: 2,
  groups,
  pending: 0,
  lately: { decided: 0, afterMs: null },
})

function open(initial: TriageViewModel, more: Answers = {}, role: 'viewer' | 'tester' = 'tester') {
  const gone = refusal(404, 'NOT_FOUND', 'There is no such attempt any more.')
  const attempts = initial.groups.flatMap(({ members }) => members.map(({ attemptId }) => attemptId))
  const asked = answerWith({
    'GET /api/triage?days=2': initial,
    ...Object.fromEntries(attempts.map((id) => [`GET /api/attempts/${id}`, gone])),
    ...more,
  })
  const goTo = jest.fn()
  render(
    <Around goTo={goTo} role={role}>
      <TriageView initial={initial} />
    </Around>,
  )
  return { asked, goTo, user: userEvent.setup() }
}
const chosen = () => screen.getByRole('heading', { level: 2, name: /covered|fare/i }).textContent
const posts = (asked: ReturnType<typeof answerWith>) =>
  asked.filter(({ method }) => method !== 'GET').map(({ path, body }) => [path, body])

test('what is to be decided stands before what is decided, each with why', () => {
  open(
    desk(
      group('covered', 76, { isNew: true }),
      group('fare', 75, { decision: decision('test-fault', { stands: false, build: '2026.11.2' }) }),
      group('port', 73, { isCurrent: false, isNew: true }),
      group('date', 74, { decision: decision('known-defect') }),
    ),
  )
  expect(screen.getByText('4 causes of 12 failures; 3 to decide')).toBeTruthy()
  const list = (name: string) => within(screen.getByRole('list', { name })).getAllByRole('button')
  expect(list('To decide').map(({ textContent }) => textContent)).toEqual([
    'covered3new in 2026.11.3, 2 cases',
    'fare3a fault of the test in 2026.11.2: look again, 2 cases',
    'port3last in Gate Handsets 73, 2026.11.3, 2 cases',
  ])
  expect(list('Decided').map(({ textContent }) => textContent)).toEqual(['date3a known defect, 2 cases'])
})

test('a key decides of the cause in the run it was found in, and the next one opens', async () => {
  const { asked, user } = open(desk(group('covered', 76), group('fare', 75)), {
    'POST /api/runs/76/causes/decisions': { ids: [9] },
  })
  expect(chosen()).toBe('covered')
  await user.keyboard('1')
  await waitFor(() => expect(chosen()).toBe('fare'))
  expect(posts(asked)).toEqual([
    [
      '/api/runs/76/causes/decisions',
      { as: 'product-defect', note: '', causes: [{ signature: 'covered', seen: null }] },
    ],
  ])
})

test('keys walk causes and failures, and lead into the log and the draft', async () => {
  const { goTo, user } = open(desk(group('covered', 76), group('fare', 75)))
  await user.keyboard('..,o')
  expect(goTo).toHaveBeenLastCalledWith('/attempts/covered-b')
  await user.keyboard('jd')
  expect(goTo).toHaveBeenLastCalledWith('/attempts/fare-a?draft=1')
  await user.keyboard('j')
  expect(chosen()).toBe('fare') // there is no further one
})

test('a decision is taken back; a refusal is told, and an attempt that is gone breaks nothing else', async () => {
  const { asked, user } = open(desk(group('covered', 76, { decision: decision('unclear') })), {
    'DELETE /api/triage/decisions/9': refusal(404, 'NOT_FOUND', 'It was taken back already.'),
  })
  expect((await screen.findByRole('alert')).textContent).toContain('There is no such attempt any more.')
  await user.keyboard('z')
  expect(await screen.findByText('It was taken back already.')).toBeTruthy()
  expect(posts(asked).map(([path]) => path)).toEqual(['/api/triage/decisions/9'])
  expect(screen.getByText(/width narrow: 3 of 3 failed/)).toBeTruthy()
})

test('without failures it says so; who may only look decides nothing', async () => {
  open(desk())
  expect(screen.getByRole('heading', { name: 'Nothing failed' })).toBeTruthy()
  const { asked, user } = open(desk(group('covered', 76)), {}, 'viewer')
  await user.keyboard('1z')
  expect(posts(asked)).toEqual([])
  expect(
    screen.getByRole<HTMLButtonElement>('button', { name: /A defect of the product|a defect of the product/ })
      .disabled,
  ).toBe(true)
})

test('other days are asked for, and stand in the address, whichever one came with', async () => {
  const { asked, user } = open(desk(group('covered', 76)), {
    'GET /api/triage?days=7': { ...desk(group('covered', 76), group('fare', 70)), days: 7 },
  })
  await user.selectOptions(screen.getByRole('combobox', { name: 'Runs of' }), 'a week')
  expect(await screen.findByText('2 causes of 6 failures; 2 to decide')).toBeTruthy()
  expect(asked.map(({ path }) => path)).toContain('/api/triage?days=7')
})

test('what was decided this week is told, and how soon', () => {
  open({ ...desk(group('covered', 76)), lately: { decided: 38, afterMs: 110_000 } })
  expect(screen.getByText('38 decided this week, half of them within 1 min 50 s of the run')).toBeTruthy()
})
