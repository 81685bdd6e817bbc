/** @jest-environment ./jest/page.cjs */
import { fireEvent, render, screen } from '@testing-library/react'
import type { LineRow } from '@/core/execution'
import type { BesideRow } from '@/core/view-models'
import { Around, answerWith } from '../testing/around'
import { Beside } from './Beside'

const line = (path: string, object: string, more: Partial<LineRow> = {}): LineRow => ({
  path,
  depth: 0,
  words: { verb: 'click', object, detail: '' },
  mark: 'passed',
  onTheWay: false,
  failing: false,
  ...more,
})
const ROWS: BesideRow[] = [
  { kind: 'same', values: [], differs: false, then: line('main.0', 'Book'), now: line('main.0', 'Book') },
  { kind: 'removed', values: [], differs: true, then: line('main.1', 'Pay') },
  {
    kind: 'same',
    values: [],
    differs: true,
    then: line('main.2', 'Print'),
    now: line('main.1', 'Print', { mark: 'failed', failing: true }),
  },
]

function show() {
  answerWith({ 'GET /api/attempts/a1/beside/a0?from=0&count=200': { total: 3, rows: ROWS } })
  const chosen: string[] = []
  render(
    <Around>
      <Beside
        attemptId="a1"
        compared={{ id: 'a0', total: 3, differing: 2, place: { index: 0, next: 'main.1' } }}
        selected="main.0"
        onSelect={(path) => chosen.push(path)}
        onClose={() => chosen.push('closed')}
      >
        then
      </Beside>
    </Around>,
  )
  return chosen
}

test('what differs is counted, and each step of both is there', async () => {
  show()
  expect(screen.getByText('2 of 3 differ')).not.toBeNull()
  expect((await screen.findAllByRole('option')).map((row) => row.getAttribute('data-kind'))).toEqual([
    'same',
    'removed',
    'outcome',
  ])
  expect(screen.getByText('not there now')).not.toBeNull()
})

test('keys go from step to step of now; what was only then has none to select', async () => {
  const chosen = show()
  const list = screen.getByRole('listbox', { name: 'Steps then and now' })
  fireEvent.keyDown(list, { key: 'ArrowDown' })
  fireEvent.keyDown(list, { key: 'ArrowUp' })
  fireEvent.click(await screen.findByText('not there now'))
  fireEvent.click(screen.getByRole('button', { name: /This attempt alone/ }))
  expect(chosen).toEqual(['main.1', 'closed'])
})
