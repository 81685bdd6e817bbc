/** @jest-environment ./jest/page.cjs */
import { fireEvent, render, screen, waitFor } from '@testing-library/react'
import { Around, answerWith, refusal } from '../testing/around'
import { Shared } from './Shared'

const LINE = {
  id: 's1',
  createdBy: 'Wren',
  createdAt: '2026-11-29T10:00:00.000Z',
  endsAt: '2026-12-06T10:00:00.000Z',
  usedAt: null,
}

/** Once what there is has come. */
async function makeAddress() {
  const button = screen.getByRole<HTMLButtonElement>('button', { name: 'Make an address' })
  await waitFor(() => expect(button.disabled).toBe(false))
  fireEvent.click(button)
}

test('an address is made for a time, shown once, and revoked', async () => {
  let lines: object[] = []
  const asked = answerWith({
    'GET /api/runs/7/shared': () => lines,
    'POST /api/runs/7/shared': () => {
      lines = [LINE]
      return { path: '/shared/abc' }
    },
    'DELETE /api/runs/7/shared/s1': () => {
      lines = []
      return {}
    },
  })
  render(<Shared runId={7} />, { wrapper: ({ children }) => <Around role="coordinator">{children}</Around> })
  fireEvent.change(screen.getByLabelText('How long'), { target: { value: '30' } })
  await makeAddress()
  const address = await screen.findByLabelText<HTMLInputElement>('The address')
  expect(address.value).toBe('http://localhost/shared/abc')
  expect(asked.find(({ method }) => method === 'POST')?.body).toEqual({ days: 30 })
  expect(await screen.findByText(/not read yet/)).not.toBeNull()
  fireEvent.click(screen.getByRole('button', { name: 'Revoke' }))
  await waitFor(() => expect(screen.queryByText(/not read yet/)).toBeNull())
  expect(screen.queryByLabelText('The address')).toBeNull()
})

test('a tester sees what there is, and cannot change it', async () => {
  answerWith({ 'GET /api/runs/7/shared': [LINE] })
  render(<Shared runId={7} />, { wrapper: Around })
  expect(await screen.findByText(/By Wren/)).not.toBeNull()
  expect(screen.queryByRole('button')).toBeNull()
})

test('what is refused is said', async () => {
  answerWith({
    'GET /api/runs/7/shared': [],
    'POST /api/runs/7/shared': refusal(400, 'BODY_INVALID', 'A run has at most 50 open addresses.'),
  })
  render(<Shared runId={7} />, { wrapper: ({ children }) => <Around role="coordinator">{children}</Around> })
  await makeAddress()
  expect(await screen.findByText('A run has at most 50 open addresses.')).not.toBeNull()
})
