/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { DefectViewModel, TrackerMessageViewModel } from '@/core/view-models'
import { answerWith, Around, refusal } from '../testing/around'
import { AtTracker, type Proposed } from './AtTracker'

const PATH = '/api/defects/4/messages'
const message = (change: Partial<TrackerMessageViewModel>): TrackerMessageViewModel => ({
  id: 1,
  text: 'Seen again',
  state: null,
  assignee: null,
  conflict: null,
  by: 'Priya',
  at: '2026-11-12T08:00:00.000Z',
  sentAt: null,
  tries: 0,
  problem: null,
  ...change,
})

function shown(messages: TrackerMessageViewModel[], proposed?: Proposed, answer: unknown = true) {
  const onSaid = jest.fn()
  const asked = answerWith({ [`GET ${PATH}`]: messages, [`POST ${PATH}`]: answer })
  render(
    <Around role="tester">
      <AtTracker defect={{ id: 4 } as DefectViewModel} proposed={proposed} onSaid={onSaid} />
    </Around>,
  )
  return { asked, onSaid, user: userEvent.setup() }
}

test('each message says whether it is there, and why it waits', async () => {
  shown([
    message({ sentAt: '2026-11-12T08:01:00.000Z', state: 'closed' }),
    message({ id: 2, text: 'And again', problem: 'The tracker answers 503.', tries: 2 }),
  ])
  expect(await screen.findByText(/closes it: said there/)).not.toBeNull()
  expect(
    await screen.findByText(/waits, and is sent by itself \(The tracker answers 503\. 2 tries/),
  ).not.toBeNull()
})

test('what was proposed is changed, and said with the state', async () => {
  const { asked, onSaid, user } = shown([], { text: 'Mended', state: 'closed' })
  await user.type(screen.getByLabelText('Say there'), ' on 2.0')
  await user.click(screen.getByRole('button', { name: 'Say it' }))
  expect(asked.at(-1)).toMatchObject({ body: { text: 'Mended on 2.0', state: 'closed' } })
  expect(onSaid).toHaveBeenCalled()
  expect((screen.getByLabelText('Say there') as HTMLTextAreaElement).value).toBe('')
})

test('what is refused stays in the field, with why', async () => {
  const { user, onSaid } = shown([], undefined, refusal(400, 'BODY_INVALID', 'Send it there first.'))
  expect((screen.getByRole('button', { name: 'Say it' }) as HTMLButtonElement).disabled).toBe(true)
  await user.type(screen.getByLabelText('Say there'), 'Hello')
  await user.click(screen.getByRole('button', { name: 'Say it' }))
  expect((await screen.findByRole('alert')).textContent).toContain('Send it there first')
  expect((screen.getByLabelText('Say there') as HTMLTextAreaElement).value).toBe('Hello')
  expect(onSaid).not.toHaveBeenCalled()
})

test('where the tracker has another state both stand side by side, and it is said all the same or withdrawn', async () => {
  const asked = answerWith({
    [`GET ${PATH}`]: [message({ state: 'closed', conflict: { seen: 'open', now: 'in work' } })],
    [`POST ${PATH}/1`]: {},
    [`DELETE ${PATH}/1`]: {},
  })
  render(
    <Around role="tester">
      <AtTracker defect={{ id: 4 } as DefectViewModel} onSaid={() => {}} />
    </Around>,
  )
  const user = userEvent.setup()
  expect(await screen.findByText(/waits for somebody to decide/)).toBeTruthy()
  expect(screen.getByText('Here').parentElement!.textContent).toBe('Herecloses it, which stood there as open')
  expect(screen.getByText('in work').parentElement!.textContent).toBe('it is in work by now')
  await user.click(screen.getByRole('button', { name: 'Say it all the same' }))
  await user.click(screen.getByRole('button', { name: 'Withdraw it' }))
  expect(
    asked.filter(({ method }) => method !== 'GET').map(({ method, path }) => `${method} ${path}`),
  ).toEqual([`POST ${PATH}/1`, `DELETE ${PATH}/1`])
})

test('it is given to somebody with what is said', async () => {
  const { asked, user } = shown([])
  await user.type(screen.getByLabelText('Say there'), 'Yours')
  await user.type(screen.getByLabelText('Give it to'), ' Booking crew ')
  await user.click(screen.getByRole('button', { name: 'Say it' }))
  expect(asked.at(-1)).toMatchObject({ body: { text: 'Yours', assignee: 'Booking crew' } })
})
