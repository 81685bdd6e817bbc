/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import type { Needs } from './needs'
import { Readiness } from './ready'

beforeEach(() => void jest.useFakeTimers())
afterEach(() => void jest.useRealTimers())

function readiness() {
  const button = document.body.appendChild(document.createElement('button'))
  const needs = { lastChange: -1, onChange: undefined, named: () => undefined } as unknown as {
    -readonly [K in keyof Needs]: Needs[K]
  }
  const answered: boolean[] = []
  const ready = new Readiness(needs as Needs, { answered: (is) => answered.push(is), came: () => {} })
  /** @param changes when the page changes: between the button going down and up, or not */
  const click = (changes: boolean) => {
    jest.advanceTimersByTime(100)
    ready.acted()
    jest.advanceTimersByTime(5)
    if (changes) needs.lastChange = performance.now()
    jest.advanceTimersByTime(30)
    ready.clicked(button)
    jest.advanceTimersByTime(1500)
  }
  return { click, answered, needs }
}

test('a page that answers as soon as the button goes down has answered', () => {
  const { click, answered } = readiness()
  click(true)
  expect(answered).toEqual([])
})
test('one that answers nothing is told, and that it did after all', () => {
  const { click, answered, needs } = readiness()
  click(false)
  expect(answered).toEqual([false])
  needs.onChange?.()
  expect(answered).toEqual([false, true])
})
