/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { render, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { DefectDraftViewModel } from '@/core/view-models'
import { answerWith, Around, refusal, type Answers } from '../testing/around'
import { DraftDialog } from './DraftDialog'

const DRAFT: DefectDraftViewModel = {
  title: 'No sailing is found',
  steps: '1. Open it',
  expected: 'A list',
  actual: 'Nothing',
  occurs: '',
  severity: 'high',
  because: 'the case has the priority high',
  environment: 'Chromium, Windows',
  build: '2026.11.4',
  caseKey: 'find-sailings',
  caseTitle: 'Find sailings',
  runId: 7,
  evidence: [
    { kind: 'screen-after', hash: 'a1', title: 'Screen at the failure' },
    { kind: 'video', hash: 'b2', title: 'Video of the attempt' },
  ],
  ways: ['tracker'],
  owner: null,
  known: [
    { id: 4, title: 'The list stays empty', number: 'FSF-4', state: 'open', likeness: 0.8, because: 'words' },
    { id: 5, title: 'Another', number: null, state: 'draft', likeness: 0.2, because: 'words' },
  ],
}
async function open(answers: Answers) {
  const goTo = jest.fn()
  const asked = answerWith({ 'GET /api/defects/draft/at-1': DRAFT, ...answers })
  render(
    <Around goTo={goTo}>
      <DraftDialog of={{ attemptId: 'at-1' }} onClose={() => {}} />
    </Around>,
  )
  await screen.findByRole('button', { name: 'It is this one: FSF-4' })
  return { asked, goTo, person: userEvent.setup() }
}

test('a failure is one that is known: with the evidence that is marked, and that defect opens', async () => {
  const { asked, goTo, person } = await open({
    'POST /api/defects/4/again': { said: true, decided: true },
  })
  await person.click(screen.getByRole('checkbox', { name: 'Video of the attempt' }))
  await person.click(screen.getByRole('button', { name: 'It is this one: FSF-4' }))
  await waitFor(() => expect(goTo).toHaveBeenCalledWith('/defects?id=4'))
  expect(asked.filter(({ method }) => method === 'POST')).toEqual([
    { method: 'POST', path: '/api/defects/4/again', body: { attemptId: 'at-1', evidence: ['a1'] } },
  ])
})

test('what is hardly alike is not offered; a refusal is said, and the draft stays', async () => {
  const words = 'Joss decided this meanwhile.'
  const { goTo, person } = await open({
    'POST /api/defects/4/again': refusal(409, 'CHANGED_MEANWHILE', words),
  })
  expect(screen.queryByRole('button', { name: 'It is this one: defect 5' })).toBeNull()
  await person.click(screen.getByRole('button', { name: 'It is this one: FSF-4' }))
  expect(await screen.findByText(words)).toBeTruthy()
  expect(goTo).not.toHaveBeenCalled()
  expect(screen.getByRole<HTMLInputElement>('textbox', { name: 'Title' }).value).toBe('No sailing is found')
})

test('the tracker is searched with Enter, which logs nothing, and what it has is taken', async () => {
  const issue = { number: 'T-9', title: 'Empty list', state: 'open', url: '' }
  const { asked, goTo, person } = await open({
    'GET /api/tracker-issues?q=empty+list': [issue],
    'POST /api/defects/adopt': { id: 8, said: true, decided: false },
  })
  await person.type(screen.getByLabelText('Words to search the tracker for'), 'empty list{Enter}')
  await person.click(await screen.findByRole('button', { name: 'It is this one: T-9' }))
  await waitFor(() => expect(goTo).toHaveBeenCalledWith('/defects?id=8'))
  expect(asked.filter(({ method }) => method === 'POST').map(({ path, body }) => [path, body])).toEqual([
    ['/api/defects/adopt', { attemptId: 'at-1', evidence: ['a1', 'b2'], number: 'T-9' }],
  ])
})
