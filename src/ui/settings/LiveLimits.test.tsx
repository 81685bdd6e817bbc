/** @jest-environment ./jest/page.cjs */
import { render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { answerWith, Around } from '../testing/around'
import { LiveLimits } from './LiveLimits'

function shown(role: 'admin' | 'tester') {
  const asked = answerWith({ 'PUT /api/live-limits': undefined })
  render(
    <Around role={role}>
      <LiveLimits liveLimits={{ all: 12, pools: { Gone: 2 } }} pools={['Shore', 'Quay']} />
    </Around>,
  )
  return { asked, user: userEvent.setup() }
}

test('a pool gets a limit, another one loses it; what is no number is told and not sent', async () => {
  const { asked, user } = shown('admin')
  await user.type(screen.getByLabelText(/^Shore/), 'two')
  await user.click(screen.getByRole('button', { name: 'Keep so' }))
  expect((await screen.findByRole('alert')).textContent).toContain('Shore: “two” is no number from 0 to 100')
  expect(asked).toEqual([])
  await user.clear(screen.getByLabelText(/^Shore/))
  await user.type(screen.getByLabelText(/^Shore/), '2')
  await user.clear(screen.getByLabelText(/^Gone/))
  await user.click(screen.getByRole('button', { name: 'Keep so' }))
  expect(asked).toMatchObject([{ body: { all: 12, pools: { Shore: 2 } } }])
})

test('who is no administrator sees the numbers and changes none', () => {
  shown('tester')
  expect((screen.getByLabelText(/^All pools/) as HTMLInputElement).disabled).toBe(true)
  expect(screen.queryByRole('button', { name: 'Keep so' })).toBeNull()
})
