/** @jest-environment ./jest/page.cjs */
import { render, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { OutboxEntry } from '@/core/view-models'
import { answerWith, Around } from '../testing/around'
import { OutboxView } from './OutboxView'

const entry = (defectId: number, more: Partial<OutboxEntry> = {}): OutboxEntry => ({
  defectId,
  title: `Defect ${defectId}`,
  messageId: null,
  what: 'The defect',
  to: 'the tracker',
  by: 'Wren Adeyemi',
  since: '2026-12-01T09:00:00.000Z',
  tries: 3,
  problem: 'The tracker answers 503.',
  conflict: null,
  nextAt: null,
  ...more,
})
function open(entries: OutboxEntry[], role: 'viewer' | 'tester' = 'tester') {
  const asked = answerWith({ 'GET /api/outbox': entries, 'POST /api/outbox': { defects: entries.length } })
  render(
    <Around role={role}>
      <OutboxView initial={entries} />
    </Around>,
  )
  return asked
}
const rows = () => within(screen.getByRole('table')).getAllByRole('row').slice(1)

test('each says why it waits and when it is tried again, and what waits for a decision says so', () => {
  const conflict = { seen: 'open', now: 'in work', wanted: 'closed' }
  open([
    entry(1),
    entry(2, { tries: 0, problem: null, nextAt: '2020-01-01T00:00:00.000Z' }),
    entry(3, { messageId: 7, what: 'Closes it: Mended', conflict }),
  ])
  expect(screen.getByText('3 waiting, 1 for somebody to decide')).toBeTruthy()
  const [first, second, third] = rows().map(({ textContent }) => textContent)
  expect(first).toContain('The tracker answers 503.3 tries so far; it is not tried again by itself')
  expect(second).toContain('It is on its way.it is tried now')
  expect(third).toContain('It is in work at the tracker, and was open when this was said')
})

test('all of it is tried at a click, by who may', async () => {
  const asked = open([entry(1)])
  await userEvent.click(screen.getByRole('button', { name: 'Try all now' }))
  await waitFor(() => expect(asked.some(({ method }) => method === 'POST')).toBe(true))
})

test('who only reads tries nothing, and an empty one says what it is for', () => {
  open([entry(1)], 'viewer')
  expect(screen.queryByRole('button', { name: 'Try all now' })).toBeNull()
  open([])
  expect(screen.getByText('Nothing waits')).toBeTruthy()
})
