/** @jest-environment ./jest/page.cjs */
import { useLayoutEffect } from 'react'
import { jest } from '@jest/globals'
import { fireEvent, render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import '../testing/browser'
import { KeysHelp, useKeys, type KeyAction } from './keys'

function View({ keys, children }: { keys: KeyAction[]; children?: React.ReactNode }) {
  useKeys(keys)
  return <div>{children}</div>
}
const pause = (run = jest.fn(), more: Partial<KeyAction> = {}): KeyAction => ({
  key: 'p',
  what: 'pause the run',
  run,
  ...more,
})

test('a key of a view does what it is for, with what the view knows by then', async () => {
  const [first, second] = [jest.fn(), jest.fn()]
  const { rerender, unmount } = render(<View keys={[pause(first)]} />)
  await userEvent.keyboard('p')
  rerender(<View keys={[pause(second)]} />)
  await userEvent.keyboard('p')
  unmount()
  await userEvent.keyboard('p')
  expect([first.mock.calls.length, second.mock.calls.length]).toEqual([1, 1])
})

test('a key does what it is for as soon as the view is drawn', () => {
  const run = jest.fn()
  const Quick = () => {
    useLayoutEffect(() => void fireEvent.keyDown(document.body, { key: 'p' }))
    return <View keys={[pause(run)]} />
  }
  render(<Quick />)
  expect(run).toHaveBeenCalledTimes(1)
})

test.each(['{Control>}p{/Control}', '{Meta>}p{/Meta}', '{Alt>}p{/Alt}'])(
  '%s is another key',
  async (keys) => {
    const run = jest.fn()
    render(<View keys={[pause(run)]} />)
    await userEvent.keyboard(keys)
    expect(run).not.toHaveBeenCalled()
  },
)

test('one that is off does nothing', async () => {
  const run = jest.fn()
  render(<View keys={[pause(run, { off: true })]} />)
  await userEvent.keyboard('p')
  expect(run).not.toHaveBeenCalled()
})

test.each([
  ['a field', <input key="f" aria-label="here" />],
  ['a long field', <textarea key="f" aria-label="here" />],
  ['a choice', <select key="f" aria-label="here" />],
])('%s keeps what is typed into it', async (_, field) => {
  const run = jest.fn()
  render(<View keys={[pause(run)]}>{field}</View>)
  await userEvent.click(screen.getByLabelText('here'))
  await userEvent.keyboard('p')
  expect(run).not.toHaveBeenCalled()
})

test('a box that was ticked takes no letters', async () => {
  const run = jest.fn()
  render(
    <View keys={[pause(run)]}>
      <input type="checkbox" aria-label="only failures" />
    </View>,
  )
  await userEvent.click(screen.getByLabelText('only failures'))
  await userEvent.keyboard('p')
  expect(run).toHaveBeenCalledTimes(1)
})

test('while a dialog is open, keys are the dialog’s', async () => {
  const run = jest.fn()
  render(
    <View keys={[pause(run)]}>
      <div role="dialog" aria-label="Start" />
    </View>,
  )
  await userEvent.keyboard('p')
  expect(run).not.toHaveBeenCalled()
})

test('“?” lists the keys of what is on the page now', async () => {
  const { rerender } = render(
    <>
      <KeysHelp />
      <View keys={[pause()]} />
    </>,
  )
  await userEvent.keyboard('?')
  expect(screen.getByRole('dialog').textContent).toContain('pause the run')
  rerender(
    <>
      <KeysHelp />
      <View keys={[pause(jest.fn(), { what: 'go on with the run' })]} />
    </>,
  )
  expect(screen.getByRole('dialog').textContent).toContain('go on with the run')
  expect(screen.getByRole('dialog').textContent).not.toContain('pause the run')
  await userEvent.keyboard('{Escape}')
  expect(screen.queryByRole('dialog')).toBeNull()
})
