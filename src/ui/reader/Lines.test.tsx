/** @jest-environment ./jest/page.cjs */
import { render, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import type { OutlineLine } from '@/core/execution'
import { Around } from '../testing/around'
import { serveLog } from '../testing/log'
import { Lines } from './Lines'
import { LongList } from './LongList'
import { useLine } from './useLog'

const line = (path: string, object: string, mark: OutlineLine['mark'], onTheWay = false): OutlineLine => ({
  path,
  depth: path.split('.').length - 2,
  mark,
  words: { verb: 'press', object, detail: '' },
  onTheWay,
  failing: false,
  ms: 120,
  values: {},
  console: [],
  requests: [],
})
const LINES = [
  line('main.0', 'Scan', 'passed'),
  line('main.1', 'a block', 'failed', true),
  line('main.1.0', 'Board', 'passed'),
  line('main.1.1', 'Close', 'failed', true),
  line('main.2', 'Print', 'skipped'),
]

type Props = { lines?: OutlineLine[]; onSelect?(path: string): void }
function show({ lines = LINES, onSelect }: Props = {}) {
  const { head } = serveLog('a1', lines)
  function Log() {
    const [selected, setSelected] = useState<string>()
    const [fold, setFold] = useState(false)
    const [text, setText] = useState('')
    const [only, setOnly] = useState<string | null>(null)
    const [byPage, setByPage] = useState(false)
    const { data } = useLine('a1', selected, { fold, only, byPage })
    return (
      <Lines
        attemptId="a1"
        head={head}
        selected={selected}
        place={selected === undefined ? undefined : data}
        fold={fold}
        onFold={setFold}
        byPage={byPage}
        onByPage={setByPage}
        onSelect={(path) => {
          setSelected(path)
          onSelect?.(path)
        }}
        finding={{ text, only, onText: setText, onOnly: setOnly }}
      />
    )
  }
  return render(
    <Around>
      <Log />
    </Around>,
  )
}
const steps = () => within(screen.getByRole('listbox', { name: 'Steps' }))
const words = () =>
  steps()
    .queryAllByRole('option')
    .map(({ textContent }) => textContent)
const isChosen = (object: string) =>
  waitFor(() => expect(steps().queryByRole('option', { selected: true })?.textContent).toContain(object))
/** Until what was asked for has come. */
const counted = (count: number) => waitFor(() => expect(words()).toHaveLength(count))

test('arrows go along the lines, and stay at the ends; the chosen one is told', async () => {
  const chosen: string[] = []
  show({ onSelect: (path) => chosen.push(path) })
  await counted(5)
  const user = userEvent.setup()
  const list = screen.getByRole('listbox', { name: 'Steps' })
  list.focus()
  for (const [key, object] of [
    ['ArrowDown', 'Scan'],
    ['ArrowDown', 'a block'],
    ['ArrowUp', 'Scan'],
    ['ArrowUp', 'Scan'],
  ] as const) {
    await user.keyboard(`{${key}}`)
    await isChosen(object)
    await waitFor(() =>
      expect(document.getElementById(list.getAttribute('aria-activedescendant')!)?.textContent).toContain(
        object,
      ),
    )
  }
  expect(chosen).toEqual(['main.0', 'main.1', 'main.0'])
})

test('a line that has not come yet is not told to be the active one', async () => {
  serveLog('a1', LINES)
  const { fetch } = globalThis
  let release = (): void => {}
  const held = new Promise<void>((resolve) => (release = resolve))
  globalThis.fetch = async (address) => {
    await held
    return fetch(address)
  }
  render(
    <Around>
      <LongList
        label="Steps"
        rowPx={28}
        urlOf={() => '/api/attempts/a1/lines?from=0&count=100'}
        topics={[]}
        first={LINES.length}
        selected="main.0"
        index={0}
        activeId="line-main.0"
        onMove={() => {}}
      >
        {(one: OutlineLine) => <div key={one.path} role="option" id={`line-${one.path}`} aria-selected />}
      </LongList>
    </Around>,
  )
  const list = screen.getByRole('listbox', { name: 'Steps' })
  expect(list.hasAttribute('aria-activedescendant')).toBe(false)
  release()
  await waitFor(() => expect(list.getAttribute('aria-activedescendant')).toBe('line-main.0'))
  expect(document.getElementById('line-main.0')).not.toBeNull()
})

test('only the way to failures: the others are folded away, and come back', async () => {
  show()
  await counted(5)
  const user = userEvent.setup()
  await user.click(screen.getByRole('button', { name: 'Only the way to failures' }))
  await counted(2)
  await user.click(screen.getByRole('button', { name: 'Only the way to failures' }))
  await counted(5)
})

test('where nothing failed there is no way to fold to', () => {
  show({ lines: [LINES[0]!] })
  expect(screen.getByRole('button', { name: 'Only the way to failures' }).hasAttribute('disabled')).toBe(true)
})

test('what a mark means is said in words, and how long it took; not for what was skipped', async () => {
  show()
  await counted(5)
  expect(words()[3]).toMatch(/^failed.*Close.*0\.1 s$/)
  expect(words()[4]).not.toMatch(/ s$/)
})

test('of a long log a window is asked for and drawn', async () => {
  const lines = Array.from({ length: 20_000 }, (_, i) => line(`main.${i}`, `step ${i}`, 'passed'))
  const { asked } = serveLog('a1', lines)
  show({ lines })
  await waitFor(() => expect(words().length).toBeGreaterThan(10))
  expect(words().length).toBeLessThan(100)
  expect(asked.length).toBeLessThan(3)
})

test('what is found is counted and walked, round and round; nothing found is told', async () => {
  const user = userEvent.setup()
  const chosen: string[] = []
  show({ onSelect: (path) => chosen.push(path) })
  const field = screen.getByRole('textbox', { name: 'Find in the log' })
  const told = (text: string) => waitFor(() => expect(screen.getByRole('status').textContent).toBe(text))
  await user.type(field, 'b')
  await told('– of 2')
  for (const [keys, text] of [
    ['{Enter}', '1 of 2'],
    ['{Enter}', '2 of 2'],
    ['{Enter}', '1 of 2'],
    ['{Shift>}{Enter}{/Shift}', '2 of 2'],
  ] as const) {
    await user.keyboard(keys)
    await told(text)
  }
  expect(chosen).toEqual(['main.1', 'main.1.0', 'main.1', 'main.1.0'])
  await user.type(field, 'zz')
  await told('none')
})

test('the log is narrowed to a verb', async () => {
  const user = userEvent.setup()
  const check = { ...LINES[0]!, path: 'main.3', words: { verb: 'check', object: 'all', detail: '' } }
  show({ lines: [...LINES, check] })
  await user.selectOptions(screen.getByRole('combobox', { name: 'Only' }), 'checks')
  expect(await screen.findAllByRole('option', { name: /check all/ })).toHaveLength(1)
  await waitFor(() => expect(screen.queryByRole('option', { name: /Scan/ })).toBeNull())
})

test('by page: stays stand above what was done there, and keys pass over them', async () => {
  const done = (path: string, no: number, more: Partial<OutlineLine> = {}): OutlineLine => ({
    ...line(path, path, 'passed'),
    no,
    startMs: no * 10,
    ...more,
  })
  const selected: string[] = []
  show({
    lines: [
      done('main.0', 1, { page: { url: 'http://127.0.0.1/sailings', title: 'Sailings' } }),
      done('main.1', 2, { page: { url: 'http://127.0.0.1/fares', title: 'Fares' } }),
      done('main.2', 3),
    ],
    onSelect: (path) => selected.push(path),
  })
  await userEvent.click(screen.getByRole('button', { name: 'By page' }))
  expect(await screen.findByText('/sailings')).toBeTruthy()
  expect(screen.getByText('/fares')).toBeTruthy()
  expect(
    within(screen.getByRole('listbox'))
      .getAllByRole('option')
      .map((option) => option.dataset.path),
  ).toEqual(['main.0', 'main.1', 'main.2'])
  await userEvent.click(screen.getByText(/main.1/))
  screen.getByRole('listbox').focus()
  await userEvent.keyboard('{ArrowDown}')
  expect(selected.at(-1)).toBe('main.2')
})
