/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { render, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { ApiProblem } from '../api'
import '../testing/browser'
import { RemoveButton } from './RemoveButton'
import { setNotLiveSince } from './live-state'

function open(onRemove: () => Promise<void>) {
  render(
    <RemoveButton label="Remove GATE_PIN" title="Remove GATE_PIN" onRemove={onRemove}>
      2 cases name it; their steps will fail.
    </RemoveButton>,
  )
  return userEvent.setup()
}
const ask = (user: ReturnType<typeof userEvent.setup>) =>
  user.click(screen.getByRole('button', { name: 'Remove GATE_PIN' }))
const confirm = () => screen.getByRole('button', { name: 'Remove' })

test('it says what goes with it before anything happens; kept, nothing did', async () => {
  const onRemove = jest.fn(async () => {})
  const user = open(onRemove)
  await ask(user)
  expect(screen.getByRole('dialog').textContent).toContain('2 cases name it')
  await user.click(screen.getByRole('button', { name: 'Keep it' }))
  expect([onRemove.mock.calls.length, screen.queryByRole('dialog')]).toEqual([0, null])
})

test('confirmed, it is done once and the dialog closes', async () => {
  const onRemove = jest.fn(async () => {})
  const user = open(onRemove)
  await ask(user)
  await user.click(confirm())
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
  expect(onRemove).toHaveBeenCalledTimes(1)
})

test('a refusal is said in the dialog, which stays', async () => {
  const user = open(() => Promise.reject(new ApiProblem(409, 'IN_USE', 'A run that goes on uses it.')))
  await ask(user)
  await user.click(confirm())
  expect((await screen.findByRole('alert')).textContent).toBe('A run that goes on uses it.')
  expect(screen.getByRole('dialog')).toBeTruthy()
})

test('while the server is away it cannot be done, and says why', async () => {
  const onRemove = jest.fn(async () => {})
  const user = open(onRemove)
  await ask(user)
  setNotLiveSince(1)
  try {
    await waitFor(() => expect(confirm().getAttribute('aria-disabled')).toBe('true'))
    await user.click(confirm())
    expect(onRemove).not.toHaveBeenCalled()
  } finally {
    setNotLiveSince(undefined)
  }
})
