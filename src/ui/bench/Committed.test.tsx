/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Committed } from './Committed'

const field = () => screen.getByLabelText<HTMLInputElement>('Title')

test('what is written is taken over once: by Enter, or by leaving it', async () => {
  const onCommit = jest.fn()
  const { rerender } = render(<Committed label="Title" value="Board" onCommit={onCommit} />)
  const user = userEvent.setup()
  await user.click(field())
  await user.keyboard(' a party{Enter}')
  expect(onCommit.mock.calls).toEqual([['Board a party']])
  rerender(<Committed label="Title" value="Board a party" onCommit={onCommit} />)
  await user.tab()
  expect(onCommit).toHaveBeenCalledTimes(1)
})

test('Escape gives the old text back, and closes nothing around it', async () => {
  const [onCommit, around] = [jest.fn(), jest.fn()]
  render(
    <div onKeyDown={around} role="presentation">
      <Committed label="Title" value="Board" onCommit={onCommit} />
    </div>,
  )
  const user = userEvent.setup()
  await user.click(field())
  await user.keyboard('!')
  around.mockClear()
  await user.keyboard('{Escape}')
  expect(field().value).toBe('Board')
  expect(around).not.toHaveBeenCalled()
  await user.tab()
  expect(onCommit).not.toHaveBeenCalled()
})

test('a new value from outside replaces what stands there', () => {
  const { rerender } = render(<Committed label="Title" value="Board" onCommit={() => {}} />)
  rerender(<Committed label="Title" value="Refuse" onCommit={() => {}} />)
  expect(field().value).toBe('Refuse')
})

test('taken away while it is written into: what was written still counts', async () => {
  const onCommit = jest.fn()
  const { unmount } = render(<Committed label="Title" value="Board" onCommit={onCommit} />)
  await userEvent.type(field(), ' two')
  unmount()
  expect(onCommit.mock.calls).toEqual([['Board two']])
})

test('in a long one Enter with Shift begins a new line', async () => {
  const onCommit = jest.fn()
  render(<Committed label="Title" long value="" onCommit={onCommit} />)
  const user = userEvent.setup()
  await user.click(screen.getByLabelText('Title'))
  await user.keyboard('one{Shift>}{Enter}{/Shift}two')
  expect(onCommit).not.toHaveBeenCalled()
  await user.keyboard('{Enter}')
  expect(onCommit.mock.calls).toEqual([['one\ntwo']])
})

test('a field that cannot be empty gives the old text back when it is emptied', async () => {
  const onCommit = jest.fn()
  const { unmount } = render(<Committed label="Title" value="Board" needed onCommit={onCommit} />)
  const user = userEvent.setup()
  await user.clear(field())
  await user.tab()
  expect(field().value).toBe('Board')
  await user.clear(field())
  unmount()
  expect(onCommit).not.toHaveBeenCalled()
})
