/** @jest-environment jsdom */
import { render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { STANDARD_MAPPING } from '@/core/tracker'
import { answerWith, Around } from '../testing/around'
import { TrackerMapping } from './TrackerMapping'
import { TrackerSecret } from './TrackerSecret'

test('what is written is tried on an example before it is kept; what cannot be says why', async () => {
  const asked = answerWith({ 'PUT /api/delivery/tracker/mapping': true })
  render(
    <Around role="admin">
      <TrackerMapping mapping={STANDARD_MAPPING} />
    </Around>,
  )
  const user = userEvent.setup()
  const keep = screen.getByRole<HTMLButtonElement>('button', { name: 'Keep so' })
  await user.type(screen.getByLabelText('Severity high'), 'storm')
  await user.type(screen.getByLabelText(/^Further fields/), 'where: ${{harbour}')
  expect((await screen.findByRole('alert')).textContent).toContain('${harbour} is nothing a defect has')
  expect(keep.disabled).toBe(true)
  await user.clear(screen.getByLabelText(/^Further fields/))
  await user.type(screen.getByLabelText(/^Further fields/), 'crew: ${{owner}: now')
  expect(screen.getByRole('status').textContent).toContain('"crew": "Booking crew: now"')
  expect(screen.getByRole('status').textContent).toContain('"severity": "storm"')
  await user.type(screen.getByLabelText(/^Is closed/), ', Ashore ,')
  await user.click(keep)
  expect(asked).toMatchObject([
    {
      body: {
        ...STANDARD_MAPPING,
        states: { ...STANDARD_MAPPING.states, closed: ['closed', 'Ashore'] },
        severities: { high: 'storm' },
        fields: [{ name: 'crew', value: '${owner}: now' }],
      },
    },
  ])
})

test('a secret is made, and shown this once', async () => {
  answerWith({ 'POST /api/delivery/tracker/secret': { secret: 'whsec_low-tide' } })
  render(
    <Around role="admin">
      <TrackerSecret />
    </Around>,
  )
  await userEvent.setup().click(screen.getByRole('button', { name: 'Make a secret' }))
  expect((await screen.findByRole('status')).textContent).toContain('whsec_low-tide')
})
