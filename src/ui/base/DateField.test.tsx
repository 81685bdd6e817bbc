/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import { DateField } from './DateField'
import { Field } from './Field'

const onChange = jest.fn()
beforeEach(() => onChange.mockReset())

function Until({ first = '', withTime = false }: { first?: string; withTime?: boolean }) {
  const [value, setValue] = useState(first)
  const change = (next: string) => {
    onChange(next)
    setValue(next)
  }
  return (
    <>
      <Field label="Until">
        <DateField aria-label="Until" value={value} onChange={change} withTime={withTime} />
      </Field>
      <button onClick={() => setValue('2026-12-24')}>Last sailing</button>
    </>
  )
}
const field = () => screen.getByRole<HTMLInputElement>('textbox', { name: 'Until' })

test('a date is told once, when it is complete', async () => {
  render(<Until />)
  await userEvent.type(field(), '2026-12-03')
  expect(onChange.mock.calls).toEqual([['2026-12-03']])
  expect(field().value).toBe('2026-12-03')
})

test('a date and a time, written either way, is shown one way', async () => {
  render(<Until withTime />)
  await userEvent.type(field(), '2026-12-03T16:00')
  await userEvent.tab()
  expect(onChange).toHaveBeenLastCalledWith('2026-12-03T16:00')
  expect(field().value).toBe('2026-12-03 16:00')
})

test('what is no date is told when the field is left, changes nothing, and is not lost', async () => {
  render(<Until first="2026-12-03" />)
  await userEvent.type(field(), '{backspace}9')
  onChange.mockReset()
  await userEvent.type(field(), '{backspace}{backspace}32')
  expect(screen.queryByRole('alert')).toBeNull()
  await userEvent.tab()
  expect(screen.getByRole('alert').textContent).toBe('Not a date: write it like 2026-12-03.')
  expect(field().getAttribute('aria-invalid')).toBe('true')
  expect(field().value).toBe('2026-12-32')
  expect(onChange).not.toHaveBeenCalled()
  await userEvent.type(field(), '{backspace}1')
  expect(screen.queryByRole('alert')).toBeNull()
  expect(onChange).toHaveBeenLastCalledWith('2026-12-31')
})

test('an emptied field is no date', async () => {
  render(<Until first="2026-12-03" />)
  await userEvent.clear(field())
  expect(onChange).toHaveBeenLastCalledWith('')
  await userEvent.tab()
  expect(screen.queryByRole('alert')).toBeNull()
})

test('what is changed from outside is shown', async () => {
  render(<Until first="2026-12-03" />)
  await userEvent.click(screen.getByText('Last sailing'))
  expect(field().value).toBe('2026-12-24')
})
