import { releaseSheet, type ReleaseInput, type ReleaseTopic, type Verdict, type Weight } from '.'

const GOOD: ReleaseInput = {
  build: '2026.11.4',
  before: null,
  results: { good: 12, failing: 0, runs: 2, unlooked: 0, going: 0 },
  requirements: [{ key: 'R1', title: 'Booking', importance: 'must', coverage: 'passing' }],
  defects: [],
  causes: [],
  notRun: [],
  rehearsed: [],
  quarantined: [],
}
const cause = {
  signature: 's',
  title: 'No sailing is found',
  failures: 3,
  decision: null,
  isGoneSince: false,
  runId: 7,
}
const defect = { id: 4, title: 'No sailing is found', severity: 'high', isOver: false }
const board = { key: 'board', title: 'Board' }

test('what all passed, and meets all, can go out', () => {
  const sheet = releaseSheet(GOOD)
  expect(sheet.verdict).toBe('go')
  expect(sheet.speaks.map(({ weight }) => weight)).toEqual(['good', 'good'])
})

test.each<[string, Partial<ReleaseInput>, Verdict, ReleaseTopic | null, Weight | null]>([
  ['nothing ran', { results: { ...GOOD.results, good: 0, runs: 0 } }, 'unknown', 'runs', 'doubt'],
  [
    'a must fails',
    { requirements: [{ ...GOOD.requirements[0]!, coverage: 'failing' }] },
    'stop',
    'requirements-failing',
    'stops',
  ],
  [
    'what could be fails',
    { requirements: [{ ...GOOD.requirements[0]!, importance: 'could', coverage: 'failing' }] },
    'go',
    'requirements-failing',
    'note',
  ],
  [
    'a must has no case',
    { requirements: [{ ...GOOD.requirements[0]!, coverage: 'uncovered' }] },
    'unknown',
    'requirements-open',
    'doubt',
  ],
  ['a grave defect is open', { defects: [defect] }, 'stop', 'defects', 'stops'],
  ['a small one is open', { defects: [{ ...defect, severity: 'low' }] }, 'go', 'defects', 'note'],
  ['a grave one is over', { defects: [{ ...defect, isOver: true }] }, 'go', null, null],
  ['a cause is not decided', { causes: [cause] }, 'unknown', 'causes', 'doubt'],
  ['a cause is unclear', { causes: [{ ...cause, decision: 'unclear' }] }, 'unknown', 'causes', 'doubt'],
  ['a cause went away', { causes: [{ ...cause, isGoneSince: true }] }, 'go', null, null],
  ['a cause is excused', { causes: [{ ...cause, decision: 'environment-fault' }] }, 'go', 'excused', 'note'],
  [
    'an excused one went away',
    { causes: [{ ...cause, decision: 'test-fault', isGoneSince: true }] },
    'go',
    null,
    null,
  ],
  [
    'failures were not told apart',
    { results: { ...GOOD.results, unlooked: 1 } },
    'unknown',
    'unlooked',
    'doubt',
  ],
  ['a run goes on', { results: { ...GOOD.results, going: 2 } }, 'unknown', 'going', 'doubt'],
  [
    'a cause is of the product',
    { causes: [{ ...cause, decision: 'product-defect' }] },
    'unknown',
    'product',
    'doubt',
  ],
  ['a cause is known', { causes: [{ ...cause, decision: 'known-defect' }] }, 'go', 'product', 'note'],
  ['a cause is intended', { causes: [{ ...cause, decision: 'intended-change' }] }, 'go', 'product', 'note'],
  ['a case did not run', { notRun: [board] }, 'go', 'not-run', 'note'],
  ['it was rehearsed only', { notRun: [board], rehearsed: [board] }, 'go', 'rehearsed', 'note'],
  [
    'a case is in quarantine',
    { quarantined: [{ ...board, until: '', because: '' }] },
    'go',
    'quarantined',
    'note',
  ],
])('%s', (_, change, verdict, about, weight) => {
  const sheet = releaseSheet({ ...GOOD, ...change })
  expect(sheet.verdict).toBe(verdict)
  const beside = sheet.speaks.filter((one) => one.weight !== 'good')
  if (about === null) expect(beside).toEqual([])
  else expect(beside.map((one) => [one.about, one.weight])).toContainEqual([about, weight])
})

test('what stops outweighs what nobody can tell; both are said, with what they speak of', () => {
  const { verdict, speaks } = releaseSheet({ ...GOOD, defects: [defect], causes: [cause, cause] })
  expect(verdict).toBe('stop')
  expect(speaks.map(({ text }) => text)).toEqual([
    'All 12 passed at the end, in 2 runs, each case on each of its environments counted once.',
    '1 defect found with it is open, 1 of them high or critical.',
    'What 2 causes of failures are, nobody has decided.',
    'The requirement is met on all that ran.',
  ])
  expect(speaks[2]!.of[0]).toEqual({ words: 'No sailing is found', path: '/runs/7?view=causes' })
})

test('many are named in part, and the rest counted', () => {
  const notRun = Array.from({ length: 11 }, (_, i) => ({ key: `c${i}`, title: `Case ${i}` }))
  const said = releaseSheet({ ...GOOD, notRun }).speaks.find(({ about }) => about === 'not-run')!
  expect([said.of.length, said.more]).toEqual([8, 3])
})

test('the build before is told of as a share of what ran', () => {
  const before = { build: '2026.11.3', good: 8, failing: 2 }
  const { before: of, speaks } = releaseSheet({
    ...GOOD,
    results: { ...GOOD.results, good: 9, failing: 3, runs: 1 },
    before,
  })
  expect(of).toBe('2026.11.3')
  expect(speaks.map(({ text }) => text)).toContain(
    'Of all that ran 75 % passed at the end; with 2026.11.3 it was 80 % of 10.',
  )
})

test('where nothing has ended with the build, no share of it is told', () => {
  const { speaks } = releaseSheet({
    ...GOOD,
    results: { ...GOOD.results, good: 0, failing: 0, runs: 0 },
    before: { build: '2026.11.3', good: 8, failing: 2 },
  })
  const texts = speaks.map(({ text }) => text)
  expect(texts).toContain('With 2026.11.3 80 % of 10 passed at the end.')
  expect(texts.join(' ')).not.toContain('Of all that ran')
})
