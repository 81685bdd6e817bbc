/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import type { Path, Place } from '@/core/model'
import '../testing/browser'
import { TreeList } from './TreeList'
import { idOf, type TreeRow } from './rows'

const row = (path: Path, title: string, more: Partial<TreeRow> = {}): TreeRow => ({
  id: idOf(path),
  path,
  depth: (path.length - 2) / 2,
  title,
  ...more,
})
const ROWS = [
  row(['steps', 0], 'open gate:/'),
  row(['steps', 1], 'block', { holds: 'steps', group: true }),
  row(['steps', 1, 'steps', 0], 'press Scan'),
  row(['steps', 1, 'steps', 1], 'press Board'),
  row(['steps', 2], 'check Boarded'),
  row(['other', 0], 'of another file', { fixed: true }),
]

type Moves = (paths: Path[], place: Place) => void
function Steps({
  onMove,
  onOpen,
  rows = ROWS,
}: {
  onMove?: Moves
  onOpen?(row: TreeRow): void
  rows?: TreeRow[]
}) {
  const [selected, setSelected] = useState<string[]>([])
  return (
    <TreeList
      label="Steps"
      rows={rows}
      selected={selected}
      onSelect={setSelected}
      {...(onMove && { onMove })}
      {...(onOpen && { onOpen })}
      scrolls
    >
      {({ title }) => <span>{title}</span>}
    </TreeList>
  )
}
const chosen = () =>
  screen.queryAllByRole('treeitem', { selected: true }).map(({ textContent }) => textContent)
const tree = () => screen.getByRole('tree', { name: 'Steps' })
const active = () => document.getElementById(tree().getAttribute('aria-activedescendant') ?? '')?.textContent

describe('by keys', () => {
  test('arrows choose one after the other and stop at the ends; the active one is told', async () => {
    render(<Steps />)
    const user = userEvent.setup()
    await user.tab()
    await user.keyboard('{ArrowDown}')
    expect([chosen(), active()]).toEqual([['open gate:/'], 'open gate:/'])
    await user.keyboard('{ArrowUp}{ArrowDown}{ArrowDown}')
    expect(chosen()).toEqual(['press Scan'])
    await user.keyboard('{End}{ArrowDown}')
    expect(chosen()).toEqual(['of another file'])
    await user.keyboard('{Home}')
    expect(chosen()).toEqual(['open gate:/'])
    await user.keyboard('{Escape}')
    expect(chosen()).toEqual([])
  })

  test('with Shift a range, back over its beginning too', async () => {
    render(<Steps />)
    const user = userEvent.setup()
    await user.click(screen.getByText('press Scan'))
    await user.keyboard('{Shift>}{ArrowDown}{ArrowDown}{/Shift}')
    expect(chosen()).toEqual(['press Scan', 'press Board', 'check Boarded'])
    await user.keyboard('{Shift>}{ArrowUp}{ArrowUp}{ArrowUp}{/Shift}')
    expect(chosen()).toEqual(['block', 'press Scan'])
  })

  test('Ctrl+A chooses all that can be moved', async () => {
    render(<Steps />)
    const user = userEvent.setup()
    await user.tab()
    await user.keyboard('{Control>}a{/Control}')
    expect(chosen()).toHaveLength(5)
  })

  test('Enter opens the active one', async () => {
    const onOpen = jest.fn()
    render(<Steps onOpen={onOpen} />)
    const user = userEvent.setup()
    await user.tab()
    await user.keyboard('{Enter}')
    expect(onOpen).not.toHaveBeenCalled()
    await user.keyboard('{ArrowDown}{Enter}')
    expect(onOpen).toHaveBeenCalledWith(ROWS[0])
  })

  test.each<[string, string, string, Place]>([
    ['down, over a whole block', 'open gate:/', '{ArrowDown}', { list: ['steps'], at: 2 }],
    ['up, out of a block at its beginning', 'press Scan', '{ArrowUp}', { list: ['steps'], at: 1 }],
    [
      'in, at the end of what stands above',
      'check Boarded',
      '{ArrowRight}',
      { list: ['steps', 1, 'steps'], at: 2 },
    ],
    ['out, behind what held it', 'press Board', '{ArrowLeft}', { list: ['steps'], at: 2 }],
  ])('with Alt moved %s', async (_, title, key, place) => {
    const onMove = jest.fn<Moves>()
    render(<Steps onMove={onMove} />)
    const user = userEvent.setup()
    await user.click(screen.getByText(title))
    await user.keyboard(`{Alt>}${key}{/Alt}`)
    expect(onMove.mock.calls).toEqual([[[ROWS.find((one) => one.title === title)!.path], place]])
  })

  test('what goes along with its block is not moved twice, what belongs to another file not at all', async () => {
    const onMove = jest.fn<Moves>()
    render(<Steps onMove={onMove} />)
    const user = userEvent.setup()
    await user.click(screen.getByText('block'))
    await user.keyboard('{Shift>}{ArrowDown}{ArrowDown}{/Shift}')
    await user.keyboard('{Alt>}{ArrowUp}{/Alt}')
    expect(onMove.mock.calls).toEqual([[[['steps', 1]], { list: ['steps'], at: 0 }]])
    await user.click(screen.getByText('of another file'))
    await user.keyboard('{Alt>}{ArrowUp}{/Alt}')
    expect(onMove).toHaveBeenCalledTimes(1)
  })

  test('where there is no way nothing moves, and a tree that is only read moves nothing', async () => {
    const onMove = jest.fn<Moves>()
    const { unmount } = render(<Steps onMove={onMove} />)
    const user = userEvent.setup()
    await user.click(screen.getByText('open gate:/'))
    await user.keyboard('{Alt>}{ArrowUp}{ArrowLeft}{ArrowRight}{/Alt}')
    expect(onMove).not.toHaveBeenCalled()
    unmount()
    render(<Steps />)
    await user.click(screen.getByText('check Boarded'))
    await user.keyboard('{Alt>}{ArrowUp}{/Alt}')
    expect(chosen()).toEqual(['check Boarded'])
  })
})

test('by mouse: one, several with Ctrl, a range with Shift; a double click opens', async () => {
  const onOpen = jest.fn()
  render(<Steps onOpen={onOpen} />)
  const user = userEvent.setup()
  await user.click(screen.getByText('press Scan'))
  await user.keyboard('{Control>}')
  await user.click(screen.getByText('check Boarded'))
  expect(chosen()).toEqual(['press Scan', 'check Boarded'])
  await user.click(screen.getByText('press Scan'))
  await user.keyboard('{/Control}')
  expect(chosen()).toEqual(['check Boarded'])
  await user.click(screen.getByText('open gate:/'))
  await user.keyboard('{Shift>}')
  await user.click(screen.getByText('press Scan'))
  await user.keyboard('{/Shift}')
  expect(chosen()).toEqual(['open gate:/', 'block', 'press Scan'])
  await user.dblClick(screen.getByText('check Boarded'))
  expect(onOpen).toHaveBeenCalledWith(ROWS[4])
})

test('keys in a field of a line are the field’s', async () => {
  const onMove = jest.fn<Moves>()
  render(
    <TreeList label="Steps" rows={ROWS} selected={['steps.0']} onSelect={() => {}} onMove={onMove}>
      {({ title }) => <input aria-label={title} />}
    </TreeList>,
  )
  const user = userEvent.setup()
  await user.click(screen.getByLabelText('press Scan'))
  await user.keyboard('{Alt>}{ArrowDown}{/Alt}')
  expect(onMove).not.toHaveBeenCalled()
})

test('of a long tree only a window is drawn, and how long it is is told', () => {
  const rows = Array.from({ length: 5000 }, (_, i) => row(['steps', i], `step ${i}`))
  render(<Steps rows={rows} />)
  expect(screen.getAllByRole('treeitem').length).toBeLessThan(100)
  expect(tree().dataset.rows).toBe('5000')
})
