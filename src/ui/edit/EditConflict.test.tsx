/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { render, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { EditConflict } from '@/core/view-models'
import { answerWith, Around } from '../testing/around'
import { EditConflictBand, EditConflictDialog } from './EditConflict'
import { TwoTexts } from './TwoTexts'
import type { Draft } from './useDraft'

const THEIRS: EditConflict = {
  version: 4,
  who: 'Tomas Lindqvist',
  at: '2031-03-03T06:12:00Z',
  changes: ['title changed'],
  source: 'case: board\ntitle: Theirs\n',
}
const draftOf = (more: Partial<Draft> = {}) => {
  const does = { showConflict: jest.fn(), takeTheirs: jest.fn(), rebase: jest.fn() }
  const draft = {
    kind: 'case',
    key: 'board',
    source: 'case: board\ntitle: Mine\n',
    behind: false,
    conflict: undefined,
    viewModel: { version: 4, source: THEIRS.source, theirs: null },
    ...does,
    ...more,
  } as unknown as Draft
  return { draft, ...does }
}
const around = (children: React.ReactNode) => render(<Around>{children}</Around>)

describe('somebody else saved first', () => {
  test('both texts are shown, with who it was and what they changed', () => {
    const { draft } = draftOf({ conflict: THEIRS })
    around(<EditConflictDialog draft={draft} />)
    const dialog = screen.getByRole('dialog')
    expect(dialog.textContent).toContain('Tomas Lindqvist saved version 4')
    expect(dialog.textContent).toContain('title changed')
    expect(dialog.textContent).toContain('+ title: Mine')
    expect(dialog.textContent).toContain('− title: Theirs')
  })

  test.each([
    ['Go on with mine, over theirs', 'rebase', 4],
    ['Take theirs, mine one undo away', 'takeTheirs', THEIRS],
    ['Decide later', 'showConflict', undefined],
  ] as const)('%s', async (name, action, given) => {
    const made = draftOf({ conflict: THEIRS })
    around(<EditConflictDialog draft={made.draft} />)
    await userEvent.click(screen.getByRole('button', { name }))
    expect(made[action].mock.calls).toEqual([[given]])
  })

  test('without one there is no dialog, and no band', () => {
    const { draft } = draftOf()
    around(
      <>
        <EditConflictDialog draft={draft} />
        <EditConflictBand draft={draft} />
      </>,
    )
    expect([screen.queryByRole('dialog'), screen.queryByRole('alert')]).toEqual([null, null])
  })
})

test('while one edits, a band says that somebody saved; both can be seen', async () => {
  const { at, who, changes } = THEIRS
  answerWith({ 'GET /api/definitions/case/board/versions': [{ number: 4, at, who, changes }] })
  const { draft, showConflict } = draftOf({ behind: true })
  around(<EditConflictBand draft={draft} />)
  await userEvent.click(screen.getByRole('button', { name: 'See both' }))
  await waitFor(() => expect(showConflict).toHaveBeenCalledWith(THEIRS))
})

test.each([
  ['Keep the one from here', 'ours'],
  ['Take the repository’s', 'theirs'],
])('edited here and in the repository: %s', async (name, keep) => {
  const asked = answerWith({ 'POST /api/definitions/case/board/settle': {} })
  const { draft } = draftOf()
  const viewModel = { ...draft.viewModel!, theirs: 'from the repository', repository: null }
  around(<EditConflictBand draft={{ ...draft, viewModel }} />)
  await userEvent.click(screen.getByRole('button', { name }))
  expect(asked).toEqual([{ method: 'POST', path: '/api/definitions/case/board/settle', body: { keep } }])
})

test('of two texts only what differs is marked', () => {
  render(<TwoTexts mine={'a\nb\nc\n'} theirs={'a\nx\nc\n'} theirName="version 4" />)
  const lines = [...document.querySelectorAll('pre > div')].map(({ textContent }) => textContent)
  expect(lines).toEqual(['  a', '− x', '+ b', '  c'])
})
