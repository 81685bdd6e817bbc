/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { render, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import '../testing/browser'
import { Button } from './Button'
import { HintedWords } from './Hint'

const hint = () => screen.queryByRole('tooltip')?.textContent ?? null

test('the tab key brings the words behind a word, Escape and going on take them away', async () => {
  render(
    <>
      <HintedWords text="Xvfb is missing">lacks 1</HintedWords>
      <button type="button">next</button>
    </>,
  )
  const user = userEvent.setup()
  expect(hint()).toBeNull()
  await user.tab()
  await waitFor(() => expect(hint()).toBe('Xvfb is missing'))
  const described = screen.getByText('lacks 1').getAttribute('aria-describedby')
  expect(document.getElementById(described!)?.textContent).toBe('Xvfb is missing')
  await user.keyboard('{Escape}')
  expect(hint()).toBeNull()
  await user.tab({ shift: true })
  await user.tab()
  await waitFor(() => expect(hint()).toBe('Xvfb is missing'))
  await user.tab()
  expect(hint()).toBeNull()
})

describe('a button that is off', () => {
  test('and says why can be reached, says it, and does nothing', async () => {
    const onClick = jest.fn()
    const onSubmit = jest.fn((event: React.FormEvent) => event.preventDefault())
    render(
      <form onSubmit={onSubmit}>
        <Button type="submit" disabled hint="Save first: a run takes what is saved" onClick={onClick}>
          Start
        </Button>
      </form>,
    )
    const user = userEvent.setup()
    await user.tab()
    await waitFor(() => expect(hint()).toBe('Save first: a run takes what is saved'))
    expect(screen.getByRole('button').getAttribute('aria-disabled')).toBe('true')
    await user.keyboard('{Enter} ')
    await user.click(screen.getByRole('button'))
    expect([onClick.mock.calls.length, onSubmit.mock.calls.length]).toEqual([0, 0])
  })

  test('and has nothing to say is out of the way of the tab key', async () => {
    render(<Button disabled>Start</Button>)
    await userEvent.tab()
    expect(document.activeElement).toBe(document.body)
  })
})

test('a button that is on does what it does, hint or not', async () => {
  const onClick = jest.fn()
  render(
    <Button hint="Ctrl+S" onClick={onClick}>
      Save
    </Button>,
  )
  await userEvent.click(screen.getByRole('button'))
  expect(onClick).toHaveBeenCalledTimes(1)
})
