/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Select, TextField, titled } from './fields'

const ROUTINES = [
  { key: 'sign-in', title: 'Sign in' },
  { key: 'gate-open', title: 'Gate open' },
]
const options = () => screen.getAllByRole('option').map(({ textContent }) => textContent)

test('a choice tells its value', async () => {
  const onChoose = jest.fn()
  render(<Select aria-label="Routine" value="sign-in" onChoose={onChoose} choices={titled(ROUTINES)} />)
  expect(options()).toEqual(['Sign in', 'Gate open'])
  await userEvent.selectOptions(screen.getByLabelText('Routine'), 'Gate open')
  expect(onChoose).toHaveBeenCalledWith('gate-open')
})

test('a value that is not offered is shown as one that is not there, and stays chosen', () => {
  render(<Select aria-label="Routine" value="gone" onChoose={() => {}} choices={titled(ROUTINES)} />)
  expect(options()).toEqual(['gone (is not there)', 'Sign in', 'Gate open'])
  expect((screen.getByLabelText('Routine') as HTMLSelectElement).value).toBe('gone')
})

test('no value is the choice that stands first, and is not missed', () => {
  render(
    <Select aria-label="Routine" value="" onChoose={() => {}} choices={titled(ROUTINES)}>
      <option value="">a fresh browser</option>
    </Select>,
  )
  expect(options()).toEqual(['a fresh browser', 'Sign in', 'Gate open'])
})

test('a width replaces the usual one', () => {
  render(<TextField aria-label="Key" width="w-32" mono />)
  const { classList } = screen.getByLabelText('Key')
  expect([classList.contains('w-32'), classList.contains('w-full'), classList.contains('font-mono')]).toEqual(
    [true, false, true],
  )
})
