/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { render, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { GuidedSheetViewModel } from '@/core/view-models'
import { answerWith, Around, refusal, type Answers } from '../testing/around'
import { GuidedView } from './GuidedView'

const SHEET: GuidedSheetViewModel = {
  id: '0197',
  runId: 12,
  runTitle: 'Rounds on deck',
  build: '2026.11.4',
  caseKey: 'gate-in-the-rain',
  title: 'The gate on deck',
  environment: { key: 'ios-handset', title: 'WebKit, iOS', browser: 'WebKit', os: 'iOS 26' },
  rowAt: { index: 1, of: 2 },
  row: { lead: 'Bram Osterley' },
  addresses: { gate: 'http://127.0.0.1:4701/gate' },
  person: 'Priya Castellan',
  steps: [
    { path: 'main.0', depth: 0, kind: 'do', words: { verb: 'do', object: 'Open the gate', detail: '' } },
    {
      path: 'main.1',
      depth: 0,
      kind: 'do',
      words: { verb: 'do', object: 'Hold it against the lamp', detail: '' },
      expected: 'The words are still read',
    },
  ],
  verdicts: [],
  facts: {},
  video: null,
  workedMs: 0,
  version: 0,
  ready: true,
  ended: null,
  next: { id: '0198', title: 'A party at the ramp' },
}
const SAVED = 'PUT /api/guided/0197'
const ENDED = 'POST /api/guided/0197/conclude'

function open(given: Partial<GuidedSheetViewModel> = {}, answers: Answers = {}) {
  let version = 0
  const asked = answerWith({
    [SAVED]: () => ({ version: ++version }),
    [ENDED]: { attemptId: 'made' },
    ...answers,
  })
  const goTo = jest.fn()
  Element.prototype.scrollIntoView ??= () => {}
  render(
    <Around goTo={goTo}>
      <GuidedView sheet={{ ...SHEET, ...given }} />
    </Around>,
  )
  const sent = (method: string) => asked.filter((one) => one.method === method).map(({ body }) => body)
  return { user: userEvent.setup(), goTo, sent }
}
const step = () => screen.getByRole('region', { name: 'The step to do' })

test('a case is judged by keys alone; each word is kept, and the end goes on to the next case', async () => {
  const { user, goTo, sent } = open()
  expect(within(step()).getByRole('status').textContent).toBe('Open the gate')
  await user.keyboard('y')
  expect(within(step()).getByText('The words are still read')).toBeTruthy()
  expect(screen.getByRole('button', { name: /Conclude/ }).getAttribute('aria-disabled')).toBe('true')
  await user.keyboard('o')
  await user.keyboard('e')
  await waitFor(() => expect(goTo).toHaveBeenCalledWith('/guided/0198'))
  expect(sent('PUT').at(-1)).toMatchObject({
    verdicts: [
      { path: 'main.0', is: 'passed' },
      { path: 'main.1', is: 'skipped' },
    ],
    facts: { system: 'iOS 26', browser: 'WebKit' },
  })
  expect(sent('POST')).toHaveLength(1)
})

test('what was not so may end the case before its end, with what was seen, and goes on to the defect', async () => {
  const { user, goTo, sent } = open()
  await user.type(screen.getByLabelText('Note'), 'the screen is black')
  await user.click(screen.getByRole('button', { name: 'It is not so' }))
  await user.click(screen.getByRole('button', { name: 'Conclude and draft the defect' }))
  await waitFor(() => expect(goTo).toHaveBeenCalledWith('/attempts/made?draft=1'))
  expect(sent('PUT').at(-1)).toMatchObject({
    verdicts: [{ path: 'main.0', is: 'failed', note: 'the screen is black' }],
  })
})

test.each([
  ['slowly', false],
  ['at once', true],
])('a word that is still to be kept does not come after an end that comes %s', async (_, atOnce) => {
  jest.useFakeTimers()
  try {
    let end: (answer: object) => void = () => {}
    const { sent } = open({}, { [ENDED]: () => new Promise((resolve) => (end = resolve)) })
    const user = userEvent.setup({ advanceTimers: jest.advanceTimersByTime.bind(jest) })
    await user.keyboard('ne')
    if (atOnce) end({ attemptId: 'made' })
    await jest.advanceTimersByTimeAsync(2000) // longer than words are gathered
    expect(sent('POST')).toHaveLength(1)
    expect(sent('PUT')).toHaveLength(1)
    end({ attemptId: 'made' })
  } finally {
    jest.useRealTimers()
  }
})

test('letters of a note are no verdicts, and a word is taken back', async () => {
  const { user } = open()
  await user.type(screen.getByLabelText('Note'), 'yonder')
  expect(within(step()).getByRole('status').textContent).toBe('Open the gate')
  await user.click(screen.getByRole('button', { name: 'Open the gate not judged yet' }))
  await user.keyboard('y')
  await user.keyboard('u')
  expect(within(step()).getByRole('status').textContent).toBe('Open the gate')
  expect(screen.getByLabelText<HTMLTextAreaElement>('Note').value).toBe('yonder')
})

test('somebody else saved meanwhile: it says so, and nothing more is sent until it is read again', async () => {
  const { user, sent } = open(
    {},
    { [SAVED]: refusal(409, 'CHANGED_MEANWHILE', 'Mirela said something of this case in the meantime.') },
  )
  await user.keyboard('y')
  expect((await screen.findByRole('alert')).textContent).toContain('Mirela said something')
  expect(screen.getByRole('button', { name: 'It is so' })).toHaveProperty('disabled', true)
  await user.keyboard('y')
  expect(sent('PUT')).toHaveLength(1)
})

test('one that is over has its log, and nothing to say', () => {
  open({ ended: { attemptId: 'made' }, verdicts: [] })
  expect(screen.getByRole('link', { name: 'Its log' }).getAttribute('href')).toBe('/attempts/made')
  expect(screen.getByRole('button', { name: 'It is so' })).toHaveProperty('disabled', true)
})

test('one of somebody else says whose it is', () => {
  open({ person: 'Mirela Voss' })
  expect(screen.getByText(/It is with Mirela Voss/)).toBeTruthy()
})
