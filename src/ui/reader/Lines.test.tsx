/** @jest-environment jsdom */
import { jest } from '@jest/globals'
import { render, screen, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import type { OutlineLine } from '@/core/execution'
import '../testing/browser'
import { Lines } from './Lines'

const line = (path: string, object: string, mark: OutlineLine['mark'], onTheWay = false): OutlineLine =>
  ({
    path,
    depth: path.split('.').length - 2,
    mark,
    words: { verb: 'press', object, detail: '' },
    onTheWay,
    ms: 120,
    values: {},
    console: [],
    requests: [],
  }) as unknown as OutlineLine
const LINES = [
  line('main.0', 'Scan', 'passed'),
  line('main.1', 'a block', 'failed', true),
  line('main.1.0', 'Board', 'passed'),
  line('main.1.1', 'Close', 'failed', true),
  line('main.2', 'Print', 'skipped'),
]

function Log({
  lines = LINES,
  onSelect = () => {},
}: {
  lines?: OutlineLine[]
  onSelect?(path: string): void
}) {
  const [selected, setSelected] = useState<string>()
  const [fold, setFold] = useState(false)
  const [text, setText] = useState('')
  const [only, setOnly] = useState<string | null>(null)
  const select = ({ path }: OutlineLine) => {
    setSelected(path)
    onSelect(path)
  }
  return (
    <Lines
      lines={lines}
      selected={selected}
      fold={fold}
      onFold={setFold}
      onSelect={select}
      finding={{ text, only, onText: setText, onOnly: setOnly }}
    />
  )
}
const steps = () => within(screen.getByRole('listbox', { name: 'Steps' }))
const words = () =>
  steps()
    .queryAllByRole('option')
    .map(({ textContent }) => textContent)
const chosen = () => steps().queryByRole('option', { selected: true })?.textContent

test('arrows go along the lines, and stay at the ends; the chosen one is told', async () => {
  const onSelect = jest.fn()
  render(<Log onSelect={onSelect} />)
  const user = userEvent.setup()
  screen.getByRole('listbox', { name: 'Steps' }).focus()
  await user.keyboard('{ArrowDown}{ArrowDown}{ArrowUp}{ArrowUp}')
  expect(onSelect.mock.calls.map(([path]) => path)).toEqual(['main.0', 'main.1', 'main.0', 'main.0'])
  const list = screen.getByRole('listbox')
  expect(document.getElementById(list.getAttribute('aria-activedescendant')!)?.textContent).toBe(chosen())
})

test('only the way to failures: the others are folded away, and come back', async () => {
  render(<Log />)
  const user = userEvent.setup()
  await user.click(screen.getByRole('button', { name: 'Only the way to failures' }))
  expect(words()).toHaveLength(2)
  await user.click(screen.getByRole('button', { name: 'Only the way to failures' }))
  expect(words()).toHaveLength(5)
})

test('where nothing failed there is no way to fold to', () => {
  render(<Log lines={[LINES[0]!]} />)
  expect(screen.getByRole('button', { name: 'Only the way to failures' }).hasAttribute('disabled')).toBe(true)
})

test('what a mark means is said in words, and how long it took; not for what was skipped', () => {
  render(<Log />)
  expect(words()[3]).toMatch(/^failed.*Close.*0\.1 s$/)
  expect(words()[4]).not.toMatch(/ s$/)
})

test('of a long log a window is drawn', () => {
  render(<Log lines={Array.from({ length: 20_000 }, (_, i) => line(`main.${i}`, `step ${i}`, 'passed'))} />)
  expect(words().length).toBeLessThan(100)
  expect(words().length).toBeGreaterThan(10)
})

test('what is found is counted and walked, round and round; nothing found is told', async () => {
  const user = userEvent.setup()
  const chosen: string[] = []
  render(<Log onSelect={(path) => chosen.push(path)} />)
  const field = screen.getByRole('textbox', { name: 'Find in the log' })
  await user.type(field, 'b')
  expect(screen.getByRole('status').textContent).toBe('– of 2')
  await user.keyboard('{Enter}{Enter}{Enter}{Shift>}{Enter}{/Shift}')
  expect(chosen).toEqual(['main.1', 'main.1.0', 'main.1', 'main.1.0'])
  expect(screen.getByRole('status').textContent).toBe('2 of 2')
  await user.type(field, 'zz')
  expect(screen.getByRole('status').textContent).toBe('none')
})

test('the log is narrowed to a verb', async () => {
  const user = userEvent.setup()
  render(
    <Log
      lines={[
        ...LINES,
        { ...LINES[0]!, path: 'main.3', words: { verb: 'check', object: 'all', detail: '' } },
      ]}
    />,
  )
  await user.selectOptions(screen.getByRole('combobox', { name: 'Only' }), 'checks')
  expect(screen.getAllByRole('option', { name: /check all/ })).toHaveLength(1)
  expect(screen.queryByRole('option', { name: /Scan/ })).toBeNull()
})
