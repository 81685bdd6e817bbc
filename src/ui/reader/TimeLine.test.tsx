/** @jest-environment ./jest/page.cjs */
import '../testing/browser'
import { jest } from '@jest/globals'
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { outlineLine } from '@/core/execution/testing/lines'
import type { AttemptViewModel } from '@/core/view-models'
import { TimeLine } from './TimeLine'

const words = { verb: 'click', object: 'Board', detail: '' }
const attempt = {
  ms: 10_000,
  outline: {
    film: {
      frames: [],
      ticks: [{ path: 'main.0', words, atMs: 2000 }],
      failures: [{ path: 'main.1', atMs: 9000, message: 'Another fare' }],
      spans: [{ path: 'main.0', words, kind: 'wait', fromMs: 1000, toMs: 3000 }],
    },
  },
} as unknown as AttemptViewModel
const failing = outlineLine('main.1', words, { startMs: 4000, ms: 5000, failing: true })

function show(time?: number) {
  const [onSeek, onSelect] = [jest.fn<(ms: number) => void>(), jest.fn<(path: string) => void>()]
  render(<TimeLine viewModel={attempt} selected={failing} time={time} onSeek={onSeek} onSelect={onSelect} />)
  const line = screen.getByRole('slider')
  line.getBoundingClientRect = () => ({ left: 100, width: 500 }) as DOMRect
  line.setPointerCapture = () => {}
  line.hasPointerCapture = () => true
  return { onSeek, onSelect, line }
}

test('it stands at the moment of the step, a failure at its end, or where it was dragged', () => {
  expect(show().line.getAttribute('aria-valuenow')).toBe('9000')
  cleanup()
  expect(show(1234).line.getAttribute('aria-valuenow')).toBe('1234')
})

test('it is dragged, and stays within the attempt', () => {
  const { onSeek, line } = show()
  fireEvent.pointerDown(line, { clientX: 350, pointerId: 1 })
  fireEvent.pointerMove(line, { clientX: 900, buttons: 1, pointerId: 1 })
  fireEvent.pointerMove(line, { clientX: 200, buttons: 0, pointerId: 1 })
  expect(onSeek.mock.calls).toEqual([[5000], [10_000]])
})

test('keys go on by a picture or a second, and to both ends', () => {
  const { onSeek, line } = show(5000)
  for (const key of ['ArrowRight', 'Home', 'End', 'x']) fireEvent.keyDown(line, { key })
  fireEvent.keyDown(line, { key: 'ArrowLeft', shiftKey: true })
  expect(onSeek.mock.calls.map(([ms]) => Math.round(ms))).toEqual([5143, 0, 10_000, 4000])
})

test('what stands on it selects its step, and does not drag', () => {
  const { onSeek, onSelect } = show()
  const mark = screen.getByTitle('Another fare')
  fireEvent.pointerDown(mark)
  fireEvent.click(mark)
  fireEvent.click(screen.getByTitle(/^waited: Board/))
  expect(onSelect.mock.calls).toEqual([['main.1'], ['main.0']])
  expect(onSeek).not.toHaveBeenCalled()
})
