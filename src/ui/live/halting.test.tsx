/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import type { Held, Stop } from '@/core/live'
import { Around } from '../testing/around'
import '../testing/browser'
import { HeldSteps } from './HeldSteps'
import { StopFields, stopWords } from './StopFields'
import type { Order } from './useLiveLine'
import { Values } from './Values'

const around = (children: React.ReactNode) => render(<Around role="tester">{children}</Around>)

function shownStop(first: Stop, values: string[] = ['fare', 'row.from']) {
  let now = first
  function Shown() {
    const [stop, setStop] = useState(first)
    now = stop
    return <StopFields number={3} stop={stop} values={values} onChange={setStop} />
  }
  around(<Shown />)
  return () => now
}

test('a stop counts when a value is something, from a time on', async () => {
  const now = shownStop({})
  await userEvent.selectOptions(screen.getByLabelText('When it stops'), 'value')
  await userEvent.selectOptions(screen.getByLabelText('Which value'), 'row.from')
  await userEvent.type(screen.getByLabelText('Text'), 'Tolva{Enter}')
  const times = screen.getByRole('textbox', { name: 'From time' })
  await userEvent.clear(times)
  await userEvent.type(times, '3{Enter}')
  expect(now()).toEqual({ when: { value: '${row.from}', is: { equals: 'Tolva' } }, from: 3 })
  expect(stopWords(now())).toContain('from time 3 on, when ${row.from} is')
  await userEvent.selectOptions(screen.getByLabelText('When it stops'), 'always')
  expect(now()).toEqual({ from: 3 })
})

test('a text that was not written yet is no condition; what is no number counts as once', async () => {
  const now = shownStop({})
  await userEvent.selectOptions(screen.getByLabelText('When it stops'), 'hidden')
  expect(now()).toEqual({})
  await userEvent.type(screen.getByLabelText('Text'), 'Storm{Enter}')
  expect(now()).toEqual({ when: { hidden: { text: 'Storm' } } })
  const times = screen.getByRole('textbox', { name: 'From time' })
  await userEvent.clear(times)
  await userEvent.type(times, 'often{Enter}')
  expect(now().from ?? 1).toBe(1)
})

test('without values there is none to go by', () => {
  shownStop({}, [])
  expect(screen.queryByRole('option', { name: 'when a value is' })).toBeNull()
})

describe('what is held', () => {
  const shown = (held: Held, disabled = false) => {
    const say = jest.fn<(order: Order) => void>()
    around(<HeldSteps held={held} disabled={disabled} say={say} />)
    return say
  }
  test('goes on to the next stop, or by one step, by key', async () => {
    const say = shown({ words: 'click Sail' })
    await userEvent.keyboard('g')
    expect(say).toHaveBeenLastCalledWith({ do: 'go-on', stepping: false, recover: true })
    await userEvent.keyboard('n')
    expect(say).toHaveBeenLastCalledWith({ do: 'go-on', stepping: true, recover: true })
    await userEvent.keyboard('o')
    expect(say).toHaveBeenLastCalledWith({ do: 'go-on', stepping: false, recover: true, out: true })
    expect(screen.queryByRole('button', { name: 'Leave it failed' })).toBeNull()
  })
  test('a failure may be left as it is, in place of what a rule does', async () => {
    const say = shown({ words: 'click Sail', failure: 'it is covered', rule: 'close the news' })
    expect(screen.getByRole('status').textContent).toContain('it is covered')
    expect(screen.queryByRole('button', { name: /Out of it/ })).toBeNull()
    await userEvent.click(screen.getByRole('button', { name: 'Leave it failed' }))
    expect(say).toHaveBeenLastCalledWith({ do: 'go-on', stepping: false, recover: false })
  })
  test('who only watches has no say', async () => {
    const say = shown({ words: 'click Sail' }, true)
    await userEvent.keyboard('g')
    expect(say).not.toHaveBeenCalled()
  })
})

test('rows of the table are gone through one by one', async () => {
  const onRow = jest.fn<(index: number) => void>()
  function Shown() {
    const [row, setRow] = useState(2)
    const go = (index: number) => {
      setRow(index)
      onRow(index)
    }
    return <Values values={{}} rows={3} row={row} editable onSet={() => {}} onRow={go} />
  }
  around(<Shown />)
  await userEvent.click(screen.getByRole('button', { name: 'Next row' }))
  expect(onRow).toHaveBeenLastCalledWith(3)
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Next row' }).disabled).toBe(true)
  await userEvent.selectOptions(screen.getByLabelText('Row'), 'row 1 of 3')
  expect(onRow).toHaveBeenLastCalledWith(1)
})
