/** @jest-environment ./jest/page.cjs */
import { render, screen, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import type { Rotation } from '@/core/model'
import '../testing/browser'
import type { BandProps } from './edit'
import { LaneTable } from './LaneTable'

const environment = (key: string, title: string) => ({
  key,
  title,
  browser: title,
  os: 'O',
  width: 800,
  height: 600,
  locale: 'en-GB',
  simulated: true,
})
const basis = {
  items: ['board', 'refuse'].map((key) => ({ case: key, title: key, after: [], exclusive: [], priority: 0 })),
  environments: [environment('wide', 'Wide'), environment('narrow', 'Narrow')],
  agents: [
    { name: 'maren-01', pool: 'P', seats: 1, environments: ['wide', 'narrow'] },
    { name: 'skerry-02', pool: 'P', seats: 1, environments: ['narrow'] },
  ],
}
const where = { cover: 'all', never: [], always: [], spread: 'assigned', leaveOut: false } as const

/** The table, over lanes that it changes. */
function Given({ first }: { first: Record<string, string> }) {
  const [lanes, setLanes] = useState<Record<string, string>>(first)
  const props = {
    rotation: { where: { ...where, lanes } } as unknown as Rotation,
    foreseen: { basis, outlook: { picked: { keys: ['wide', 'narrow'] } } },
    editable: true,
    put: (_: unknown, value: unknown) => setLanes((value ?? {}) as Record<string, string>),
  } as unknown as BandProps
  return (
    <>
      <LaneTable {...props} />
      <output>{JSON.stringify(lanes)}</output>
    </>
  )
}
const given = () => JSON.parse(screen.getByRole('status').textContent!) as object
const agentOf = (piece: string) => screen.getByLabelText(`Agent of ${piece}`)
const offered = (piece: string) =>
  within(agentOf(piece))
    .getAllByRole('option')
    .map(({ textContent }) => textContent)

test('each case stands once for each environment, and only agents that serve it are offered', () => {
  render(<Given first={{ board: 'maren-01' }} />)
  expect(within(screen.getByRole('region', { name: 'maren-01' })).getAllByRole('listitem')).toHaveLength(2)
  expect(offered('refuse, Wide')).toEqual(['nobody', 'maren-01'])
  expect(offered('refuse, Narrow')).toEqual(['nobody', 'maren-01', 'skerry-02'])
})

test('one of them goes to another agent, and comes back', async () => {
  render(<Given first={{ board: 'maren-01' }} />)
  const user = userEvent.setup()
  await user.selectOptions(agentOf('board, Narrow'), 'skerry-02')
  expect(given()).toEqual({ 'board@wide': 'maren-01', 'board@narrow': 'skerry-02' })
  await user.selectOptions(agentOf('board, Narrow'), 'maren-01')
  expect(given()).toEqual({ board: 'maren-01' })
  await user.selectOptions(agentOf('board, Wide'), 'nobody')
  expect(given()).toEqual({ 'board@narrow': 'maren-01' })
})

test('what an agent has that is not here is to be given', () => {
  render(<Given first={{ board: 'gone-07' }} />)
  const open = screen.getByRole('region', { name: 'Given to nobody' })
  expect(within(open).getAllByRole('listitem')).toHaveLength(4)
})
