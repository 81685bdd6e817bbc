/** @jest-environment jsdom */
import { jest } from '@jest/globals'
import { render, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { FinderHit } from '@/core/view-models'
import { answerWith, Around } from '../testing/around'
import { Finder } from './Finder'

const HITS: FinderHit[] = [
  { kind: 'run', title: 'Gate Handsets 76', detail: '3 failed', href: '/runs/76' },
  { kind: 'case', title: 'Gate closes in time', detail: 'gate', href: '/cases/gate-closes' },
]

function open() {
  const asked = answerWith({ 'GET /api/finder?q=gate': HITS, 'GET /api/finder?q=nowhere': [] })
  const [goTo, signOut] = [jest.fn(), jest.fn()]
  render(
    <Around goTo={goTo}>
      <Finder actions={[{ name: 'Sign out', run: signOut }]} />
    </Around>,
  )
  return { asked, goTo, signOut, user: userEvent.setup() }
}
const field = () => screen.findByRole<HTMLInputElement>('combobox')
const items = () => screen.queryAllByRole('option').map(({ textContent }) => textContent)

test('Ctrl+K opens and closes it; before a word, it offers the places and what can be done', async () => {
  const { asked, user } = open()
  expect(screen.queryByRole('dialog')).toBeNull()
  await user.keyboard('{Control>}k{/Control}')
  await field()
  expect(items()).toEqual(['Now', 'Rota', 'Suites', 'Fleet', 'Recovery', 'Defects', 'Settings', 'Sign out'])
  expect(asked).toEqual([])
  await user.keyboard('{Control>}k{/Control}')
  expect(screen.queryByRole('dialog')).toBeNull()
})

test('what is found stands by its kind, and Enter goes there', async () => {
  const { goTo, user } = open()
  await user.keyboard('{Control>}k{/Control}')
  await user.type(await field(), 'gate')
  await waitFor(() => expect(items()).toEqual(['Gate closes in timegate', 'Gate Handsets 763 failed']))
  await user.keyboard('{ArrowDown}{Enter}')
  expect(goTo).toHaveBeenCalledWith('/runs/76')
  expect(screen.queryByRole('dialog')).toBeNull()
})

test('opened again it begins anew', async () => {
  const { user } = open()
  await user.keyboard('{Control>}k{/Control}')
  await user.type(await field(), 'rota{Enter}')
  await user.keyboard('{Control>}k{/Control}')
  expect((await field()).value).toBe('')
})

test('an action is done by its name', async () => {
  const { signOut, user } = open()
  await user.keyboard('{Control>}k{/Control}')
  await user.type(await field(), 'sign o{Enter}')
  expect(signOut).toHaveBeenCalledTimes(1)
})

test('nothing of that name is said', async () => {
  const { user } = open()
  await user.keyboard('{Control>}k{/Control}')
  await user.type(await field(), 'nowhere')
  await waitFor(() => expect(screen.getByText('Nothing of that name.')).toBeTruthy())
})
