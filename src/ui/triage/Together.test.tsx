/** @jest-environment ./jest/page.cjs */
import { screen, waitFor, within } from '@testing-library/react'
import { LOOKING_MS } from '@/core/view-models'
import { refusal } from '../testing/around'
import { decision, desk, group, open, posts } from './testing/desk'

const base = group('covered', 76)
/** One of three failures is on a tablet. */
const mixed = group('covered', 76, {
  members: base.members.map((one, i) =>
    i === 2 ? { ...one, environment: 'Harbour tablet', environmentKey: 'harbour-tablet' } : one,
  ),
})
const apart = { 'POST /api/triage/splits': { id: 4, signature: 'covered / 4', failures: 1 } }

test('a part of a cause is set apart by key, and put back at a click', async () => {
  const { asked, user } = open(desk(mixed, group('fare', 75)), {
    ...apart,
    'DELETE /api/triage/splits/4': {},
  })
  await user.keyboard('a')
  const question = screen.getByRole('region', { name: 'A part of it' })
  expect(
    within(question)
      .getAllByRole('listitem')
      .map(({ textContent }) => textContent),
  ).toEqual(['1on Android 16, handset2 of 3', '2on Harbour tablet1 of 3'])
  await user.keyboard('2')
  await waitFor(() => expect(screen.queryByRole('region', { name: 'A part of it' })).toBeNull())
  const part = { by: 'environment', value: 'harbour-tablet', label: 'Harbour tablet' }
  expect(posts(asked)).toEqual([['/api/triage/splits', { signature: 'covered', title: 'covered', ...part }]])
})

test('words that tell a part are long enough to tell one', async () => {
  const { asked, user } = open(desk(mixed), apart)
  await user.click(screen.getByRole('button', { name: /^Set a part apart/ }))
  await user.type(screen.getByRole('textbox', { name: 'Those that say' }), ' ga ')
  await user.click(screen.getByRole('button', { name: 'Set apart' }))
  expect(screen.getByText('At least 3 characters of what they say.')).toBeTruthy()
  await user.type(screen.getByRole('textbox', { name: 'Those that say' }), 'te{Enter}')
  await waitFor(() =>
    expect(asked.find(({ path }) => path === '/api/triage/splits')?.body).toMatchObject({
      by: 'words',
      value: 'ga te',
    }),
  )
})

test('a part that is apart already is said, and the cause stays', async () => {
  const words = 'That part is apart already.'
  const { user } = open(desk(mixed), { 'POST /api/triage/splits': refusal(422, 'BODY_INVALID', words) })
  await user.keyboard('a')
  await user.keyboard('1')
  expect(await screen.findByText(words)).toBeTruthy()
})

test('what was set apart is said with the cause and with the part', async () => {
  const rule = { id: 4, words: 'on Harbour tablet', title: 'covered', by: 'Joss Hale' }
  const { asked, user } = open(
    desk(
      group('covered', 76, { splits: [{ ...rule, isThis: false }] }),
      group('fare', 75, { splits: [{ ...rule, isThis: true }] }),
    ),
    { 'DELETE /api/triage/splits/4': {} },
  )
  const region = () => screen.getByRole('region', { name: 'Set apart' })
  expect(region().textContent).toContain('What fails on Harbour tablet by Joss Hale')
  await user.keyboard('j')
  expect(region().textContent).toContain('A part of “covered” by Joss Hale')
  await user.click(within(region()).getByRole('button', { name: 'put back' }))
  await waitFor(() => expect(asked.some(({ method }) => method === 'DELETE')).toBe(true))
})

test('who looks at a cause is said to others, and who looks no more is not', async () => {
  const look = (person: string, signature: string, ageMs = 1000) => ({ person, signature, ageMs })
  open(desk(group('covered', 76), group('fare', 75)), {
    'GET /api/triage/looking': {
      lookers: [
        look('Joss Hale', 'covered'),
        look('Wren Adeyemi', 'fare'),
        look('Tomas Rehn', 'fare', LOOKING_MS + 1),
      ],
    },
  })
  expect(await screen.findByText('Joss Hale looks at it too.')).toBeTruthy()
  const list = within(screen.getByRole('list', { name: 'To decide' })).getAllByRole('button')
  expect(list[1]!.textContent).toContain('Wren Adeyemi is here')
  expect(list[1]!.textContent).not.toContain('Tomas')
})

test('it is told what this person looks at, once they stay with it', async () => {
  const { asked, user } = open(desk(group('covered', 76), group('fare', 75)), {
    'POST /api/triage/looking': {},
  })
  await user.keyboard('j')
  await waitFor(() =>
    expect(asked.filter(({ method }) => method === 'POST')).toMatchObject([
      { path: '/api/triage/looking', body: { signature: 'fare' } },
    ]),
  )
})

test('a fault of the test opens the case at the step, adopts what was found, and says what the log would mend', async () => {
  const note = 'found by text; testId finds it no more: mend “testId: old” or take it out'
  open(desk(group('covered', 76, { decision: decision('test-fault') })), {
    'GET /api/attempts/covered-a/mends': [{ path: 'main.1', words: 'click Board', note }],
  })
  const column = within(screen.getByRole('complementary', { name: 'Decision' }))
  expect(column.getByRole('link', { name: 'Open the case at the step' })).toBeTruthy()
  expect(column.getByRole('button', { name: /^Adopt what was found/ })).toBeTruthy()
  const mends = within(await column.findByRole('region', { name: 'To mend, by its log' }))
  expect(mends.getByRole('link', { name: 'click Board' }).getAttribute('href')).toBe(
    '/cases/gate-boarding?step=main.1',
  )
  expect(mends.getByText(note)).toBeTruthy()
})
