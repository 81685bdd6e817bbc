/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { fireEvent, render, screen, waitFor } from '@testing-library/react'
import { Around, answerWith, refusal } from '../testing/around'
import { CutOut } from './CutOut'

const SCREEN = { hash: 'a'.repeat(64), width: 1000, height: 500, atMs: 0 }
let restore = () => {}
beforeEach(() => {
  const measured = jest.spyOn(Element.prototype, 'getBoundingClientRect')
  measured.mockReturnValue({ left: 0, top: 0, width: 500, height: 250 } as DOMRect)
  Element.prototype.setPointerCapture = () => {}
  restore = () => measured.mockRestore()
})
afterEach(() => restore())

function open(proposed?: { x: number; y: number; w: number; h: number }) {
  render(<CutOut screen={SCREEN} proposed={proposed} />, { wrapper: Around })
  fireEvent.click(screen.getByRole('button', { name: 'Cut out a picture' }))
}
const side = (name: string) => screen.getByLabelText<HTMLInputElement>(name).value

test('what the step was done on is proposed, and kept under a name', async () => {
  open({ x: 10, y: 20, w: 30, h: 40 })
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Keep' }).disabled).toBe(true)
  const asked = answerWith({ 'PUT /api/pictures/deck-plan': {} })
  fireEvent.change(screen.getByLabelText('Name'), { target: { value: ' deck-plan ' } })
  fireEvent.click(screen.getByRole('button', { name: 'Keep' }))
  const body = { screen: SCREEN.hash, box: { x: 10, y: 20, w: 30, h: 40 } }
  await waitFor(() => expect(asked).toEqual([{ method: 'PUT', path: '/api/pictures/deck-plan', body }]))
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
})

test('a box is drawn in any direction, in pixels of the screen', async () => {
  open()
  const canvas = screen.getByTestId('draw-box')
  fireEvent.pointerDown(canvas, { clientX: 200, clientY: 150, pointerId: 1 })
  fireEvent.pointerMove(canvas, { clientX: 100, clientY: 100, pointerId: 1 })
  fireEvent.pointerUp(canvas, { clientX: -20, clientY: 100, pointerId: 1 })
  fireEvent.pointerMove(canvas, { clientX: 400, clientY: 200, pointerId: 1 })
  expect(['Left', 'Top', 'Width', 'Height'].map(side)).toEqual(['0', '200', '400', '100'])
})

test('what the server refuses is said, and nothing typed is lost', async () => {
  answerWith({
    'PUT /api/pictures/deck': refusal(400, 'BODY_INVALID', 'A picture has at least 8 x 8 pixels.'),
  })
  open({ x: 1, y: 1, w: 2, h: 2 })
  fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'deck' } })
  fireEvent.click(screen.getByRole('button', { name: 'Keep' }))
  expect(await screen.findByText('A picture has at least 8 x 8 pixels.')).toBeTruthy()
  expect(side('Name')).toBe('deck')
})
