/** @jest-environment ./jest/page.cjs */
import { act, fireEvent, render, screen } from '@testing-library/react'
import { jest } from '@jest/globals'
import { SignIn } from './SignIn'

const form = () => document.querySelector('form')!
const name = () => screen.getByLabelText<HTMLInputElement>('Name')
beforeEach(() => sessionStorage.clear())

test('it is a form of the page itself, posted: nothing of it stands in an address', () => {
  render(<SignIn to="/runs/12" />)
  expect([form().method, form().getAttribute('action')]).toEqual(['post', '/api/sign-in'])
  expect(document.querySelector<HTMLInputElement>('input[name=to]')?.value).toBe('/runs/12')
  expect(screen.getByLabelText<HTMLInputElement>('Password').type).toBe('password')
  expect(screen.queryByLabelText('Code')).toBeNull()
})

test('who has to try again does not write their name again', () => {
  const { unmount } = render(<SignIn to="/" />)
  fireEvent.change(name(), { target: { value: 'wren' } })
  fireEvent.submit(form())
  unmount()
  render(<SignIn to="/" problem="SIGN_IN_WRONG" />)
  expect(name().value).toBe('wren')
  expect(screen.getByRole('alert').textContent).toBe('The name or the password is not right.')
})

test.each(['CODE_MISSING', 'CODE_WRONG'])('after %s it asks for the code', (problem) => {
  render(<SignIn to="/" problem={problem} />)
  expect(screen.getByLabelText<HTMLInputElement>('Code').autocomplete).toBe('one-time-code')
})

test('a code it does not know says nothing', () => {
  render(<SignIn to="/" problem="<b>SOMETHING</b>" />)
  expect(screen.queryByRole('alert')).toBeNull()
})

test('after too many tries it counts down, and says when one may try again', () => {
  jest.useFakeTimers()
  try {
    render(<SignIn to="/" problem="SIGN_IN_WAIT" waitMs={2500} />)
    expect(screen.getByRole('alert').textContent).toContain('in 3 seconds')
    act(() => void jest.advanceTimersByTime(3000))
    expect(screen.getByRole('alert').textContent).toBe('You may try again now.')
  } finally {
    jest.useRealTimers()
  }
})
