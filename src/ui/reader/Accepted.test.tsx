/** @jest-environment ./jest/page.cjs */
import { fireEvent, render, screen, waitFor, within } from '@testing-library/react'
import type { ScreenCheck } from '@/core/execution'
import type { AcceptedLine } from '@/core/view-models'
import { Around, answerWith, refusal } from '../testing/around'
import { Accepted } from './Accepted'

const [NOW, THEN] = ['b'.repeat(64), 'a'.repeat(64)]
const PATH = '/api/accepted-screens?case=deck&name=deck-plan&environment=wide'
const CHECK: ScreenCheck = {
  name: 'deck-plan',
  result: 'differs',
  hash: NOW,
  width: 300,
  height: 200,
  accepted: THEN,
  ratio: 0.03,
  regions: [{ x: 40, y: 72, w: 60, h: 30, pixels: 900, kind: 'moved', dx: 0, dy: 12 }],
}
const LINE: AcceptedLine = {
  id: 4,
  hash: THEN,
  width: 300,
  height: 200,
  ignore: [],
  most: 0,
  acceptedBy: 'Wren',
  acceptedAt: '2026-03-30T10:00:00.000Z',
  holds: true,
}
const attempt = {
  id: 'a1',
  caseKey: 'deck',
  environment: { key: 'wide', title: 'Wide', width: 1280, height: 800, simulated: false },
}
const show = (check: ScreenCheck = CHECK, role: 'viewer' | 'tester' = 'tester') =>
  render(
    <Around role={role}>
      <Accepted attempt={attempt} path="main.2" check={check} />
    </Around>,
  )

test('what differs is told, and it or a part of it is accepted', async () => {
  const asked = answerWith({
    [`GET ${PATH}`]: [LINE],
    'POST /api/accepted-screens': [
      { id: 5, caseKey: 'deck', name: 'deck-plan', environment: 'wide', before: 4 },
    ],
    'PUT /api/accepted-screens/4': {},
  })
  show()
  expect(screen.getByText('It is not as it was accepted.')).not.toBeNull()
  const part = screen.getByText(/moved 12 px down: 60 x 30 at 40, 72/)
  fireEvent.click(within(part).getByRole('button', { name: 'Accept this part' }))
  await waitFor(() =>
    expect(asked).toContainEqual({
      method: 'POST',
      path: '/api/accepted-screens',
      body: { attemptId: 'a1', path: 'main.2', which: 'one', region: { x: 40, y: 72, w: 60, h: 30 } },
    }),
  )
  fireEvent.click(await within(part).findByRole('button', { name: 'Do not look here' }))
  await waitFor(() =>
    expect(asked).toContainEqual({
      method: 'PUT',
      path: '/api/accepted-screens/4',
      body: { ignore: [{ x: 40, y: 72, w: 60, h: 30 }] },
    }),
  )
  fireEvent.click(await screen.findByRole('button', { name: 'Accept all alike in this run' }))
  await waitFor(() =>
    expect(asked.filter(({ body }) => JSON.stringify(body)?.includes('"alike"'))).toHaveLength(1),
  )
})

test('how much may differ is a share from 0 to 100; a wrong one is said, and not sent', async () => {
  const asked = answerWith({ [`GET ${PATH}`]: [LINE], 'PUT /api/accepted-screens/4': {} })
  show()
  const field = await screen.findByLabelText<HTMLInputElement>('May differ, % of the picture')
  fireEvent.change(field, { target: { value: '120' } })
  expect(screen.getByText('From 0 to 100')).not.toBeNull()
  expect(screen.queryByRole('button', { name: 'Save' })).toBeNull()
  fireEvent.change(field, { target: { value: '0.5' } })
  fireEvent.click(screen.getByRole('button', { name: 'Save' }))
  await waitFor(() => expect(asked.at(-2)).toMatchObject({ method: 'PUT', body: { most: 0.005 } }))
})

test('a viewer sees who accepted what, and no way to change it; nothing accepted yet is told', async () => {
  answerWith({ [`GET ${PATH}`]: [LINE, { ...LINE, id: 3, holds: false, acceptedBy: 'Joss' }] })
  const { unmount } = show(CHECK, 'viewer')
  fireEvent.click(await screen.findByRole('button', { name: 'Who accepted what (2)' }))
  expect(screen.getByText(/Joss/)).not.toBeNull()
  expect(screen.queryByRole('button', { name: /Accept|Hold|Do not look/ })).toBeNull()
  unmount()
  answerWith({ [`GET ${PATH}`]: [] })
  const { accepted: _, regions: __, ratio: ___, ...proposed } = CHECK
  show({ ...proposed, result: 'proposed' })
  expect(screen.getByText(/Nothing was accepted yet/)).not.toBeNull()
  expect(screen.getByRole('button', { name: 'Accept' })).not.toBeNull()
})

test('what is refused is said', async () => {
  answerWith({
    [`GET ${PATH}`]: [LINE],
    'POST /api/accepted-screens': refusal(404, 'NOT_FOUND', 'This screen is not kept any more.'),
  })
  show()
  fireEvent.click(screen.getByRole('button', { name: 'Accept' }))
  expect(await screen.findByText('This screen is not kept any more.')).not.toBeNull()
})
