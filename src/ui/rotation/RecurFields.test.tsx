/** @jest-environment ./jest/page.cjs */
import { fireEvent, render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import '../testing/browser'
import { readRecur, writeRecur } from './recur'
import { RecurFields } from './RecurFields'

/** Shows the rule the fields come to. */
function Times({ first }: { first: string }) {
  const [rule, setRule] = useState<string | null>(first)
  return (
    <>
      <RecurFields recur={readRecur(rule)} onSet={(recur) => setRule(writeRecur(recur))} />
      <output>{rule}</output>
    </>
  )
}
const rule = () => screen.getByRole('status').textContent
const open = (first: string) => {
  render(<Times first={first} />)
  return userEvent.setup()
}
const put = (label: string, value: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value } })

test('weekly: days go on and off, in the order of the week whatever the order of clicks', async () => {
  const user = open('FREQ=WEEKLY;BYDAY=WE')
  await user.click(screen.getByRole('button', { name: 'Fri' }))
  await user.click(screen.getByRole('button', { name: 'Mon' }))
  expect(rule()).toBe('FREQ=WEEKLY;BYDAY=MO,WE,FR')
  await user.click(screen.getByRole('button', { name: 'Wed' }))
  expect(rule()).toBe('FREQ=WEEKLY;BYDAY=MO,FR')
})

test('every so many weeks: within limits, and never none', () => {
  open('FREQ=WEEKLY;BYDAY=MO')
  put('Every so many weeks', '2')
  expect(rule()).toBe('FREQ=WEEKLY;INTERVAL=2;BYDAY=MO')
  put('Every so many weeks', '0')
  expect(rule()).toBe('FREQ=WEEKLY;INTERVAL=2;BYDAY=MO')
  put('Every so many weeks', '250')
  expect(rule()).toBe('FREQ=WEEKLY;INTERVAL=99;BYDAY=MO')
})

test('hourly: between hours, the second never before the first, and any hour again', async () => {
  const user = open('FREQ=HOURLY;INTERVAL=2')
  await user.selectOptions(screen.getByLabelText('From hour'), '06')
  expect(rule()).toMatch(/^FREQ=HOURLY;INTERVAL=2;BYHOUR=6,7,.*,23/)
  await user.selectOptions(screen.getByLabelText('To hour'), '07')
  expect(rule()).toBe('FREQ=HOURLY;INTERVAL=2;BYHOUR=6,7')
  await user.selectOptions(screen.getByLabelText('From hour'), '22')
  expect(rule()).toBe('FREQ=HOURLY;INTERVAL=2;BYHOUR=22')
  await user.selectOptions(screen.getByLabelText('From hour'), 'any')
  expect(rule()).toBe('FREQ=HOURLY;INTERVAL=2')
})

test('monthly: a day of the month there may be', () => {
  open('FREQ=MONTHLY;BYMONTHDAY=1')
  put('Day of the month', '31')
  put('Day of the month', '32')
  expect(rule()).toBe('FREQ=MONTHLY;BYMONTHDAY=31')
})

test('a rule the fields cannot say stands as it is, and can be written', async () => {
  const user = open('FREQ=YEARLY')
  const field = screen.getByLabelText<HTMLInputElement>('Recurrence rule (RFC 5545)')
  expect(field.value).toBe('FREQ=YEARLY')
  await user.clear(field)
  await user.type(field, 'FREQ=DAILY;COUNT=3{Enter}')
  expect(rule()).toBe('FREQ=DAILY;COUNT=3')
})

test('several times a day, and the first Monday of a month', async () => {
  const user = open('FREQ=DAILY')
  await user.type(screen.getByLabelText('Hours of the day'), '20, 8:00, 8, noon, 31{Enter}')
  expect(rule()).toBe('FREQ=DAILY;BYHOUR=8,20')
})

test('monthly by weekday: the first, the last, and a day by its number again', async () => {
  const user = open('FREQ=MONTHLY;BYMONTHDAY=5')
  await user.selectOptions(screen.getByLabelText('Which day of the month'), 'the first')
  expect(rule()).toBe('FREQ=MONTHLY;BYDAY=1MO')
  await user.selectOptions(screen.getByLabelText('Day of the week'), 'Fri')
  await user.selectOptions(screen.getByLabelText('Which day of the month'), 'the last')
  expect(rule()).toBe('FREQ=MONTHLY;BYDAY=-1FR')
  await user.selectOptions(screen.getByLabelText('Which day of the month'), 'day')
  expect(rule()).toBe('FREQ=MONTHLY;BYMONTHDAY=1')
})
