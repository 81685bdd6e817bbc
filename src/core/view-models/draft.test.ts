import fc from 'fast-check'
import { readDraft, reduceDraft, UNDO_MOST, UNTOUCHED, type DraftAction, type DraftState } from './draft'

const KEPT = { source: 'case: board\n', version: 3 }
const play = (...actions: DraftAction[]): DraftState => actions.reduce(reduceDraft, UNTOUCHED)
const write = (text: string, kept = KEPT): DraftAction => ({ do: 'change', kept, next: () => text })
const add = (text: string, kept = KEPT): DraftAction => ({ do: 'change', kept, next: (now) => now + text })
const undo: DraftAction = { do: 'go', by: -1 }
const redo: DraftAction = { do: 'go', by: 1 }
const sourceAfter = (...actions: DraftAction[]) => readDraft(play(...actions), KEPT).source
const theirs = (version = 4) => ({
  version,
  who: 'Priya Castellan',
  at: '2031-03-03T06:10:00Z',
  changes: ['title'],
  source: 'case: board\ntitle: Theirs\n',
})

test('untouched, it shows what is kept, and what others save', () => {
  expect(readDraft(UNTOUCHED, KEPT)).toEqual({
    source: KEPT.source,
    dirty: false,
    baseVersion: 3,
    behind: false,
    canUndo: false,
    canRedo: false,
  })
  expect(readDraft(UNTOUCHED, { source: 'new', version: 4 }).source).toBe('new')
})

test('two changes at once follow each other', () => {
  expect(sourceAfter(add('a'), add('b'))).toBe(`${KEPT.source}ab`)
})

test('a change to the same text is none', () => {
  const state = play(add('a'))
  expect(reduceDraft(state, add(''))).toBe(state)
})

test('undone to its beginning, nothing is edited: what others save then is shown', () => {
  const state = play(add('a'), undo)
  expect(readDraft(state, { source: 'new', version: 4 })).toMatchObject({ source: 'new', dirty: false })
})

test('an edit after what others saved is made in their text, and follows their version', () => {
  const newer = { source: 'new', version: 4 }
  const state = reduceDraft(play(add('a'), undo), add('!', newer))
  expect(readDraft(state, newer)).toMatchObject({ source: 'new!', baseVersion: 4, behind: false })
  expect(readDraft(reduceDraft(state, undo), newer).source).toBe('new')
})

test('what others save while something is edited changes nothing here, and is told', () => {
  const newer = { source: 'new', version: 4 }
  const state = reduceDraft(play(add('a')), add('b', newer))
  expect(readDraft(state, newer)).toMatchObject({
    source: `${KEPT.source}ab`,
    baseVersion: 3,
    behind: true,
  })
})

test('the same text as theirs is nothing to save', () => {
  expect(readDraft(play(write('new')), { source: 'new', version: 4 })).toMatchObject({
    dirty: false,
    behind: false,
  })
})

test('a new change ends what could be redone', () => {
  expect(readDraft(play(add('a'), undo, add('b')), KEPT)).toMatchObject({
    source: `${KEPT.source}b`,
    canRedo: false,
  })
})

test('unsaved text of an earlier visit goes on from its version, and can be undone', () => {
  const state = play({ do: 'restore', kept: KEPT, source: 'mine', base: 2 })
  expect(readDraft(state, KEPT)).toMatchObject({
    source: 'mine',
    baseVersion: 2,
    behind: true,
    canUndo: true,
  })
  expect(readDraft(reduceDraft(state, undo), KEPT).source).toBe(KEPT.source)
})

describe('somebody else was quicker', () => {
  const mine = play(add('mine'), { do: 'show-conflict', conflict: theirs() })

  test('theirs is taken: mine is one undo away, and follows their version', () => {
    const newer = { source: theirs().source, version: 4 }
    const state = reduceDraft(mine, { do: 'take-theirs', kept: KEPT, conflict: theirs() })
    expect(state.conflict).toBeUndefined()
    expect(readDraft(state, newer)).toMatchObject({ source: newer.source, dirty: false })
    expect(readDraft(reduceDraft(state, undo), newer)).toMatchObject({
      source: `${KEPT.source}mine`,
      baseVersion: 4,
      behind: false,
      dirty: true,
    })
  })

  test('mine goes over theirs', () => {
    const state = reduceDraft(mine, { do: 'rebase', version: 4 })
    expect(state.conflict).toBeUndefined()
    expect(readDraft(state, { source: theirs().source, version: 4 })).toMatchObject({
      source: `${KEPT.source}mine`,
      behind: false,
    })
  })

  test('a decision put off loses nothing', () => {
    const state = reduceDraft(mine, { do: 'show-conflict', conflict: undefined })
    expect(readDraft(state, KEPT).source).toBe(`${KEPT.source}mine`)
  })
})

test('however many changes: undo goes back through the latest, then to what was kept', () => {
  const many = Array.from({ length: UNDO_MOST + 50 }, (_, i) => write(`text ${i}`))
  let state = play(...many)
  expect(state.steps!.texts).toHaveLength(UNDO_MOST)
  for (let i = 0; i < UNDO_MOST - 2; i++) state = reduceDraft(state, undo)
  expect(readDraft(state, KEPT).source).toBe('text 51')
  state = reduceDraft(state, undo)
  expect(readDraft(state, KEPT)).toMatchObject({ source: KEPT.source, dirty: false, canUndo: false })
})

const someAction: fc.Arbitrary<DraftAction> = fc.oneof(
  fc.constantFrom('a', 'b', 'c').map((text) => add(text)),
  fc.constantFrom('x', 'y').map((text) => write(text)),
  fc.constant(undo),
  fc.constant(redo),
)

test('as many undos as changes give back what was kept, and as many redos all of them', () => {
  fc.assert(
    fc.property(fc.array(someAction, { maxLength: 40 }), (actions) => {
      const state = play(...actions)
      const steps = state.steps?.texts.length ?? 0
      const back = Array.from({ length: steps }, () => undo).reduce(reduceDraft, state)
      expect(readDraft(back, KEPT)).toMatchObject({ source: KEPT.source, dirty: false, canUndo: false })
      const forth = Array.from({ length: steps }, () => redo).reduce(reduceDraft, back)
      expect(readDraft(forth, KEPT).source).toBe(state.steps?.texts.at(-1) ?? KEPT.source)
    }),
  )
})

test('an undo and a redo after it change nothing', () => {
  fc.assert(
    fc.property(fc.array(someAction, { maxLength: 40 }), (actions) => {
      const state = play(...actions)
      if (!readDraft(state, KEPT).canUndo) return
      expect(reduceDraft(reduceDraft(state, undo), redo)).toEqual(state)
    }),
  )
})
