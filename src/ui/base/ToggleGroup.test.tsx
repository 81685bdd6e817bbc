/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { render, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import '../testing/browser'
import { AnyOf, OneOf } from './ToggleGroup'

const COVER = [
  ['all', 'every one'],
  ['pairs', 'every pair'],
  ['single', 'each once'],
] as const
type Cover = (typeof COVER)[number][0]
const DAYS = [
  ['mo', 'Mon'],
  ['tu', 'Tue'],
  ['we', 'Wed'],
] as const
type Day = (typeof DAYS)[number][0]

function Matrix({ disabled = false }: { disabled?: boolean }) {
  const [cover, setCover] = useState<Cover>('all')
  return <OneOf label="Cover" value={cover} choices={COVER} onChoose={setCover} disabled={disabled} />
}
function Week({ onDays = () => {} }: { onDays?: (days: Day[], changed: Day) => void }) {
  const [days, setDays] = useState<Day[]>(['we'])
  const take = (next: Day[], changed: Day) => {
    setDays(next)
    onDays(next, changed)
  }
  return <AnyOf label="Days of the week" chosen={days} choices={DAYS} onChange={take} />
}
const chosen = () => screen.getByRole('radio', { checked: true }).textContent
const pressed = () => screen.getAllByRole('button', { pressed: true }).map(({ textContent }) => textContent)

describe('one of few', () => {
  test('is chosen by click, and stays chosen when it is clicked again', async () => {
    render(<Matrix />)
    const user = userEvent.setup()
    await user.click(screen.getByText('every pair'))
    expect(chosen()).toBe('every pair')
    await user.click(screen.getByText('every pair'))
    expect(chosen()).toBe('every pair')
  })

  test('is one stop of the tab key: the one that is chosen; arrow keys choose, around both ends', async () => {
    render(<Matrix />)
    const user = userEvent.setup()
    await user.tab()
    expect(document.activeElement?.textContent).toBe('every one')
    // A key is down for a while: it chooses meanwhile.
    for (const [key, next] of [
      ['ArrowRight', 'every pair'],
      ['ArrowLeft', 'every one'],
      ['ArrowLeft', 'each once'],
    ] as const) {
      await user.keyboard(`{${key}>}`)
      await waitFor(() => expect(chosen()).toBe(next))
      await user.keyboard(`{/${key}}`)
    }
    await user.tab()
    expect(document.activeElement).toBe(document.body)
  })

  test('switched off it answers neither click nor key, and is out of the way of the tab key', async () => {
    render(<Matrix disabled />)
    const user = userEvent.setup({ pointerEventsCheck: 0 })
    await user.click(screen.getByText('every pair'))
    await user.tab()
    await user.keyboard('{ArrowRight} ')
    expect(chosen()).toBe('every one')
  })

  test('a form around it is not sent by choosing', async () => {
    const onSubmit = jest.fn()
    render(
      <form onSubmit={onSubmit}>
        <Matrix />
      </form>,
    )
    await userEvent.click(screen.getByText('every pair'))
    expect(onSubmit).not.toHaveBeenCalled()
  })
})

describe('any of several', () => {
  test('tells those that are on in the order they stand in, and which one was changed', async () => {
    const onDays = jest.fn()
    render(<Week onDays={onDays} />)
    const user = userEvent.setup()
    await user.click(screen.getByText('Mon'))
    expect(onDays.mock.calls).toEqual([[['mo', 'we'], 'mo']])
    await user.click(screen.getByText('Wed'))
    expect(onDays.mock.calls.at(-1)).toEqual([['mo'], 'we'])
    expect(pressed()).toEqual(['Mon'])
  })

  test('arrow keys go along without a change, the space bar turns on and off', async () => {
    const onDays = jest.fn()
    render(<Week onDays={onDays} />)
    const user = userEvent.setup()
    await user.tab()
    expect(document.activeElement?.textContent).toBe('Wed') // one that is on
    await user.keyboard('{ArrowRight}{ArrowRight}')
    expect([document.activeElement?.textContent, onDays.mock.calls.length]).toEqual(['Tue', 0])
    await user.keyboard(' ')
    expect(pressed()).toEqual(['Tue', 'Wed'])
    await user.keyboard(' ')
    expect(pressed()).toEqual(['Wed'])
  })

  test('a fieldset that is switched off switches it off', async () => {
    const onDays = jest.fn()
    render(
      <fieldset disabled>
        <Week onDays={onDays} />
      </fieldset>,
    )
    await userEvent.click(screen.getByText('Mon'))
    expect(onDays).not.toHaveBeenCalled()
  })
})
