/** @jest-environment ./jest/page.cjs */
import { renderHook } from '@testing-library/react'
import { useShown } from './useShown'

type Given = { list?: string; items: string[]; asked?: string }
const open = (initialProps: Given) =>
  renderHook(
    ({ list = 'all', items, asked = undefined }: Given) =>
      useShown(list, items, (item) => item, asked ?? null),
    { initialProps },
  )

test('what was shown stays wherever it goes; once it is gone the first is shown', () => {
  const { result, rerender } = open({ items: ['fare', 'port'] })
  expect(result.current).toBe('fare')
  rerender({ items: ['berth', 'port', 'fare'] })
  expect(result.current).toBe('fare')
  rerender({ items: ['berth', 'port'] })
  expect(result.current).toBe('berth')
  rerender({ items: [] })
  expect(result.current).toBeUndefined()
})

test('what is asked for is shown, if it is there, and stays when nothing is asked any more', () => {
  const { result, rerender } = open({ items: ['fare', 'port'], asked: 'port' })
  expect(result.current).toBe('port')
  rerender({ items: ['berth', 'fare', 'port'] })
  expect(result.current).toBe('port')
  rerender({ items: ['berth', 'fare', 'port'], asked: 'tide' })
  expect(result.current).toBe('port')
})

test('another list begins with its first', () => {
  const { result, rerender } = open({ items: ['fare', 'port'], asked: 'port' })
  rerender({ list: 'mine', items: ['fare', 'port'] })
  expect(result.current).toBe('fare')
})
