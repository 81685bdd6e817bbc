/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { act, render, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { CauseDecision, RunCausesViewModel, RunCauseViewModel } from '@/core/view-models'
import { answerWith, Around, refusal, type Answers } from '../testing/around'
import { Causes } from './Causes'

const cause = (title: string, count: number): RunCauseViewModel => ({
  signature: title,
  failures: count,
  title,
  cases: 2,
  environments: { failed: 1, of: 3 },
  places: ['browser WebKit: 4 of 4 failed, elsewhere 0 of 8; by chance less than 1 in 1,000'],
  likely: [
    { cause: 'test-fault', likelihood: 0.62 },
    { cause: 'product-defect', likelihood: 0.2 },
  ],
  because: ['targets were not found'],
  isNew: true,
  requirements: [],
  decision: null,
  members: Array.from({ length: count }, (_, i) => ({
    id: `${title} ${i}`,
    attemptId: `${title}-${i}`,
    title: `Case ${i}`,
    environment: 'WebKit, macOS',
    environmentKey: 'WebKit, macOS',
    row: null,
    caseKey: 'gate-boarding',
    agent: 'maren-02',
    kind: 'check',
    path: 'main.2.1',
  })),
})
const CAUSES: RunCausesViewModel = {
  of: 20,
  looked: 20,
  learntFrom: 0,
  causes: [cause('Find sailings is not on the page', 15), cause('The fare is not so', 5)],
}

type Given = { isOpen?: boolean; role?: 'viewer' | 'tester'; more?: Answers }

function open(answer: unknown = CAUSES, { isOpen = false, role = 'tester', more = {} }: Given = {}) {
  const asked = answerWith({ 'GET /api/runs/7/causes': answer, ...more })
  const go = jest.fn()
  Element.prototype.scrollIntoView ??= () => {}
  render(
    <Around role={role}>
      <Causes runId={7} failures={20} isOpen={isOpen} go={go} />
    </Around>,
  )
  return { asked, go, user: userEvent.setup() }
}

const DECIDE = 'POST /api/runs/7/causes/decisions'
const decided = (id: number, more: Partial<CauseDecision> = {}): CauseDecision => ({
  id,
  as: 'test-fault',
  note: 'a new label',
  build: '2026.11.4',
  by: 'Joss Amadi',
  at: '2026-12-01T08:00:00Z',
  stands: true,
  defect: null,
  ...more,
})
const items = (list: string) => within(screen.getByRole('list', { name: list })).getAllByRole('heading')
const sent = (asked: ReturnType<typeof answerWith>) => asked.filter(({ method }) => method !== 'GET')

test('twenty marks are two causes; keys go from one to the next and into its first failure', async () => {
  const { go, user } = open()
  expect(await screen.findByText(/20 failures, 2 causes/)).toBeTruthy()
  const [first, second] = screen
    .getAllByRole('listitem')
    .filter((item) => within(item).queryByRole('heading'))
  expect(first!.textContent).toContain('62 % likely a fault of the test')
  expect(first!.textContent).toContain('and 3 more') // the chosen one shows more of its members
  expect(second!.textContent).toContain('and 3 more')
  await user.keyboard('jo')
  expect(go).toHaveBeenCalledWith('/attempts/The fare is not so-0')
})

test('Enter on a link follows that link, and no other', async () => {
  const { go, user } = open()
  const link = (await screen.findAllByRole('link', { name: 'Case 1' }))[0]!
  link.addEventListener('click', (event) => event.preventDefault())
  const followed = jest.fn()
  link.addEventListener('click', followed)
  link.focus()
  await user.keyboard('{Enter}')
  expect([followed.mock.calls.length, go.mock.calls.length]).toEqual([1, 0])
})

test('a run in which nothing failed, and one that goes on, say so', async () => {
  open({ of: 0, looked: 0, learntFrom: 0, causes: [] })
  expect(await screen.findByText(/Nothing failed/)).toBeTruthy()
  open({ of: 0, looked: 0, learntFrom: 0, causes: [] }, { isOpen: true })
  expect(await screen.findByText(/Nothing has failed so far/)).toBeTruthy()
})

test('too many are told, and a refusal has its words', async () => {
  open({ ...CAUSES, of: 6000, looked: 5000 })
  expect(await screen.findByText(/Only the first 5000 were looked at/)).toBeTruthy()
  open(refusal(503, 'TOOK_TOO_LONG', 'This took longer than it may.'))
  expect((await screen.findByRole('alert')).textContent).toContain('longer than it may')
})

test('one key decides for all failures of a cause, with a word, and goes on to the next', async () => {
  const [first, second] = CAUSES.causes as [RunCauseViewModel, RunCauseViewModel]
  let causes = [first, second]
  const { asked, user } = open(() => ({ ...CAUSES, causes }), {
    more: {
      [DECIDE]: () => {
        causes = [second, { ...first, decision: decided(5) }]
        return { ids: [5] }
      },
    },
  })
  await user.type(await screen.findByRole('textbox', { name: 'A word on it' }), 'a new label 3')
  expect(sent(asked)).toEqual([]) // a figure that is typed decides nothing
  await user.tab()
  await user.keyboard('3')
  await waitFor(() => expect(items('Decided causes')).toHaveLength(1))
  expect(sent(asked)).toEqual([
    {
      method: 'POST',
      path: '/api/runs/7/causes/decisions',
      body: { as: 'test-fault', note: 'a new label 3', causes: [{ signature: first.signature, seen: null }] },
    },
  ])
  expect(items('Causes to decide').map(({ textContent }) => textContent)).toEqual([second.title])
  expect(screen.getByRole('list', { name: 'Decided causes' }).textContent).toContain(
    'Stands for failures of build 2026.11.4',
  )
  expect(screen.getByRole<HTMLInputElement>('textbox', { name: 'A word on it' }).value).toBe('')
})

test('several are marked and decided at once; a click says the same', async () => {
  const { asked, user } = open(CAUSES, { more: { [DECIDE]: { ids: [5, 6] } } })
  await screen.findByText(/2 causes/)
  await user.keyboard('vjv')
  expect(screen.getByText('These 2 are')).toBeTruthy()
  await user.click(screen.getByRole('button', { name: /not a failure/ }))
  await waitFor(() => expect(sent(asked)).toHaveLength(1))
  expect(sent(asked)[0]!.body).toMatchObject({
    as: 'no-failure',
    causes: CAUSES.causes.map(({ signature }) => ({ signature, seen: null })),
  })
})

test('who decided meanwhile is told, and nothing of one’s own is lost', async () => {
  const other = refusal(409, 'CHANGED_MEANWHILE', 'Joss Amadi decided this meanwhile.')
  const { user } = open(CAUSES, { more: { [DECIDE]: other } })
  await user.type(await screen.findByRole('textbox', { name: 'A word on it' }), 'seen before')
  await user.tab()
  await user.keyboard('1')
  expect((await screen.findByRole('alert')).textContent).toContain('Joss Amadi decided this meanwhile.')
  expect(screen.getByRole<HTMLInputElement>('textbox', { name: 'A word on it' }).value).toBe('seen before')
})

test('a decision is taken back; one of another build is told, and asked for again', async () => {
  const [first, second] = CAUSES.causes as [RunCauseViewModel, RunCauseViewModel]
  const before = { ...second, decision: decided(4, { stands: false, build: '2026.11.3' }) }
  const { asked, user } = open(
    { ...CAUSES, causes: [before, { ...first, decision: decided(5) }] },
    { more: { 'DELETE /api/triage/decisions/5': {} } },
  )
  await screen.findByText(/2 causes/)
  expect(screen.getByRole('list', { name: 'Causes to decide' }).textContent).toContain(
    'Of build 2026.11.3: look again',
  )
  await user.keyboard('jz')
  await waitFor(() => expect(sent(asked).map(({ path }) => path)).toEqual(['/api/triage/decisions/5']))
})

test('who may only look sees what was decided, and decides nothing', async () => {
  const { asked, user } = open(CAUSES, { role: 'viewer' })
  await screen.findByText(/2 causes/)
  expect(screen.queryByRole('group', { name: 'Decide' })).toBeNull()
  await user.keyboard('1vz')
  expect(sent(asked)).toEqual([])
})

/** All before the page is drawn once more. */
const atOnce = (keys: string) =>
  act(() => {
    for (const key of keys) window.dispatchEvent(new KeyboardEvent('keydown', { key }))
  })

test('keys that come faster than the page is drawn mean what the key before chose', async () => {
  const { asked } = open(CAUSES, { more: { [DECIDE]: { ids: [5, 6] } } })
  await screen.findByText(/2 causes/)
  atOnce('vjv6')
  await waitFor(() => expect(sent(asked)).toHaveLength(1))
  expect(sent(asked)[0]!.body).toMatchObject({
    as: 'intended-change',
    causes: CAUSES.causes.map(({ signature }) => ({ signature })),
  })
})

test('a key that is held or struck twice decides once', async () => {
  const { asked } = open(CAUSES, { more: { [DECIDE]: { ids: [5] } } })
  await screen.findByText(/2 causes/)
  atOnce('j33')
  await waitFor(() => expect(sent(asked)).toHaveLength(1))
  await screen.findByText(/2 causes/)
  expect(sent(asked).map(({ body }) => (body as { causes: unknown }).causes)).toEqual([
    [{ signature: CAUSES.causes[1]!.signature, seen: null }],
  ])
})
