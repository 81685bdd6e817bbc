/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { ShorteningsViewModel, ShorteningViewModel } from '@/core/view-models'
import { answerWith, Around, refusal } from '../testing/around'
import { Shorten } from './Shorten'

const PATH = '/api/attempts/a1/shorten'
const NOTHING: ShorteningsViewModel = { found: null, canTry: true, why: null, ms: 12_000, most: 40 }
const OVER: ShorteningViewModel = {
  id: 1,
  state: 'over',
  of: 14,
  kept: 3,
  tries: 9,
  most: 40,
  isShortest: true,
  steps: '1. Open it',
  problem: null,
  by: 'Priya',
  at: '2026-11-12T08:00:00.000Z',
}

function shown(data: ShorteningsViewModel, role: 'tester' | 'viewer' = 'tester') {
  const onTake = jest.fn()
  const asked = answerWith({
    [`GET ${PATH}`]: data,
    [`POST ${PATH}`]: refusal(409, 'CHANGED_MEANWHILE', 'They are being tried already.'),
    [`DELETE ${PATH}`]: null,
  })
  render(
    <Around role={role}>
      <Shorten attemptId="a1" drafted="1. Sign in" onTake={onTake} />
    </Around>,
  )
  return { asked, onTake, user: userEvent.setup() }
}

test('it says what it would do before it does it, and what stands against it', async () => {
  const { user } = shown(NOTHING)
  expect((await screen.findByRole('status')).textContent).toContain('at most 40 times of about 12 s')
  await user.click(screen.getByRole('button', { name: 'Shorten by trying' }))
  expect((await screen.findByRole('alert')).textContent).toContain('being tried already')
})

test('what is enough is taken into the draft', async () => {
  const { user, onTake } = shown({ ...NOTHING, found: OVER })
  expect((await screen.findByRole('status')).textContent).toContain('3 of 14 steps are enough')
  await user.click(screen.getByRole('button', { name: 'Take these steps' }))
  expect(onTake).toHaveBeenCalledWith('1. Open it')
})

test('where the draft has just these steps, there is nothing to take', async () => {
  shown({ ...NOTHING, canTry: false, found: { ...OVER, steps: '1. Sign in' } })
  expect((await screen.findByRole('status')).textContent).toContain('The draft has just these')
  expect(screen.queryAllByRole('button')).toEqual([])
})

test.each<[string, Partial<ShorteningViewModel>, RegExp]>([
  ['goes on', { state: 'going', tries: 2, kept: 6 }, /2 of at most 40 tries; 6 of 14/],
  ['did not fail again', { state: 'gone', tries: 1 }, /did not fail again \(tried once, by Priya\)/],
  ['was stopped', { state: 'stopped' }, /Stopped: 3 of 14/],
  ['could not go on', { state: 'problem', problem: 'No live agent serves it.' }, /No live agent serves it/],
  ['needs all steps', { kept: 14 }, /All 14 steps are needed/],
  ['was over early', { isShortest: false }, /tries were over/],
])('one that %s says so', async (_, change, words) => {
  shown({ ...NOTHING, found: { ...OVER, ...change } })
  expect((await screen.findByRole('status')).textContent).toMatch(words)
})

test('who may not start runs sees what was found, and starts and stops nothing', async () => {
  shown({ ...NOTHING, canTry: true, found: { ...OVER, state: 'going' } }, 'viewer')
  await screen.findByRole('status')
  expect(screen.queryAllByRole('button')).toEqual([])
})

test('what cannot be tried says why', async () => {
  shown({ ...NOTHING, canTry: false, why: 'A case of several roles cannot be tried with fewer steps.' })
  expect(await screen.findByText(/several roles/)).not.toBeNull()
  expect(screen.queryAllByRole('button')).toEqual([])
})
