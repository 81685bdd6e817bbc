/** @jest-environment ./jest/page.cjs */
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

function open(more: Record<string, unknown> = {}) {
  const none = ['g', 'ga', 'gat', 'nowhere'].map((words) => [`GET /api/finder?q=${words}`, []])
  const asked = answerWith({ 'GET /api/finder?q=gate': HITS, ...Object.fromEntries(none), ...more })
  const [goTo, signOut] = [jest.fn(), jest.fn()]
  render(
    <Around goTo={goTo}>
      <Finder actions={[{ name: 'Sign out', run: signOut }]} />
    </Around>,
  )
  return { asked, goTo, signOut, user: userEvent.setup() }
}
function lateAnswer() {
  let come: (hits: FinderHit[]) => void = () => {}
  const answer = new Promise<FinderHit[]>((resolve) => (come = resolve))
  return { answer, come: (hits: FinderHit[]) => come(hits) }
}
const field = () => screen.findByRole<HTMLInputElement>('combobox')
const items = () => screen.queryAllByRole('option').map(({ textContent }) => textContent)

test('Ctrl+K opens and closes it; before a word, it offers the places and what can be done', async () => {
  const { asked, user } = open()
  expect(screen.queryByRole('dialog')).toBeNull()
  await user.keyboard('{Control>}k{/Control}')
  await field()
  expect(items()).toEqual([
    'Now',
    'Rota',
    'Suites',
    'Fleet',
    'Recovery',
    'Triage',
    'Defects',
    'Release',
    'Settings',
    'Sign out',
  ])
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

test('Enter before the answer has come goes to what these words find, not to what the last ones did', async () => {
  const late = lateAnswer()
  const { goTo, user } = open({ 'GET /api/finder?q=gate%207': () => late.answer })
  await user.keyboard('{Control>}k{/Control}')
  await user.type(await field(), 'gate')
  await waitFor(() => expect(items()[0]).toBe('Gate closes in timegate'))
  await user.type(await field(), ' 7{Enter}')
  expect(goTo).not.toHaveBeenCalled()
  late.come(HITS.slice(0, 1))
  await waitFor(() => expect(goTo).toHaveBeenCalledWith('/runs/76'))
  expect(screen.queryByRole('dialog')).toBeNull()
})

test('Enter waits for the answer, and is forgotten when the words change', async () => {
  const late = lateAnswer()
  const { goTo, user } = open({ 'GET /api/finder?q=gate%207': () => late.answer })
  await user.keyboard('{Control>}k{/Control}')
  await user.type(await field(), 'gate 7{Enter}{Backspace}{Backspace}')
  late.come(HITS.slice(0, 1))
  await waitFor(() => expect(items()).toHaveLength(2))
  expect(goTo).not.toHaveBeenCalled()
  expect(screen.getByRole('dialog')).toBeTruthy()
})

test('new words begin at the first of what they find, wherever one stood before', async () => {
  const { goTo, user } = open({ 'GET /api/finder?q=gate%207': HITS })
  await user.keyboard('{Control>}k{/Control}')
  await user.type(await field(), 'gate')
  await waitFor(() => expect(items()).toHaveLength(2))
  await user.keyboard('{ArrowDown}')
  const chosen = () => screen.getAllByRole('option', { selected: true }).map(({ textContent }) => textContent)
  await waitFor(() => expect(chosen()).toEqual(['Gate Handsets 763 failed']))
  await user.type(await field(), ' 7')
  await waitFor(() => expect(chosen()).toEqual(['Gate closes in timegate']))
  await user.keyboard('{Enter}')
  expect(goTo).toHaveBeenCalledWith('/cases/gate-closes')
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
