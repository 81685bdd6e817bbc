/** @jest-environment ./jest/page.cjs */
import { fireEvent, render, screen } from '@testing-library/react'
import { Around, answerWith, refusal } from '../testing/around'
import { Differs } from './Differs'

const shot = (hash: string) => ({ hash, width: 1280, height: 800, atMs: 0 })
const show = () => render(<Differs then={shot('a')} now={shot('b')} />, { wrapper: Around })
const answer = (body: unknown) => answerWith({ 'GET /api/evidence/b/difference?from=a': body })
const size = { a: { w: 1280, h: 800 }, b: { w: 1280, h: 800 } }

test('parts that differ are drawn and told, and not while it blinks', async () => {
  answer({
    same: false,
    ratio: 0.0125,
    size,
    regions: [
      { x: 10, y: 20, w: 100, h: 40, pixels: 900, kind: 'moved', dx: 0, dy: 12 },
      { x: 300, y: 20, w: 10, h: 10, pixels: 100, kind: 'added' },
    ],
  })
  const { container } = show()
  expect(await screen.findByText(/2 parts differ, 1.3 % of the screen/)).not.toBeNull()
  expect(screen.getByText('1 moved 12 px down: 100 x 40 at 10, 20')).not.toBeNull()
  const drawn = () =>
    [...container.querySelectorAll('[data-region]')].map((one) => one.getAttribute('data-region'))
  expect(drawn()).toEqual(['moved', 'added'])
  fireEvent.click(screen.getByRole('button', { name: 'Blink' }))
  expect(drawn()).toEqual([])
  expect((screen.getByRole('slider') as HTMLInputElement).disabled).toBe(true)
})

test('screens that are the same, of another size, or gone are told', async () => {
  answer({ same: true, ratio: 0, size, regions: [] })
  const { unmount } = show()
  expect(await screen.findByText('Both screens are the same.')).not.toBeNull()
  unmount()
  answer({ same: false, ratio: 0, size: { ...size, a: { w: 390, h: 844 } }, regions: [] })
  const second = show()
  expect(await screen.findByText(/it was 390 x 844, and is 1280 x 800/)).not.toBeNull()
  second.unmount()
  answer(refusal(404, 'NOT_FOUND', 'This screen is not in the store any more.'))
  show()
  expect(await screen.findByText('This screen is not in the store any more.')).not.toBeNull()
})
