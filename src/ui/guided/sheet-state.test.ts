import { isJudged, type GuidedStep } from '@/core/guided'
import {
  onlyToDo,
  onSheet,
  PICTURES_MOST,
  sheetState,
  verdictsOf,
  type SheetAction,
  type SheetState,
} from './sheet-state'

const step = (path: string, more: Partial<GuidedStep> = {}): GuidedStep => ({
  path,
  depth: 0,
  kind: 'do',
  words: { verb: 'do', object: path, detail: '' },
  ...more,
})
const STEPS = [
  step('main.0', { kind: 'group' }),
  step('main.0.0', { kind: 'step' }),
  step('main.0.1', { kind: 'step' }),
  step('main.1', { expected: 'the light is green' }),
  step('main.2'),
]
const PICTURE = { hash: 'a'.repeat(64), width: 8, height: 6 }
const after = (...actions: SheetAction[]): SheetState => actions.reduce(onSheet, sheetState(STEPS, []))
const say = (is: 'passed' | 'failed' | 'skipped', atMs = 1): SheetAction => ({ do: 'say', is, atMs })
const saidOf = (state: SheetState) => verdictsOf(state).map(({ path, is }) => `${path} ${is}`)

test('it begins at the first step nobody judged, also when it is taken up again', () => {
  expect(after().selected).toBe('main.0.0')
  const kept = verdictsOf(after(say('passed'), say('passed')))
  expect(sheetState(STEPS, kept).selected).toBe('main.1')
})
test('a word goes on to the next that has none, and round to those that were left out', () => {
  const state = after({ do: 'select', path: 'main.2' }, say('failed'))
  expect(state.selected).toBe('main.0.0')
  expect(after(say('passed'), say('passed'), say('passed'), say('passed')).selected).toBe('main.2')
})
test('all that only has to be done is said at once, up to what is to be looked at', () => {
  expect(onlyToDo(after())).toEqual(['main.0.0', 'main.0.1'])
  const state = after({ do: 'say-done', atMs: 5 })
  expect(saidOf(state)).toEqual(['main.0.0 passed', 'main.0.1 passed'])
  expect(state.selected).toBe('main.1')
  expect(onlyToDo(state)).toEqual([])
  expect(onSheet(state, { do: 'say-done', atMs: 6 })).toBe(state)
})
test('undo takes back the last word, to its step, as often as there were words', () => {
  const said = after({ do: 'say-done', atMs: 5 }, say('failed'))
  const once = onSheet(said, { do: 'undo' })
  expect([saidOf(once), once.selected]).toEqual([['main.0.0 passed', 'main.0.1 passed'], 'main.1'])
  const twice = onSheet(once, { do: 'undo' })
  expect([saidOf(twice), twice.selected]).toEqual([[], 'main.0.0'])
  expect(onSheet(twice, { do: 'undo' })).toBe(twice)
})
test('another word for the same step takes the place of the first', () => {
  const state = after(say('passed'), { do: 'select', path: 'main.0.0' }, say('failed'))
  expect(saidOf(state)).toEqual(['main.0.0 failed'])
  expect(saidOf(onSheet(state, { do: 'undo' }))).toEqual(['main.0.0 passed'])
})
test('notes and pictures stand with their step; alone they are nothing to be kept yet', () => {
  const written = after(
    { do: 'note', text: 'red' },
    { do: 'add-picture', path: 'main.0.0', picture: PICTURE },
  )
  expect([written.edits, verdictsOf(written)]).toEqual([0, []])
  expect(verdictsOf(onSheet(written, say('failed', 7)))).toEqual([
    { path: 'main.0.0', is: 'failed', atMs: 7, note: 'red', pictures: [PICTURE] },
  ])
})
test('the newest pictures stay, the same one once; one is taken away', () => {
  const many = Array.from({ length: 4 }, (_, i): SheetAction => ({
    do: 'add-picture',
    path: 'main.0.0',
    picture: { ...PICTURE, hash: String(i).repeat(64) },
  }))
  const state = after(...many, many.at(-1)!, say('passed'), { do: 'select', path: 'main.0.0' })
  const hashes = (one: SheetState) => verdictsOf(one)[0]!.pictures.map(({ hash }) => hash[0])
  expect(hashes(state)).toEqual(['2', '3'])
  expect(hashes(state)).toHaveLength(PICTURES_MOST)
  expect(hashes(onSheet(state, { do: 'drop-picture', hash: '2'.repeat(64) }))).toEqual(['3'])
})
test('a picture that was marked up stands where it was made from, with what it shows in the note', () => {
  const other = { ...PICTURE, hash: '7'.repeat(64) }
  const marked = { ...PICTURE, hash: '8'.repeat(64) }
  const state = after(
    { do: 'note', text: 'red ' },
    { do: 'add-picture', path: 'main.0.0', picture: PICTURE },
    { do: 'add-picture', path: 'main.0.0', picture: other },
    // meanwhile another step was gone to
    { do: 'move', by: 1 },
    { do: 'swap-picture', path: 'main.0.0', hash: PICTURE.hash, picture: marked, note: 'the lamp is off' },
    { do: 'select', path: 'main.0.0' },
    say('failed'),
  )
  const [kept] = verdictsOf(state)
  expect(kept).toMatchObject({ note: 'red\nthe lamp is off', pictures: [marked, other] })
})
test('moving stops at both ends, and goes by what is judged', () => {
  const walked = Array.from({ length: 9 }).reduce<SheetState>(
    (at) => onSheet(at, { do: 'move', by: 1 }),
    after(),
  )
  expect(walked.selected).toBe(STEPS.filter(isJudged).at(-1)!.path)
  expect(onSheet(after(), { do: 'move', by: -1 }).selected).toBe('main.0.0')
})
