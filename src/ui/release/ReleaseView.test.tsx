/** @jest-environment ./jest/page.cjs */
import { render, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { COVERAGE_WORDS } from '@/core/requirements'
import type { ReleaseViewModel } from '@/core/view-models'
import { answerWith, Around, refusal } from '../testing/around'
import { ReleaseView } from './ReleaseView'

const found = (more: Partial<ReleaseViewModel> = {}): ReleaseViewModel => ({
  builds: ['2026.11.4', '2026.11.3'],
  build: '2026.11.4',
  seen: 'a'.repeat(64),
  sheet: { build: '2026.11.4', before: null, verdict: 'unknown', speaks: [] },
  requirements: [
    {
      key: 'R1',
      title: 'Booking',
      parent: null,
      importance: 'must',
      depth: 0,
      cases: ['book'],
      own: 'passing',
      coverage: 'passing',
      cells: { quay: 'passing' },
    },
  ],
  counts: { failing: 0, uncovered: 0, 'not-run': 0, partly: 0, passing: 1 },
  unknown: [{ key: 'R9', cases: ['book'] }],
  environments: [{ key: 'quay', title: 'Quay' }],
  cases: { book: 'Book a crossing' },
  signed: [],
  ...more,
})
const show = (model: ReleaseViewModel) =>
  render(
    <Around role="coordinator">
      <ReleaseView initial={model} />
    </Around>,
  )
const LIST = 'id,title\nR2,Boarding'
// jsdom's files give no text
const CSV = Object.assign(new File([LIST], 'list.csv', { type: 'text/csv' }), { text: async () => LIST })

test('what says nothing goes out only with a word; a refusal keeps the word', async () => {
  const person = userEvent.setup()
  const asked = answerWith({
    'POST /api/releases': refusal(409, 'CHANGED_MEANWHILE', 'The sheet says something else by now.'),
  })
  show(found())
  const goes = screen.getByRole('button', { name: 'It goes out' })
  expect(goes).toHaveProperty('disabled', true)
  await person.type(screen.getByLabelText('A word with it'), 'Tried by hand')
  await person.click(goes)
  expect((await screen.findByRole('alert')).textContent).toContain('something else by now')
  expect(screen.getByLabelText('A word with it')).toHaveProperty('value', 'Tried by hand')
  expect(asked.at(-1)).toMatchObject({
    body: { decision: 'goes', note: 'Tried by hand', seen: 'a'.repeat(64) },
  })
})

test('a list is looked at before it is taken', async () => {
  const person = userEvent.setup()
  const asked = answerWith({
    'PUT /api/requirements': {
      added: ['R2'],
      changed: [],
      removed: ['R1'],
      all: 1,
      wouldLose: ['Book a crossing'],
    },
  })
  show(found())
  await person.click(screen.getByRole('button', { name: 'Bring a list' }))
  await person.upload(screen.getByLabelText('From a file'), CSV)
  expect(await screen.findByText('1 case names what would be gone: Book a crossing')).toBeTruthy()
  const puts = () => asked.filter(({ method }) => method === 'PUT').map(({ body }) => body)
  expect(puts()).toEqual([{ list: LIST, look: true }])
  await person.click(screen.getByRole('button', { name: 'Take the list' }))
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
  expect(puts().at(-1)).toEqual({ list: LIST, look: false })
})

test('a requirement opens to its cases; names that stand for none are told', async () => {
  const person = userEvent.setup()
  show(found())
  await person.click(screen.getByRole('button', { name: 'R1 Booking' }))
  expect(screen.getByRole('link', { name: 'Book a crossing' })).toHaveProperty(
    'href',
    'http://localhost/cases/book',
  )
  expect(screen.getByText(/stand for no requirement/).textContent).toContain('R9')
})

test('requirements stand by build as well, this one and those before it', async () => {
  const person = userEvent.setup()
  answerWith({
    'GET /api/releases?build=2026.11.4': found(),
    'GET /api/releases/builds?build=2026.11.4': {
      builds: ['2026.11.4', '2026.11.3'],
      cells: { R1: { '2026.11.4': 'passing', '2026.11.3': 'failing' } },
    },
  })
  show(found())
  const cells = () => screen.getAllByRole('row')[1]!.textContent
  expect(screen.getByRole('columnheader', { name: 'Quay' })).toBeTruthy()
  await person.click(screen.getByRole('radio', { name: 'By build' }))
  expect(await screen.findByRole('columnheader', { name: '2026.11.3' })).toBeTruthy()
  expect(screen.queryByRole('columnheader', { name: 'Quay' })).toBeNull()
  expect(cells()).toContain(COVERAGE_WORDS.failing)
  await person.click(screen.getByRole('radio', { name: 'By environment' }))
  expect(cells()).not.toContain(COVERAGE_WORDS.failing)
})
