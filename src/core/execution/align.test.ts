import fc from 'fast-check'
import { align, differs } from './align'
import type { OutlineLine } from './outline'

const line = (words: string, more: Partial<OutlineLine> = {}) => {
  const [verb = '', object = '', detail = ''] = words.split('/')
  return { depth: 0, words: { verb, object, detail }, mark: 'passed' as const, values: {}, ...more }
}
const lines = (...words: string[]) => words.map((one) => line(one))
const told = (rows: ReturnType<typeof align>) =>
  rows.map(({ kind, good, now }) => [kind, good, now].filter((one) => one !== undefined).join(' '))

test.each([
  ['the same', ['a', 'b'], ['a', 'b'], ['same 0 0', 'same 1 1']],
  ['a step more', ['a', 'c'], ['a', 'b', 'c'], ['same 0 0', 'added 1', 'same 1 2']],
  ['a step less', ['a', 'b', 'c'], ['a', 'c'], ['same 0 0', 'removed 1', 'same 2 1']],
  ['another value', ['a', 'type/Port/Tolva'], ['a', 'type/Port/Skerrow'], ['same 0 0', 'changed 1 1']],
  ['another step', ['a', 'click/Go/'], ['a', 'press/Enter/'], ['same 0 0', 'removed 1', 'added 1']],
  [
    'a step elsewhere',
    ['a', 'b', 'c', 'd'],
    ['b', 'c', 'd', 'a'],
    ['same 1 0', 'same 2 1', 'same 3 2', 'moved 0 3'],
  ],
  ['nothing then', [], ['a'], ['added 0']],
  ['nothing now', ['a'], [], ['removed 0']],
])('%s', (_, good, now, rows) => expect(told(align(lines(...good), lines(...now)))).toEqual(rows))

test('values that are others, and time that is worth a word', () => {
  const [row] = align(
    [line('a', { ms: 1000, values: { port: 'Tolva', seat: '4' } })],
    [line('a', { ms: 2600, values: { port: 'Skerrow', seat: '4', berth: 'B7' } })],
  )
  expect(row).toEqual({
    kind: 'same',
    good: 0,
    now: 0,
    laterMs: 1600,
    values: [
      { name: 'port', was: 'Tolva', is: 'Skerrow' },
      { name: 'berth', is: 'B7' },
    ],
  })
  expect(align([line('a', { ms: 100 })], [line('a', { ms: 350 })])[0]).not.toHaveProperty('laterMs')
  expect(align([line('a', { ms: 9000 })], [line('a', { ms: 9900 })])[0]).not.toHaveProperty('laterMs')
  expect(align([line('a', { ms: 9000 })], [line('a', { ms: 900 })])[0]).toMatchObject({ laterMs: -8100 })
})

test('a step that ended otherwise differs', () => {
  const [good, now] = [lines('a', 'b'), [line('a'), line('b', { mark: 'failed' })]]
  expect(align(good, now).map((row) => differs(row, good, now))).toEqual([false, true])
})

test('each line of both is there once, those of now in their order', () => {
  const some = fc.array(fc.constantFrom('a', 'b', 'c', 'type/x/1', 'type/x/2', 'd'), { maxLength: 12 })
  fc.assert(
    fc.property(some, some, (good, now) => {
      const rows = align(lines(...good), lines(...now))
      const numbers = (side: 'good' | 'now') =>
        rows.flatMap((row) => (row[side] === undefined ? [] : [row[side]]))
      expect(numbers('now')).toEqual(now.map((_, i) => i))
      expect(numbers('good').sort((a, b) => a - b)).toEqual(good.map((_, i) => i))
      for (const { kind, good: g, now: n } of rows) {
        expect(kind === 'added').toBe(g === undefined)
        expect(kind === 'removed').toBe(n === undefined)
      }
    }),
  )
})
