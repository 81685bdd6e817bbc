/** @jest-environment ./jest/page.cjs */
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

test('an example is really sent by what is written, and what the tracker made of it is said', async () => {
  const asked = answerWith({
    'POST /api/delivery/tracker/mapping/try': { said: ['It took the example as T-9, in the state “new”.'] },
  })
  render(
    <Around role="admin">
      <TrackerMapping mapping={STANDARD_MAPPING} />
    </Around>,
  )
  const user = userEvent.setup()
  await user.type(screen.getByLabelText(/^People and crews/), 'Booking crew: booking{Enter}: nobody')
  expect(screen.getByRole('alert').textContent).toContain('People are written NAME: NAME THERE')
  await user.clear(screen.getByLabelText(/^People and crews/))
  await user.type(screen.getByLabelText(/^People and crews/), 'Booking crew: booking')
  await user.click(screen.getByRole('checkbox', { name: /^Send the evidence itself/ }))
  await user.click(screen.getByRole('button', { name: 'Send an example' }))
  expect(await screen.findByText(/It took the example as T-9/)).toBeTruthy()
  expect(asked.at(-1)!.body).toEqual({
    ...STANDARD_MAPPING,
    people: { 'Booking crew': 'booking' },
    attach: true,
  })
})
