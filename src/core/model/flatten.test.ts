import fc from 'fast-check'
import { ordered } from './order'
import { flatten, type Suite, type SuiteEntry } from '.'
import { entry, library, suite, testCase } from './testing/library'

test('order, groups, rows and repetitions', () => {
  const inner = suite('inner', [entry({ case: 'b', repeat: 2 })])
  const outer = suite('outer', [
    entry({ group: 'First', entries: [entry({ case: 'a', name: 'Own name', with: { port: 'Tolva' } })] }),
    entry({ suite: 'inner' }),
  ])
  const { items, leftOut } = flatten(
    outer,
    library([testCase('a', { data: 't.csv' }), testCase('b')], [inner], {
      't.csv': [{ n: '1' }, { n: '2' }],
    }),
  )
  expect(leftOut).toEqual([])
  expect(
    items.map(({ title, groups, row, repetition }) => [
      title,
      groups.join('/'),
      row?.index,
      repetition?.index,
    ]),
  ).toEqual([
    ['Own name', 'First', 1, undefined],
    ['Own name', 'First', 2, undefined],
    ['B', 'Suite inner', undefined, 1],
    ['B', 'Suite inner', undefined, 2],
  ])
  expect(items[0]!.with).toEqual({ port: 'Tolva' })
})

test.each([
  { why: 'a missing case', entries: [entry({ case: 'zz' })], says: 'case “zz” is not there' },
  { why: 'a missing suite', entries: [entry({ suite: 'zz' })], says: 'suite “zz” is not there' },
  { why: 'switched off', entries: [entry({ case: 'a', off: true })], says: 'switched off' },
  {
    why: 'a group switched off takes its children with it',
    entries: [entry({ group: 'G', off: true, entries: [entry({ case: 'a' })] })],
    says: '“G” is switched off',
  },
  {
    why: 'a missing table',
    entries: [entry({ case: 'c' })],
    says: 'no data: the table “none.csv” is not there',
  },
  { why: 'a table without rows', entries: [entry({ case: 'd' })], says: 'no data: “empty.csv” has no rows' },
  {
    why: 'a suite that holds itself',
    entries: [entry({ suite: 'loop' })],
    says: 'it holds itself: top → loop → loop',
  },
])('left out with its reason: $why', ({ entries, says }) => {
  const loop = suite('loop', [entry({ suite: 'loop' })])
  const { items, leftOut } = flatten(
    suite('top', entries),
    library(
      [testCase('a'), testCase('c', { data: 'none.csv' }), testCase('d', { data: 'empty.csv' })],
      [loop],
      { 'empty.csv': [] },
    ),
  )
  expect(items).toEqual([])
  expect(leftOut.map(({ why }) => why)).toEqual([says])
})

const anyEntry = fc.letrec<{ tree: SuiteEntry }>((tie) => ({
  tree: fc.oneof(
    { maxDepth: 4 },
    fc
      .record({
        case: fc.constantFrom('a', 'b', 'missing'),
        off: fc.boolean(),
        repeat: fc.integer({ min: 1, max: 3 }),
      })
      .map(entry),
    fc
      .record({
        group: fc.constantFrom('G', 'H'),
        off: fc.boolean(),
        repeat: fc.integer({ min: 1, max: 2 }),
        entries: fc.array(tie('tree'), { maxLength: 4 }),
      })
      .map(entry),
    fc.record({ suite: fc.constantFrom('x', 'y'), off: fc.boolean() }).map(entry),
  ),
})).tree

test('property: whatever the tree, every case entry either runs as often as it says or is named with a reason', () => {
  fc.assert(
    fc.property(
      fc.array(anyEntry, { maxLength: 5 }),
      fc.array(anyEntry, { maxLength: 3 }),
      fc.array(anyEntry, { maxLength: 3 }),
      (top, x, y) => {
        const suites = [suite('top', top), suite('x', x), suite('y', y)]
        const { items, leftOut } = flatten(suites[0]!, library([testCase('a'), testCase('b')], suites))
        expect(items.length + leftOut.length).toBe(expectedCount(top, suites, ['top'], false))
      },
    ),
    { numRuns: 300 },
  )
})

/** Brute-force count: what runs (with repetitions) plus what is left out by name. */
function expectedCount(entries: SuiteEntry[], suites: Suite[], above: string[], off: boolean): number {
  return entries.reduce((sum, one) => {
    const below = off || one.off
    if (one.case) return sum + (one.case === 'missing' || below ? 1 : one.repeat)
    if (one.suite)
      return (
        sum +
        (above.includes(one.suite)
          ? 1
          : expectedCount(
              suites.find(({ key }) => key === one.suite)!.entries,
              suites,
              [...above, one.suite],
              below,
            ))
      )
    return sum + (below ? 1 : one.repeat) * expectedCount(one.entries, suites, above, below)
  }, 0)
}

describe('what waits for what', () => {
  const titles = (
    given: SuiteEntry[],
    cases = ['a', 'b', 'c', 'd'].map((key) => testCase(key)),
    suites: Suite[] = [],
  ) => {
    const { items, leftOut } = flatten(suite('top', given), library(cases, suites))
    return {
      order: items.map(({ title }) => title),
      items,
      why: leftOut.map(({ title, why }) => `${title}: ${why}`),
    }
  }
  test('an entry runs after the one it names, by name, key or title', () => {
    expect(
      titles([
        entry({ case: 'a', after: ['Last'] }),
        entry({ case: 'b' }),
        entry({ case: 'c', name: 'Last' }),
      ]).order,
    ).toEqual(['B', 'Last', 'A'])
    expect(
      titles([
        entry({ case: 'a', after: ['G'] }),
        entry({ group: 'G', entries: [entry({ case: 'b' }), entry({ case: 'c' })] }),
      ]).order,
    ).toEqual(['B', 'C', 'A'])
  })
  test('children run after their case and are skipped with it, unless it says otherwise', () => {
    const [a, b] = titles([entry({ case: 'a', entries: [entry({ case: 'b' })] })]).items
    expect(b!.after).toEqual(a!.scopes)
    expect(a!.skips.some((scope) => b!.scopes.includes(scope))).toBe(true)
    expect(a!.scopes.some((scope) => b!.scopes.includes(scope))).toBe(false)
    expect(
      titles([entry({ case: 'a', onFailure: 'go-on', entries: [entry({ case: 'b' })] })]).items[0]!.skips,
    ).toEqual([])
  })
  test('after a case means after its children too', () =>
    expect(
      titles([entry({ case: 'c', after: ['a'] }), entry({ case: 'a', entries: [entry({ case: 'b' })] })])
        .order,
    ).toEqual(['A', 'B', 'C']))
  test('a group that skips its rest, and one that stops', () => {
    const { items } = titles([
      entry({
        group: 'G',
        onFailure: 'skip-children',
        entries: [entry({ case: 'a' }), entry({ case: 'b' })],
      }),
      entry({ group: 'S', onFailure: 'stop', entries: [entry({ case: 'c' })] }),
      entry({ case: 'd' }),
    ])
    expect(items.map(({ skips, stops }) => [skips, stops])).toEqual([
      [['0'], false],
      [['0'], false],
      [[], true],
      [[], false],
    ])
  })
  test.each([
    [
      'a circle of two',
      [entry({ case: 'a', after: ['b'] }), entry({ case: 'b', after: ['a'] })],
      ['A: a circle: “A” waits for “B” waits for “A”', 'B: a circle: “B” waits for “A” waits for “B”'],
    ],
    [
      'behind a circle',
      [
        entry({ case: 'a', after: ['b'] }),
        entry({ case: 'b', after: ['a'] }),
        entry({ case: 'c', after: ['a'] }),
      ],
      expect.arrayContaining(['C: it waits for “A”, which is in a circle']) as string[],
    ],
    ['itself', [entry({ case: 'a', after: ['a'] })], ['A: a circle: “A” waits for “A”']],
    [
      'its own group',
      [entry({ group: 'G', entries: [entry({ case: 'a', after: ['G'] })] })],
      ['A: a circle: “A” waits for “A”'],
    ],
    [
      'a name that is not there',
      [entry({ case: 'a', after: ['gone'] })],
      ['A: it runs after “gone”, which is not in this suite'],
    ],
  ])('%s is told', (_, given, why) => expect(titles(given).why).toEqual(why))
  test('a case that is left out takes its children with it', () =>
    expect(titles([entry({ case: 'gone', entries: [entry({ case: 'b' })] })]).why).toEqual([
      'gone: case “gone” is not there',
      'B: “gone” does not run: case “gone” is not there',
    ]))
  test('a group runs as often as it says; inside, each waits for those of its own repetition', () => {
    const top = suite('top', [
      entry({
        group: 'G',
        repeat: 2,
        entries: [entry({ case: 'a' }), entry({ case: 'b', after: ['a'] })],
      }),
      entry({ case: 'c', after: ['a'] }),
    ])
    const { items, leftOut } = flatten(top, library([testCase('a'), testCase('b'), testCase('c')]))
    expect(leftOut).toEqual([])
    expect(
      items.map(({ caseKey, groups, scopes, after }) => [caseKey, groups[0], scopes.at(-1), after]),
    ).toEqual([
      ['a', 'G (1 of 2)', '0#1.0', []],
      ['b', 'G (1 of 2)', '0#1.1', ['0#1.0']],
      ['a', 'G (2 of 2)', '0#2.0', []],
      ['b', 'G (2 of 2)', '0#2.1', ['0#2.0']],
      ['c', undefined, '1', ['0#1.0', '0#2.0']],
    ])
  })
  test('two repetitions of a suite do not wait for each other’s cases', () => {
    const inner = suite('inner', [entry({ case: 'a' }), entry({ case: 'b', after: ['a'] })])
    const { items } = titles([entry({ suite: 'inner', repeat: 2 })], undefined, [inner])
    expect(items.map(({ after, groups }) => [after, groups[0]])).toEqual([
      [[], 'Suite inner (1 of 2)'],
      [['0#1/0'], 'Suite inner (1 of 2)'],
      [[], 'Suite inner (2 of 2)'],
      [['0#2/0'], 'Suite inner (2 of 2)'],
    ])
  })
})

describe('handoffs between cases', () => {
  const gives = testCase('gives', {
    steps: [{ verb: 'read', of: { testId: 'r' }, as: 'reference', handoff: true }],
  })
  const takes = testCase('takes', { needs: ['reference'] })
  test('who takes waits for who gives, even when it stands before', () =>
    expect(
      flatten(
        suite('s', [entry({ case: 'takes' }), entry({ case: 'gives' })]),
        library([gives, takes]),
      ).items.map(({ caseKey }) => caseKey),
    ).toEqual(['gives', 'takes']))
  test('nobody gives it: named, not run', () =>
    expect(flatten(suite('s', [entry({ case: 'takes' })]), library([gives, takes])).leftOut[0]!.why).toBe(
      'it takes the handoff “reference”, which nothing here gives',
    ))
})

test('rows: another table by the entry, a missing column is told', () => {
  const uses = testCase('a', {
    data: 't.csv',
    steps: [{ verb: 'type', in: { label: 'F' }, value: '${row.fare}' }],
  })
  const tables = { 't.csv': [{ other: '1' }], 'u.csv': [{ fare: '1' }, { fare: '2' }] }
  expect(flatten(suite('s', [entry({ case: 'a' })]), library([uses], [], tables)).leftOut[0]!.why).toBe(
    'no data: “t.csv” has no column “fare”',
  )
  expect(
    flatten(suite('s', [entry({ case: 'a', data: 'u.csv' })]), library([uses], [], tables)).items,
  ).toHaveLength(2)
})
test('a suite by rule: the most important first, then by key; a rule that cannot be read is told', () => {
  const cases = [
    testCase('b', { tags: ['smoke'] }),
    testCase('a', { tags: ['smoke'] }),
    testCase('c', { tags: ['smoke'], priority: 'critical' }),
    testCase('d'),
  ]
  const rule = (text: string): Suite => ({ ...suite('r', []), rule: text })
  expect(
    flatten(suite('s', [entry({ suite: 'r' })]), library(cases, [rule('smoke')])).items.map(
      ({ caseKey }) => caseKey,
    ),
  ).toEqual(['c', 'a', 'b'])
  expect(flatten(rule('smoke and'), library(cases)).leftOut[0]!.why).toContain('its rule cannot be read')
})
test('values say where they were given', () => {
  const { items } = flatten(
    suite('s', [
      entry({
        group: 'G',
        with: { port: 'Tolva', deck: '1' },
        entries: [entry({ case: 'a', with: { port: 'Skerrow' } })],
      }),
    ]),
    library([testCase('a')]),
  )
  expect(items[0]).toMatchObject({ with: { port: 'Skerrow', deck: '1' }, origins: { port: 'A', deck: 'G' } })
})

/** Brute force: takes the first item that waits for nothing, again and again. */
function slowOrder(items: { scopes: string[]; after: string[] }[]): number[] {
  const left = items.map((_, i) => i)
  const out: number[] = []
  for (;;) {
    const next = left.find(
      (i) => !left.some((j) => items[j]!.scopes.some((scope) => items[i]!.after.includes(scope))),
    )
    if (next === undefined) return out
    left.splice(left.indexOf(next), 1)
    out.push(next)
  }
}
test('property: the order is the one the obvious way finds', () => {
  const scope = fc.constantFrom('0', '1', '2', '3')
  fc.assert(
    fc.property(
      fc.array(
        fc.record({
          scopes: fc.uniqueArray(scope, { minLength: 1, maxLength: 2 }),
          after: fc.uniqueArray(scope, { maxLength: 2 }),
        }),
        { maxLength: 9 },
      ),
      (given) => {
        const items = given.map((item, i) => ({ ...item, title: String(i), i }))
        const { inOrder, circles } = ordered(items)
        expect(inOrder.map(({ i }) => i)).toEqual(slowOrder(given))
        expect(circles.length + inOrder.length).toBe(items.length)
      },
    ),
    { numRuns: 500 },
  )
})
