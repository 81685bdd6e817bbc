/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { ConfirmationsViewModel, DefectViewModel } from '@/core/view-models'
import { answerWith, Around } from '../testing/around'
import '../testing/browser'
import { Confirm } from './Confirm'

const PLAN: ConfirmationsViewModel = {
  foundIn: '2026.11.3',
  failed: 3,
  of: 4,
  times: 3,
  confidence: 0.962,
  wanted: 0.95,
  environments: [
    { key: 'wide', title: 'Wide', failed: 0 },
    { key: 'narrow', title: 'Narrow', failed: 3 },
  ],
  builds: ['2026.11.4', '2026.11.3'],
  past: [],
}
const PAST = { runId: 9, build: '2026.11.4', times: 3, by: 'Priya Castellan', at: '2026-12-01T00:00:00Z' }
const PATH = '/api/defects/5/confirmations'
const open = (
  plan: Partial<ConfirmationsViewModel> = {},
  role: 'viewer' | 'tester' = 'tester',
  onTell?: jest.Mock,
) => {
  const asked = answerWith({ [`GET ${PATH}`]: { ...PLAN, ...plan }, [`POST ${PATH}`]: { run: 12 } })
  render(
    <Around role={role}>
      <Confirm defect={{ id: 5 } as DefectViewModel} onTell={onTell} />
    </Around>,
  )
  return { asked, user: userEvent.setup() }
}

test('what failed is proposed: where, on the newest other build, often enough, and why', async () => {
  const { asked, user } = open()
  await user.click(await screen.findByRole('button', { name: /Confirm a fix/ }))
  const dialog = screen.getByRole('dialog')
  expect(dialog.textContent).toContain('failed 3 of 4 times')
  expect(dialog.textContent).toContain('96 % sure')
  expect(screen.getByRole<HTMLInputElement>('checkbox', { name: /Narrow/ }).checked).toBe(true)
  expect(screen.getByRole<HTMLInputElement>('checkbox', { name: /Wide/ }).checked).toBe(false)
  await user.click(screen.getByRole('button', { name: 'Start 3 case runs' }))
  expect(asked.findLast(({ method }) => method === 'POST')!.body).toEqual({
    build: '2026.11.4',
    environments: ['narrow'],
    times: 3,
  })
})

test('nothing is started that could say nothing', async () => {
  const { user } = open()
  await user.click(await screen.findByRole('button', { name: /Confirm a fix/ }))
  const times = screen.getByLabelText('Times on each')
  await user.clear(times)
  await user.type(times, 'often')
  expect(screen.getByRole<HTMLButtonElement>('button', { name: /^Start/ }).disabled).toBe(true)
  await user.clear(times)
  await user.type(times, '5')
  await user.click(screen.getByRole('checkbox', { name: /Narrow/ }))
  expect(screen.getByRole<HTMLButtonElement>('button', { name: /^Start/ }).disabled).toBe(true)
})

test('what was tried says what it means', async () => {
  open({
    past: [
      { ...PAST, counts: { passed: 3, failed: 0, other: 0, open: 0 }, verdict: 'close' },
      { ...PAST, runId: 8, counts: { passed: 1, failed: 1, other: 0, open: 1 }, verdict: 'reopen' },
    ],
  })
  expect(await screen.findByText('Mended: close it')).not.toBeNull()
  expect(screen.getByText(/1 passed, 1 failed, 1 to come/)).not.toBeNull()
})

test('what it found is proposed to be said at the tracker, where that has the defect', async () => {
  const onTell = jest.fn()
  const past = [
    { ...PAST, counts: { passed: 3, failed: 0, other: 0, open: 0 }, verdict: 'close' as const },
    { ...PAST, runId: 8, counts: { passed: 0, failed: 0, other: 1, open: 0 }, verdict: 'unclear' as const },
  ]
  const { user } = open({ past }, 'tester', onTell)
  // what is unclear says nothing
  await user.click(await screen.findByRole('button', { name: 'Tell the tracker…' }))
  expect(onTell).toHaveBeenCalledWith({
    text: expect.stringMatching(/^Mended on build .*\/runs\/\d+$/) as string,
    state: 'closed',
  })
})

test('who may only look starts nothing', async () => {
  open({}, 'viewer')
  expect(await screen.findByText(/Nobody has tried/)).not.toBeNull()
  expect(screen.queryByRole('button')).toBeNull()
})
