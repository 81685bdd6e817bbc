import type { Step } from '@/core/model'
import { playedLists, rowAsked, stepOfPath } from '../bench/step-rows'
import {
  linesOf,
  oneUnit,
  stopsOf,
  stopWithin,
  unitsBefore,
  unitsFrom,
  unitsOf,
  unitsUpTo,
  unitsWithin,
} from './playing'

const note = (text: string): Step => ({ verb: 'note', text })
const STEPS: Step[] = [
  note('open'),
  { verb: 'block', title: 'Pay', steps: [note('card'), note('confirm')] },
  {
    verb: 'if',
    condition: { visible: { text: 'storm' } },
    steps: [note('understood')],
    otherwise: [note('go on')],
  },
  { ...note('never'), off: true },
  note('check'),
]
const { rows } = playedLists({ steps: STEPS })[0]!
const ids = (some: readonly { id: string }[]) => some.map(({ id }) => id)
const row = (title: string) => rows.find((one) => one.title.includes(title))!.id

test('a block is gone into, a branch is one', () => {
  expect(unitsOf(rows).map(({ title }) => title)).toEqual([
    expect.stringContaining('open'),
    expect.stringContaining('card'),
    expect.stringContaining('confirm'),
    expect.stringContaining('storm'),
    expect.stringContaining('never'),
    expect.stringContaining('check'),
  ])
})

test.each([
  ['a step', 'open', 0],
  ['a step of a block', 'confirm', 2],
])('from %s on', (_, title, from) =>
  expect(ids(unitsFrom(rows, row(title)))).toEqual(ids(unitsOf(rows)).slice(from)),
)

test.each<[string, string, string, (string | number)[] | undefined]>([
  ['its own', 'check', 'check', []],
  ['at the block it begins', 'Pay', 'card', []],
  ['not at one it stands further on in', 'Pay', 'confirm', undefined],
  ['at a step within it', 'understood', 'storm', ['steps', 0]],
  ['at what is done otherwise', 'go on', 'storm', ['else', 0]],
  ['nowhere else', 'card', 'check', undefined],
])('a stop counts for what is carried out: %s', (_, at, unit, expected) => {
  const stops = { [row(at)]: { from: 2 } }
  expect(
    stopsOf(
      rows,
      rows.find(({ id }) => id === row(unit))!,
      stops,
    ),
  ).toEqual(expected ? [{ at: expected, from: 2 }] : [])
})

test('a whole block is its steps; anything else is none', () => {
  expect(unitsWithin(rows, row('Pay')).map(({ title }) => title)).toEqual([
    expect.stringContaining('card'),
    expect.stringContaining('confirm'),
  ])
  expect(unitsWithin(rows, row('storm'))).toEqual([])
  expect(unitsWithin(rows, undefined)).toEqual([])
})

test('from a line within a branch the whole branch is carried out', () => {
  expect(ids(unitsFrom(rows, row('understood')))[0]).toBe(row('storm'))
})

test('up to here has this one, and before it has not', () => {
  expect(ids(unitsUpTo(rows, row('card')))).toEqual([row('open'), row('card')])
  expect(ids(unitsBefore(rows, row('card')))).toEqual([row('open')])
  expect(unitsBefore(rows, row('open'))).toEqual([])
})

test.each([
  ['a step', row('open'), row('open'), row('card')],
  ['the first of a block', row('Pay'), row('card'), row('confirm')],
  ['a step of a branch, alone', row('understood'), row('understood'), row('never')],
  ['nothing selected', undefined, row('open'), row('card')],
  ['the last: it stays', row('check'), row('check'), row('check')],
])('one step: %s', (_, selected, unit, next) => {
  expect(oneUnit(rows, selected)).toMatchObject({ unit: { id: unit }, next })
})

test('a case without steps has nothing to carry out', () => {
  expect([oneUnit([], undefined), unitsFrom([], 'x')]).toEqual([undefined, []])
})

test.each([
  ['its own', 'main.1.1', 'confirm'],
  ['within a routine it uses', 'main.4.0.2', 'check'],
  ['a try that was set aside', 'main.1.0!2', 'card'],
])('the step of a path in logs: %s', (_, path, title) =>
  expect(stepOfPath(rows, path)?.title).toContain(title),
)
test('a path of nowhere is no step', () => expect(stepOfPath(rows, 'undo.0')).toBeUndefined())

test('the lines of a routine, and stops at them for what uses it, also within a branch', () => {
  const lines = linesOf(STEPS)
  expect(lines.map(({ at, depth }) => [at.join('.'), depth])).toEqual([
    ['routine.0', 0],
    ['routine.1', 0],
    ['routine.1.steps.0', 1],
    ['routine.1.steps.1', 1],
    ['routine.2', 0],
    ['routine.2.steps.0', 1],
    ['routine.2.else.0', 1],
    ['routine.3', 0],
    ['routine.4', 0],
  ])
  const use: Step = { verb: 'use', routine: 'pay', with: {} }
  const branch: Step = { verb: 'if', condition: { visible: { text: 'x' } }, steps: [use], otherwise: [] }
  const using = playedLists({ steps: [use, branch] })[0]!.rows
  const [first, outer, second] = using
  const stops = {
    [stopWithin(first!.id, lines[2]!.at)]: {},
    [stopWithin(second!.id, ['routine', 0])]: { from: 2 },
  }
  expect(stopsOf(using, first!, stops)).toEqual([{ at: ['routine', 1, 'steps', 0] }])
  expect(stopsOf(using, outer!, stops)).toEqual([{ at: ['steps', 0, 'routine', 0], from: 2 }])
})

test.each([
  [rows[1]!.id, rows[1]!.id],
  ['main.1.0', rows[2]!.id],
  ['main.40', 'main.40'],
])('an address asks for a line by its id, or by a path in logs: %s', (asked, id) =>
  expect(rowAsked({ steps: STEPS }, asked)).toBe(id),
)
