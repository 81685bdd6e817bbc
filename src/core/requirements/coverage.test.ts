import { coverageOf, type CaseResult, type Coverage, type Requirement } from '.'

const requirement = (key: string, parent: string | null = null): Requirement => ({
  key,
  title: key,
  parent,
  importance: 'must',
})
const result = (caseKey: string, isGood: boolean, environment = 'quay', quarantined = false): CaseResult => ({
  caseKey,
  environment,
  isGood,
  quarantined,
  runId: 1,
  attemptId: null,
})
const CASES = [
  { key: 'book', requires: ['R1'] },
  { key: 'rebook', requires: ['R1', 'R1'] },
]

test.each<[string, CaseResult[], Coverage]>([
  ['nothing ran', [], 'not-run'],
  ['all of its cases passed', [result('book', true), result('rebook', true)], 'passing'],
  ['one of its cases passed', [result('book', true)], 'partly'],
  ['one failed somewhere', [result('book', true), result('rebook', false, 'deck')], 'failing'],
  ['what failed is in quarantine', [result('book', true), result('rebook', false, 'quay', true)], 'partly'],
  ['what is in quarantine passed', [result('book', true), result('rebook', true, 'quay', true)], 'passing'],
  ['others failed', [result('book', true), result('rebook', true), result('other', false)], 'passing'],
])('of a requirement: %s', (_, results, coverage) =>
  expect(
    coverageOf({ requirements: [requirement('R1')], cases: CASES, results }).requirements[0],
  ).toMatchObject({ coverage, own: coverage, cases: ['book', 'rebook'] }),
)

test('without a case it is uncovered; with parts alone it is what they are', () => {
  const requirements = [requirement('A'), requirement('R1', 'A'), requirement('R2', 'A'), requirement('B')]
  const results = [result('book', true), result('rebook', true)]
  const found = coverageOf({ requirements, cases: CASES, results })
  expect(found.requirements.map(({ key, depth, own, coverage }) => [key, depth, own, coverage])).toEqual([
    ['A', 0, null, 'partly'],
    ['R1', 1, 'passing', 'passing'],
    ['R2', 1, 'uncovered', 'uncovered'],
    ['B', 0, 'uncovered', 'uncovered'],
  ])
  expect(found.counts).toEqual({ failing: 0, uncovered: 2, 'not-run': 0, partly: 0, passing: 1 })
})

test('with a part that has no case, and one that did not run, it did not run', () => {
  const requirements = [requirement('A'), requirement('R1', 'A'), requirement('R2', 'A')]
  expect(coverageOf({ requirements, cases: CASES, results: [] }).requirements[0]!.coverage).toBe('not-run')
})

test('by environment, with its parts', () => {
  const requirements = [requirement('A'), requirement('R1', 'A'), requirement('R2', 'A')]
  const cases = [...CASES, { key: 'board', requires: ['R2'] }]
  const results = [
    result('book', true),
    result('rebook', true),
    result('book', true, 'deck'),
    result('board', false, 'deck'),
  ]
  const [whole, booking, boarding] = coverageOf({ requirements, cases, results }).requirements
  expect(booking!.cells).toEqual({ quay: 'passing', deck: 'partly' })
  expect(boarding!.cells).toEqual({ deck: 'failing' })
  expect(whole!.cells).toEqual({ quay: 'partly', deck: 'failing' })
})

test('names of no requirement are told with their cases', () =>
  expect(coverageOf({ requirements: [], cases: CASES, results: [] }).unknown).toEqual([
    { key: 'R1', cases: ['book', 'rebook'] },
  ]))

test('whatever fails, nothing above it is said to be met', () => {
  const keys = Array.from({ length: 40 }, (_, i) => `R${i}`)
  for (let seed = 1; seed <= 50; seed++) {
    const requirements = keys.map((key, i) =>
      requirement(key, i === 0 || (i * seed) % 7 === 0 ? null : keys[(i * seed) % i]!),
    )
    const failing = keys[(seed * 13) % keys.length]!
    const cases = keys.map((key) => ({ key: `case-${key}`, requires: [key] }))
    const results = keys.map((key) => result(`case-${key}`, key !== failing))
    const found = new Map(
      coverageOf({ requirements, cases, results }).requirements.map((one) => [one.key, one]),
    )
    expect(found.size).toBe(keys.length)
    const above = new Set<string>()
    for (let at: string | null = failing; at; at = found.get(at)!.parent) above.add(at)
    for (const [key, { coverage }] of found) expect(coverage).toBe(above.has(key) ? 'failing' : 'passing')
  }
})
