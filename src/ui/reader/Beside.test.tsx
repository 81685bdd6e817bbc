/** @jest-environment jsdom */
import { fireEvent, render, screen } from '@testing-library/react'
import { align, type OutlineLine } from '@/core/execution'
import '../testing/browser'
import { Beside } from './Beside'

const line = (path: string, object: string, more: Partial<OutlineLine> = {}): OutlineLine => ({
  path,
  depth: 0,
  words: { verb: 'click', object, detail: '' },
  mark: 'passed',
  values: {},
  console: [],
  requests: [],
  onTheWay: false,
  failing: false,
  ...more,
})
const then = [line('main.0', 'Book'), line('main.1', 'Pay'), line('main.2', 'Print')]
const now = [line('main.0', 'Book'), line('main.1', 'Print', { mark: 'failed', failing: true })]

function show(selected = 'main.0') {
  const chosen: string[] = []
  render(
    <Beside
      rows={align(then, now)}
      then={then}
      now={now}
      selected={selected}
      onSelect={({ path }) => chosen.push(path)}
      onClose={() => chosen.push('closed')}
    >
      then
    </Beside>,
  )
  return chosen
}

test('what differs is counted, and each step of both is there', () => {
  show()
  expect(screen.getByText('2 of 3 differ')).not.toBeNull()
  expect(screen.getAllByRole('option').map((row) => row.getAttribute('data-kind'))).toEqual([
    'same',
    'removed',
    'outcome',
  ])
  expect(screen.getByText('not there now')).not.toBeNull()
})

test('keys go from step to step of now, over what was only then', () => {
  const chosen = show()
  const list = screen.getByRole('listbox', { name: 'Steps then and now' })
  fireEvent.keyDown(list, { key: 'ArrowDown' })
  fireEvent.keyDown(list, { key: 'ArrowUp' })
  fireEvent.click(screen.getByText('not there now'))
  fireEvent.click(screen.getByRole('button', { name: /This attempt alone/ }))
  expect(chosen).toEqual(['main.1', 'closed'])
})
