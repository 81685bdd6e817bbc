/** @jest-environment jsdom */
import { render, screen, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { DefectViewModel } from '@/core/view-models'
import { answerWith, Around } from '../testing/around'
import { DefectsView } from './DefectsView'

const defect = (id: number, title: string, more: Partial<DefectViewModel> = {}): DefectViewModel => ({
  id,
  title,
  steps: '',
  expected: '',
  occurs: '',
  actual: '',
  severity: 'normal',
  environment: 'Chromium, Windows',
  build: '2026.11.3',
  evidence: [],
  attemptId: null,
  caseKey: 'refund-over-400',
  runId: 4,
  state: 'draft',
  mailTo: null,
  trackerNumber: null,
  trackerState: null,
  trackerUrl: null,
  trackerReadAt: null,
  sendTries: 0,
  sendProblem: null,
  createdBy: 'Wren Adeyemi',
  createdAt: '2026-12-01T09:00:00.000Z',
  sentAt: null,
  version: 1,
  ...more,
})

function show(address = '') {
  const all = [defect(1, 'The fare is wrong'), defect(2, 'The gate stays shut', { severity: 'high' })]
  answerWith({ 'GET /api/defects': all })
  render(
    <Around address={address}>
      <DefectsView initial={all} />
    </Around>,
  )
  const list = screen.getByRole('table', { name: 'Defects' })
  return () =>
    within(list)
      .getAllByRole('row')
      .slice(1)
      .map((row) => within(row).getByRole('button').textContent)
}

test('words and choices narrow the list; what is shown is among what is left', async () => {
  const person = userEvent.setup()
  const titles = show()
  expect(titles()).toEqual(['The fare is wrong', 'The gate stays shut'])
  await person.type(screen.getByLabelText('Words in it'), 'gate')
  expect(titles()).toEqual(['The gate stays shut'])
  expect(screen.getByRole('article', { name: 'The gate stays shut' })).toBeTruthy()
  await person.selectOptions(screen.getByLabelText('Severity'), 'normal')
  expect(titles()).toEqual([])
  expect(screen.getByText('No defect is like that.')).toBeTruthy()
})

test('an address shows the same list', () =>
  expect(show('?severity=high')()).toEqual(['The gate stays shut']))
