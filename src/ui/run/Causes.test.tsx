/** @jest-environment jsdom */
import { jest } from '@jest/globals'
import { render, screen, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { RunCausesViewModel, RunCauseViewModel } from '@/core/view-models'
import { answerWith, Around, refusal } from '../testing/around'
import { Causes } from './Causes'

const cause = (title: string, count: number): RunCauseViewModel => ({
  signature: title,
  title,
  cases: 2,
  environments: { failed: 1, of: 3 },
  places: ['browser WebKit: 4 of 4 failed, elsewhere 0 of 8; by chance less than 1 in 1,000'],
  likely: [
    { cause: 'test-fault', likelihood: 0.62 },
    { cause: 'product-defect', likelihood: 0.2 },
  ],
  because: ['targets were not found'],
  members: Array.from({ length: count }, (_, i) => ({
    id: `${title} ${i}`,
    attemptId: `${title}-${i}`,
    title: `Case ${i}`,
    environment: 'WebKit, macOS',
    row: null,
  })),
})
const CAUSES: RunCausesViewModel = {
  of: 20,
  looked: 20,
  causes: [cause('Find sailings is not on the page', 15), cause('The fare is not so', 5)],
}

function open(answer: unknown = CAUSES, isOpen = false) {
  answerWith({ 'GET /api/runs/7/causes': answer })
  const go = jest.fn()
  Element.prototype.scrollIntoView ??= () => {}
  render(
    <Around>
      <Causes runId={7} failures={20} isOpen={isOpen} go={go} />
    </Around>,
  )
  return { go, user: userEvent.setup() }
}

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
  open({ of: 0, looked: 0, causes: [] })
  expect(await screen.findByText(/Nothing failed/)).toBeTruthy()
  open({ of: 0, looked: 0, causes: [] }, true)
  expect(await screen.findByText(/Nothing has failed so far/)).toBeTruthy()
})

test('too many are told, and a refusal has its words', async () => {
  open({ ...CAUSES, of: 6000, looked: 5000 })
  expect(await screen.findByText(/Only the first 5000 were looked at/)).toBeTruthy()
  open(refusal(503, 'TOOK_TOO_LONG', 'This took longer than it may.'))
  expect((await screen.findByRole('alert')).textContent).toContain('longer than it may')
})
