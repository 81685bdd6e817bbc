import fc from 'fast-check'
import { flatten, type Library, type Row, type Suite, type SuiteEntry, type TestCase } from '.'

const testCase = (key: string, extra: Partial<TestCase> = {}): TestCase => ({ kind: 'case', key, title: key.toUpperCase(), tags: [], priority: 'normal', requires: [], parameters: {}, uses: [], steps: [], undo: [], ...extra })
const entry = (given: Partial<SuiteEntry>): SuiteEntry => ({ off: false, repeat: 1, with: {}, entries: [], ...given })
const suite = (key: string, entries: SuiteEntry[]): Suite => ({ kind: 'suite', key, title: `Suite ${key}`, entries })

function library(cases: TestCase[], suites: Suite[] = [], tables: Record<string, Row[]> = {}): Library {
  return { case: (key) => cases.find((one) => one.key === key), suite: (key) => suites.find((one) => one.key === key), rows: (one) => (one.data ? tables[one.data] : undefined) }
}

test('order, groups, rows and repetitions', () => {
  const inner = suite('inner', [entry({ case: 'b', repeat: 2 })])
  const outer = suite('outer', [entry({ group: 'First', entries: [entry({ case: 'a', name: 'Own name', with: { port: 'Tolva' } })] }), entry({ suite: 'inner' })])
  const { items, leftOut } = flatten(outer, library([testCase('a', { data: 't.csv' }), testCase('b')], [inner], { 't.csv': [{ n: '1' }, { n: '2' }] }))
  expect(leftOut).toEqual([])
  expect(items.map(({ title, groups, row, repetition }) => [title, groups.join('/'), row?.index, repetition?.index])).toEqual([
    ['Own name', 'First', 1, undefined], ['Own name', 'First', 2, undefined], ['B', 'Suite inner', undefined, 1], ['B', 'Suite inner', undefined, 2],
  ])
  expect(items[0]!.with).toEqual({ port: 'Tolva' })
})

test.each([
  { why: 'a missing case', entries: [entry({ case: 'zz' })], says: 'case “zz” is not there' },
  { why: 'a missing suite', entries: [entry({ suite: 'zz' })], says: 'suite “zz” is not there' },
  { why: 'switched off', entries: [entry({ case: 'a', off: true })], says: 'switched off' },
  { why: 'a group switched off takes its children with it', entries: [entry({ group: 'G', off: true, entries: [entry({ case: 'a' })] })], says: '“G” is switched off' },
  { why: 'a missing table', entries: [entry({ case: 'c' })], says: 'data “none.csv” is not there' },
  { why: 'a table without rows', entries: [entry({ case: 'd' })], says: 'data “empty.csv” has no rows' },
  { why: 'a suite that holds itself', entries: [entry({ suite: 'loop' })], says: 'it holds itself: top → loop → loop' },
])('left out with its reason: $why', ({ entries, says }) => {
  const loop = suite('loop', [entry({ suite: 'loop' })])
  const { items, leftOut } = flatten(suite('top', entries), library([testCase('a'), testCase('c', { data: 'none.csv' }), testCase('d', { data: 'empty.csv' })], [loop], { 'empty.csv': [] }))
  expect(items).toEqual([])
  expect(leftOut.map(({ why }) => why)).toEqual([says])
})

const anyEntry = fc.letrec<{ tree: SuiteEntry }>((tie) => ({
  tree: fc.oneof(
    { maxDepth: 4 },
    fc.record({ case: fc.constantFrom('a', 'b', 'missing'), off: fc.boolean(), repeat: fc.integer({ min: 1, max: 3 }) }).map(entry),
    fc.record({ group: fc.constantFrom('G', 'H'), off: fc.boolean(), entries: fc.array(tie('tree'), { maxLength: 4 }) }).map(entry),
    fc.record({ suite: fc.constantFrom('x', 'y'), off: fc.boolean() }).map(entry),
  ),
})).tree

test('property: whatever the tree, every case entry either runs as often as it says or is named with a reason', () => {
  fc.assert(fc.property(fc.array(anyEntry, { maxLength: 5 }), fc.array(anyEntry, { maxLength: 3 }), fc.array(anyEntry, { maxLength: 3 }), (top, x, y) => {
    const suites = [suite('top', top), suite('x', x), suite('y', y)]
    const { items, leftOut } = flatten(suites[0]!, library([testCase('a'), testCase('b')], suites))
    expect(items.length + leftOut.length).toBe(expectedCount(top, suites, ['top'], false))
  }), { numRuns: 300 })
})

/** The slow, obvious count: what runs (with repetitions) plus what is named. */
function expectedCount(entries: SuiteEntry[], suites: Suite[], above: string[], off: boolean): number {
  return entries.reduce((sum, one) => {
    const below = off || one.off
    if (one.case) return sum + (one.case === 'missing' || below ? 1 : one.repeat)
    if (one.suite) return sum + (above.includes(one.suite) ? 1 : expectedCount(suites.find(({ key }) => key === one.suite)!.entries, suites, [...above, one.suite], below))
    return sum + expectedCount(one.entries, suites, above, below)
  }, 0)
}
