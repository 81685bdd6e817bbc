/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import '../testing/browser'
import { whenAtRest } from './at-rest'

const becomes = (state: DocumentReadyState) =>
  Object.defineProperty(document, 'readyState', { configurable: true, get: () => state })
beforeEach(() => void jest.useFakeTimers())
afterEach(() => {
  jest.useRealTimers()
  becomes('complete')
})

test('while the page loads nothing is done, however long that takes; then, once', () => {
  becomes('interactive')
  const work = jest.fn()
  whenAtRest(work)
  jest.runAllTimers()
  expect(work).not.toHaveBeenCalled()
  window.dispatchEvent(new Event('load'))
  window.dispatchEvent(new Event('load'))
  jest.runAllTimers()
  expect(work).toHaveBeenCalledTimes(1)
})

test('of a page that has loaded it is done at the next rest', () => {
  const work = jest.fn()
  whenAtRest(work)
  expect(work).not.toHaveBeenCalled()
  jest.runAllTimers()
  expect(work).toHaveBeenCalledTimes(1)
})

test.each<DocumentReadyState>(['interactive', 'complete'])(
  'taken back in a page that is %s, it is not done',
  (state) => {
    becomes(state)
    const work = jest.fn()
    whenAtRest(work)()
    window.dispatchEvent(new Event('load'))
    jest.runAllTimers()
    expect(work).not.toHaveBeenCalled()
  },
)
