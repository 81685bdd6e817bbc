/** @jest-environment ./jest/page.cjs */
import { fireEvent, render, screen, waitFor } from '@testing-library/react'
import { Around, answerWith, refusal } from '../testing/around'
import { Pin } from './Pin'

const show = (pinnedBy: string | null, role: 'viewer' | 'tester' = 'tester') =>
  render(
    <Around role={role}>
      <Pin attempt={{ id: 'a1', pinnedBy }} />
    </Around>,
  )

test('it is pinned and let go, and who pinned it is told', async () => {
  const asked = answerWith({ 'PUT /api/attempts/a1/pin': {}, 'DELETE /api/attempts/a1/pin': {} })
  const { unmount } = show(null)
  fireEvent.click(screen.getByRole('button', { name: 'Pin its evidence' }))
  await waitFor(() => expect(asked).toEqual([{ method: 'PUT', path: '/api/attempts/a1/pin' }]))
  unmount()
  show('Wren')
  expect(screen.getByText(/Pinned by Wren/)).not.toBeNull()
  fireEvent.click(screen.getByRole('button', { name: 'Let it go' }))
  await waitFor(() => expect(asked[1]).toEqual({ method: 'DELETE', path: '/api/attempts/a1/pin' }))
})

test('who may only look sees that it is pinned, and no button', () => {
  show('Wren', 'viewer')
  expect(screen.getByText(/Pinned by Wren/)).not.toBeNull()
  expect(screen.queryByRole('button')).toBeNull()
})

test('what is refused is said', async () => {
  answerWith({ 'PUT /api/attempts/a1/pin': refusal(404, 'NOT_FOUND', 'There is no such attempt.') })
  show(null)
  fireEvent.click(screen.getByRole('button'))
  expect(await screen.findByText('There is no such attempt.')).not.toBeNull()
})
