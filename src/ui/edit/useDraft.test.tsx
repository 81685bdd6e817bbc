/** @jest-environment ./jest/page.cjs */
import { act, renderHook, waitFor } from '@testing-library/react'
import type { Edit } from '@/core/model'
import type { BenchViewModel } from '@/core/view-models'
import { answerWith, Around, refusal, type Answers } from '../testing/around'
import { useDraft } from './useDraft'

const PATH = '/api/definitions/case/board'
const SOURCE = 'case: board\ntitle: Board a party # of two\nsteps:\n  - open: gate:/\n'
const kept = (source = SOURCE, version = 3): BenchViewModel => ({
  kind: 'case',
  key: 'board',
  title: 'Board a party',
  version,
  source,
  file: 'cases/board.yaml',
  edited: false,
  theirs: null,
  changedAt: '2031-03-03T06:10:00Z',
  repository: null,
  broken: [],
  repositories: [],
  rowCount: 0,
  draft: { problems: [], warnings: [] },
  last: [],
  screens: {},
  uses: [],
  offers: { routines: [], tables: [], databases: [], applications: [], tags: [] },
})
const SOUND = { problems: [], warnings: [] }

function open(answers: Answers = {}) {
  const asked = answerWith({ [`GET ${PATH}`]: kept(), [`POST ${PATH}/check`]: SOUND, ...answers })
  const { result, unmount } = renderHook(() => useDraft('case', 'board', kept()), {
    wrapper: ({ children }: { children: React.ReactNode }) => <Around>{children}</Around>,
  })
  return { draft: result, asked, unmount, sent: () => asked.filter(({ method }) => method === 'PUT') }
}
const title = (text: string): Edit => ({ do: 'put', path: ['title'], value: text })

beforeEach(() => localStorage.clear())
// To read it takes a while; what is tested is what happens before it is there, not how long that is.
beforeAll(() => import('@/core/model/editing'))

test('an edit made before the library that edits has come is not lost, and leaves comments alone', async () => {
  const { draft } = open()
  act(() => void draft.current.edit(title('Refuse a party')))
  await waitFor(() => expect(draft.current.source).toContain('title: Refuse a party # of two'))
  expect([draft.current.dirty, draft.current.canUndo]).toEqual([true, true])
})

test('two edits in one go both count', async () => {
  const { draft } = open()
  await act(async () => void draft.current.edit(title('A')))
  await waitFor(() => expect(draft.current.dirty).toBe(true))
  act(() => {
    draft.current.edit({ do: 'put', path: ['priority'], value: 'high' })
    draft.current.edit({ do: 'put', path: ['limit'], value: '30s' })
  })
  expect(draft.current.source).toMatch(/priority: high[^]*limit: 30s/)
})

test('an edit that does not fit the text changes nothing', async () => {
  const { draft } = open()
  await act(async () => void draft.current.edit(title('A')))
  await waitFor(() => expect(draft.current.dirty).toBe(true))
  const before = draft.current.source
  let fitted: boolean | undefined
  act(() => void (fitted = draft.current.edit({ do: 'remove', paths: [['steps', 7]] })))
  expect([fitted, draft.current.source]).toEqual([false, before])
})

test('saving says which version the text was made from; afterwards nothing is unsaved', async () => {
  let source = SOURCE
  const { draft, sent } = open({
    [`PUT ${PATH}`]: (body: { source: string }) => {
      source = body.source
      return { version: 4, changes: ['title'] }
    },
    [`GET ${PATH}`]: () => kept(source, 4),
  })
  act(() => draft.current.write('case: board\ntitle: Mine\n'))
  await act(async () => void (await draft.current.save()))
  expect(sent()).toEqual([
    { method: 'PUT', path: PATH, body: { source: 'case: board\ntitle: Mine\n', basedOn: 3 } },
  ])
  await waitFor(() => expect(draft.current).toMatchObject({ dirty: false, source }))
  expect(localStorage.length).toBe(0)
})

test('somebody was quicker: both texts are there, and mine can go over theirs', async () => {
  const other = {
    version: 4,
    who: 'Tomas Lindqvist',
    at: '2031-03-03T06:12:00Z',
    changes: [],
    source: 'theirs',
  }
  const { draft, sent } = open({
    [`PUT ${PATH}`]: ({ basedOn }: { basedOn: number }) =>
      basedOn < 4
        ? refusal(409, 'CHANGED_MEANWHILE', 'Tomas Lindqvist saved version 4.', other)
        : { version: 5, changes: [] },
  })
  act(() => draft.current.write('mine'))
  await act(async () => void (await draft.current.save()))
  expect(draft.current).toMatchObject({ conflict: other, source: 'mine', dirty: true })
  act(() => draft.current.rebase(other.version))
  expect(draft.current.conflict).toBeUndefined()
  await act(async () => void (await draft.current.save()))
  expect(sent().map(({ body }) => (body as { basedOn: number }).basedOn)).toEqual([3, 4])
})

test('a refusal of another kind keeps the text', async () => {
  const { draft } = open({ [`PUT ${PATH}`]: refusal(503, 'BUSY', 'The server is busy.') })
  act(() => draft.current.write('mine'))
  await act(async () => void (await draft.current.save()))
  expect(draft.current).toMatchObject({ source: 'mine', dirty: true, saving: false, conflict: undefined })
})

test('unsaved text is here again after a reload, as made from its version; discarded it is gone', async () => {
  const first = open()
  act(() => first.draft.current.write('mine'))
  first.unmount()
  const { draft } = open({ [`GET ${PATH}`]: kept('newer', 4) })
  await waitFor(() => expect(draft.current).toMatchObject({ source: 'mine', dirty: true, canUndo: true }))
  act(() => draft.current.discard())
  expect(draft.current.dirty).toBe(false)
  expect(localStorage.length).toBe(0)
})

test.each([['not JSON'], ['{"source":7,"base":1}'], ['null'], ['[]'], ['{"source":"x"}']])(
  'what is kept in the browser and cannot be read is passed over: %s',
  (stored) => {
    localStorage.setItem('oak-draft-case-board', stored)
    const { draft } = open()
    expect(draft.current).toMatchObject({ source: SOURCE, dirty: false })
  },
)

test('leaving with something unsaved is asked about, and only then', async () => {
  const { draft } = open()
  const leave = () => {
    const event = new Event('beforeunload', { cancelable: true })
    window.dispatchEvent(event)
    return event.defaultPrevented
  }
  expect(leave()).toBe(false)
  act(() => draft.current.write('mine'))
  expect(leave()).toBe(true)
  act(() => draft.current.undo())
  expect(leave()).toBe(false)
})
