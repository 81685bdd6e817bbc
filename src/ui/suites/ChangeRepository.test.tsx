/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { render, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { RepositoryDetailViewModel } from '@/core/view-models'
import { answerWith, Around, refusal, type Answers } from '../testing/around'
import { AddRepository } from './AddRepository'
import { ChangeRepository } from './ChangeRepository'

const detail: RepositoryDetailViewModel = {
  id: 3,
  name: 'harbour-cases',
  location: 'https://git.harbour.example/cases.git',
  branch: 'main',
  folder: '',
  commit: 'abc',
  readAt: null,
  problems: [],
  found: [],
  everyMinutes: 0,
  access: 'token',
  webhookSecret: null,
  webhookToken: null,
  edits: [],
}

function change(answers: Answers = {}, more: Partial<RepositoryDetailViewModel> = {}) {
  const asked = answerWith({ 'PATCH /api/repositories/3': { found: [], problems: [] }, ...answers })
  const onDone = jest.fn()
  render(
    <Around role="admin">
      <ChangeRepository detail={{ ...detail, ...more }} onDone={onDone} />
    </Around>,
  )
  return { asked, onDone, user: userEvent.setup() }
}
const send = () => screen.getByRole('button', { name: 'Read it from there' })

test('another branch and folder are sent; the token stays as it is and is not asked for', async () => {
  const { asked, onDone, user } = change()
  expect(send()).toHaveProperty('disabled', true)
  await user.clear(screen.getByLabelText('Branch'))
  await user.type(screen.getByLabelText('Branch'), 'next')
  await user.type(screen.getByLabelText('Folder'), '/tests/rotation/')
  expect(screen.queryByLabelText('Token')).toBeNull()
  await user.click(send())
  await waitFor(() => expect(onDone).toHaveBeenCalled())
  expect(asked).toEqual([
    {
      method: 'PATCH',
      path: '/api/repositories/3',
      body: { location: detail.location, branch: 'next', folder: 'tests/rotation' },
    },
  ])
})

test('another token replaces it; without one nothing is sent, and it says so', async () => {
  const { asked, user } = change()
  await user.selectOptions(screen.getByLabelText('It lets us in'), 'with a token (https)')
  await user.click(send())
  expect((await screen.findByRole('alert')).textContent).toBe('Paste the token')
  expect(asked).toEqual([])
  await user.type(screen.getByLabelText('User'), 'harbour')
  await user.type(screen.getByLabelText('Token'), 'low-tide')
  await user.click(send())
  await waitFor(() => expect(asked).toHaveLength(1))
  expect(asked[0]?.body).toMatchObject({ credentials: { kind: 'token', user: 'harbour', token: 'low-tide' } })
})

test('a public one that becomes private sends its key; one that stays public sends nothing of it', async () => {
  const { asked, user } = change({}, { access: 'none' })
  await user.type(screen.getByLabelText('Branch'), '2')
  await user.click(send())
  await waitFor(() => expect(asked).toHaveLength(1))
  expect(asked[0]?.body).not.toHaveProperty('credentials')
  await user.selectOptions(screen.getByLabelText('It lets us in'), 'with a private key (SSH)')
  await user.type(screen.getByLabelText(/^Private key/), 'KEY')
  await user.click(send())
  await waitFor(() => expect(asked).toHaveLength(2))
  expect(asked[1]?.body).toMatchObject({ credentials: { kind: 'key', key: 'KEY' } })
})

test('what the server says is wrong stands there, and what was written stays', async () => {
  const { onDone, user } = change({
    'PATCH /api/repositories/3': refusal(409, 'REPOSITORY_UNREADABLE', 'It has no branch “gone”.'),
  })
  await user.clear(screen.getByLabelText('Branch'))
  await user.type(screen.getByLabelText('Branch'), 'gone')
  await user.click(send())
  expect(await screen.findByText('It has no branch “gone”.')).toBeTruthy()
  expect(screen.getByLabelText('Branch')).toHaveProperty('value', 'gone')
  expect(onDone).not.toHaveBeenCalled()
})

test('a new one: what is missing is said at its field', async () => {
  const asked = answerWith({ 'POST /api/repositories': { read: 3, problems: [] } })
  render(
    <Around role="admin">
      <AddRepository />
    </Around>,
  )
  const user = userEvent.setup()
  await user.click(screen.getByRole('button', { name: 'Read it' }))
  expect((await screen.findAllByRole('alert')).map(({ textContent }) => textContent)).toEqual([
    'Give it a name',
    'Say where it is',
  ])
  await user.type(screen.getByLabelText('Name'), 'harbour-cases')
  await user.type(screen.getByLabelText('Address, or a path on the server'), 'harbour')
  await user.click(screen.getByRole('button', { name: 'Read it' }))
  expect((await screen.findByRole('alert')).textContent).toMatch(/^An address/)
  await user.clear(screen.getByLabelText('Address, or a path on the server'))
  await user.type(screen.getByLabelText('Address, or a path on the server'), '/srv/cases')
  await user.click(screen.getByRole('button', { name: 'Read it' }))
  await waitFor(() => expect(asked).toHaveLength(1))
  expect(asked[0]?.body).toEqual({
    name: 'harbour-cases',
    location: '/srv/cases',
    branch: 'main',
    folder: '',
    credentials: { kind: 'none' },
  })
})
