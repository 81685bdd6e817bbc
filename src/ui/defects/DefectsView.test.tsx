/** @jest-environment ./jest/page.cjs */
import { cleanup, render, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { DefectViewModel } from '@/core/view-models'
import { answerWith, Around, type Answers } from '../testing/around'
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
  caseRunId: null,
  caseKey: 'refund-over-400',
  runId: 4,
  state: 'draft',
  mailTo: null,
  trackerNumber: null,
  trackerState: null,
  trackerUrl: null,
  trackerTitle: null,
  trackerReadAt: null,
  sendTries: 0,
  sendProblem: null,
  attached: 0,
  attachProblem: null,
  createdBy: 'Wren Adeyemi',
  createdAt: '2026-12-01T09:00:00.000Z',
  sentAt: null,
  version: 1,
  ...more,
})

const ALL = [
  defect(1, 'The fare is wrong', { build: '2026.11.4' }),
  defect(2, 'The gate stays shut', { severity: 'high' }),
  defect(3, 'No seat is left', {
    severity: 'low',
    state: 'sent',
    trackerNumber: 'FSF-9',
    trackerState: 'open',
    trackerTitle: 'A seat is sold twice',
  }),
]
function open(
  address = '',
  answers: Answers = {},
  role: 'viewer' | 'tester' = 'tester',
  initial: DefectViewModel[] = ALL,
) {
  const asked = answerWith({ 'GET /api/defects': ALL, 'GET /api/views/defects': [], ...answers })
  render(
    <Around address={address} role={role}>
      <DefectsView initial={initial} />
    </Around>,
  )
  return { asked, person: userEvent.setup() }
}
const table = () => screen.getByRole('table', { name: 'Defects' })
const titles = () =>
  within(table())
    .getAllByRole('row')
    .slice(1)
    .map((row) => within(row).getByRole('button').textContent)
const heads = () =>
  within(table())
    .getAllByRole('columnheader')
    .map(({ textContent }) => textContent)
const read = () => screen.getByRole('article').getAttribute('aria-label')

test('words and choices narrow the list; what is shown is among what is left', async () => {
  const { person } = open()
  expect(titles()).toEqual(['The fare is wrong', 'The gate stays shut', 'No seat is left'])
  await person.type(screen.getByLabelText('Words in it'), 'gate')
  expect(titles()).toEqual(['The gate stays shut'])
  expect(read()).toBe('The gate stays shut')
  await person.selectOptions(screen.getByLabelText('Severity'), 'normal')
  expect(titles()).toEqual([])
  expect(screen.getByText('No defect is like that.')).toBeTruthy()
})

test('an address shows the same list, with its order and its columns', () => {
  open('?severity=high&columns=severity,case')
  expect(titles()).toEqual(['The gate stays shut'])
  expect(heads()).toEqual(['Mark', 'Tracker', 'Defect', 'Severity', 'Case'])
})

test('keys go on in the order that is shown; severities have theirs', async () => {
  const { person } = open('?order=-Severity&columns=severity')
  expect(titles()).toEqual(['No seat is left', 'The fare is wrong', 'The gate stays shut'])
  expect(read()).toBe('No seat is left')
  await person.keyboard('j')
  expect(read()).toBe('The fare is wrong')
  await person.click(within(table()).getByRole('button', { name: /^Severity/ }))
  expect(titles()).toEqual(['The fare is wrong', 'The gate stays shut', 'No seat is left'])
})

test('what the tracker calls it by now stands with it', () => {
  open('?id=3')
  expect(screen.getByRole('article').textContent).toContain('Somebody calls it there: A seat is sold twice')
})

test('of one that a result file told nothing is run again, and its result is read', () => {
  const told = { ...ALL[2]!, caseRunId: 'c1' }
  open('?id=3', { 'GET /api/defects': [ALL[0], ALL[1], told] }, 'tester', [ALL[0]!, ALL[1]!, told])
  expect(screen.queryByRole('region', { name: 'Is it mended?' })).toBeNull()
  expect(screen.getByRole('link', { name: 'Read the result' }).getAttribute('href')).toBe('/runs/4?cell=c1')
  expect(screen.queryByRole('link', { name: 'The case' })).toBeNull()
})

test('columns are chosen one after the other', async () => {
  const { person } = open()
  expect(heads()).toEqual(['Mark', 'Tracker', 'Defect', 'Build', 'Logged'])
  await person.click(screen.getByRole('button', { name: 'Columns' }))
  await person.click(screen.getByRole('menuitemcheckbox', { name: 'Environment' }))
  await person.click(screen.getByRole('menuitemcheckbox', { name: 'Build' }))
  await person.keyboard('{Escape}')
  expect(heads()).toEqual(['Mark', 'Tracker', 'Defect', 'Environment', 'Logged'])
})

test('the severity of all that are marked is changed at once, what was left is said, and it is undone', async () => {
  const why = 'it has been sent: what it is now, the tracker says'
  const { asked, person } = open('', {
    'PATCH /api/defects': { done: [1], left: [{ id: 3, title: 'No seat is left', why }] },
  })
  await person.keyboard('x')
  await person.click(screen.getByRole('checkbox', { name: 'Mark No seat is left' }))
  const bar = screen.getByRole('region', { name: 'All that are marked' })
  expect(bar.textContent).toContain('2 marked')
  await person.selectOptions(within(bar).getByLabelText('Severity of all that are marked'), 'critical')
  expect(await within(bar).findByText(why)).toBeTruthy()
  expect(asked.findLast(({ method }) => method === 'PATCH')!.body).toEqual({
    edits: [
      { id: 1, version: 1, severity: 'critical' },
      { id: 3, version: 1, severity: 'critical' },
    ],
  })
  await person.click(within(bar).getByRole('button', { name: 'Unmark' }))
  expect(screen.queryByRole('region', { name: 'All that are marked' })).toBeNull()
})

test('the same is said of all that are shown, at the tracker', async () => {
  const { asked, person } = open('', { 'POST /api/defects/messages': { done: [1, 2, 3], left: [] } })
  await person.keyboard('a')
  await person.click(screen.getByRole('button', { name: 'Say…' }))
  const dialog = within(screen.getByRole('dialog', { name: 'Say at the tracker, of 3 defects' }))
  expect(dialog.getByRole<HTMLButtonElement>('button', { name: 'Say it' }).disabled).toBe(true)
  await person.type(dialog.getByLabelText('What is said of each'), ' Mended in 2026.11.4 ')
  await person.selectOptions(dialog.getByLabelText('And it'), 'closed')
  await person.click(dialog.getByRole('button', { name: 'Say it' }))
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
  expect(asked.findLast(({ method }) => method === 'POST')!.body).toEqual({
    ids: [1, 2, 3],
    text: 'Mended in 2026.11.4',
    state: 'closed',
  })
})

test('what is narrowed away is not marked any more, and who only reads marks nothing', async () => {
  const { person } = open()
  await person.keyboard('a')
  await person.selectOptions(screen.getByLabelText('Severity'), 'high')
  expect(screen.getByRole('region', { name: 'All that are marked' }).textContent).toContain('1 marked')
  cleanup()
  open('', {}, 'viewer')
  expect(screen.queryByRole('checkbox')).toBeNull()
})

test('a view is kept under a name, and opened', async () => {
  const views = [{ id: 4, name: 'High ones', query: 'severity=high', by: 'Joss Okafor' }]
  const { asked, person } = open('', { 'GET /api/views/defects': views, 'PUT /api/views/defects': {} })
  await person.click(screen.getByRole('button', { name: 'Views' }))
  const link = await screen.findByRole('link', { name: 'High ones' })
  expect(link.getAttribute('href')).toBe('/defects?severity=high')
  await person.type(screen.getByLabelText('Keep this one as'), 'High ones')
  await person.click(screen.getByRole('button', { name: 'Keep it anew' }))
  await waitFor(() =>
    expect(asked.findLast(({ method }) => method === 'PUT')?.body).toEqual({ name: 'High ones', query: '' }),
  )
})
