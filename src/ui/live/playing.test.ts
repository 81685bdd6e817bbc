import type { Step } from '@/core/model'
import { playedLists } from '../bench/step-rows'
import { oneUnit, stepOfPath, unitsBefore, unitsFrom, unitsOf, unitsUpTo } from './playing'

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
const NONE: ReadonlySet<string> = new Set()

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
  ['a stop', [row('confirm')], row('open'), [row('open'), row('card')]],
  ['a stop at a block, before its first step', [row('Pay')], row('open'), [row('open')]],
  ['no stop where it begins', [row('card')], row('card'), ids(unitsOf(rows)).slice(1)],
  ['the end', [], row('confirm'), ids(unitsOf(rows)).slice(2)],
])('from here up to %s', (_, stops, from, expected) => {
  expect(ids(unitsFrom(rows, from, new Set(stops)))).toEqual(expected)
})

test('from a line within a branch the whole branch is carried out', () => {
  expect(ids(unitsFrom(rows, row('understood'), NONE))[0]).toBe(row('storm'))
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
  expect([oneUnit([], undefined), unitsFrom([], 'x', NONE)]).toEqual([undefined, []])
})

test.each([
  ['its own', 'main.1.1', 'confirm'],
  ['within a routine it uses', 'main.4.0.2', 'check'],
  ['a try that was set aside', 'main.1.0!2', 'card'],
])('the step of a path in logs: %s', (_, path, title) =>
  expect(stepOfPath(rows, path)?.title).toContain(title),
)
test('a path of nowhere is no step', () => expect(stepOfPath(rows, 'undo.0')).toBeUndefined())
