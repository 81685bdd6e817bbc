import { cause, causeBy, CAUSES, learnt, type CauseName, type GroupFacts } from '.'
import { randomFrom } from '../execution/random'

const facts = (more: Partial<GroupFacts> = {}): GroupFacts => ({
  kinds: { check: 6 },
  failures: 6,
  cases: 3,
  environments: { failed: 3, of: 3 },
  where: [],
  newInBuild: true,
  flakyBefore: 0,
  agents: { involved: 4, unhealthy: 0 },
  recovered: 0,
  similar: [],
  ...more,
})
const likeliest = ({ likelihoods }: ReturnType<typeof cause>): CauseName =>
  CAUSES.toSorted((a, b) => likelihoods[b] - likelihoods[a])[0]!
const at = (factors: Record<string, string>) => [{ factors, ratio: null, p: 1e-6, covers: 1 }]

test.each<[string, Partial<GroupFacts>, CauseName]>([
  ['checks that are new everywhere', {}, 'product-defect'],
  [
    'pages that fail in one browser of a new build',
    { kinds: { page: 9 }, where: at({ browser: 'WebKit' }), environments: { failed: 1, of: 3 } },
    'product-defect',
  ],
  [
    'agents that are lost',
    { kinds: { agent: 20 }, agents: { involved: 2, unhealthy: 2 }, where: at({ agent: 'maren-04' }) },
    'environment-fault',
  ],
  [
    'time that runs out on one agent',
    { kinds: { 'time-limit': 5 }, where: at({ agent: 'maren-04' }), newInBuild: false, recovered: 0.6 },
    'environment-fault',
  ],
  [
    'targets that were never steady',
    { kinds: { target: 4 }, newInBuild: false, flakyBefore: 0.4, cases: 1 },
    'test-fault',
  ],
  ['data that is not there', { kinds: { data: 7 }, newInBuild: false }, 'test-data'],
  [
    'one that is like a change that was intended',
    { similar: [{ cause: 'intended-change', score: 0.9 }] },
    'intended-change',
  ],
])('with no decisions: %s', (_, more, expected) => {
  const answer = cause({ group: facts(more) })
  expect(likeliest(answer)).toBe(expected)
  expect(answer.because[0]!.text).not.toBe('')
  expect(answer.because.some((one) => one.cause === expected)).toBe(true)
})

test('likelihoods are six, of 0 to 1, and sum to one, whatever the facts', () => {
  const next = randomFrom(4)
  for (let i = 0; i < 50; i++) {
    const group = facts({
      kinds: { check: next() * 9, target: next() * 9, constructor: 3, nothing: 2 },
      environments: { failed: Math.floor(next() * 3), of: Math.floor(next() * 3) },
      flakyBefore: next(),
      recovered: next(),
      newInBuild: next() < 0.5,
    })
    const { likelihoods } = cause({ group })
    expect(Object.keys(likelihoods)).toEqual([...CAUSES])
    for (const one of Object.values(likelihoods)) expect(one >= 0 && one <= 1).toBe(true)
    expect(Object.values(likelihoods).reduce((sum, one) => sum + one, 0)).toBeCloseTo(1, 9)
  }
  expect(
    Object.values(
      cause({ group: facts({ kinds: {}, failures: 0, cases: 0, environments: { failed: 0, of: 0 } }) })
        .likelihoods,
    ).every(Number.isFinite),
  ).toBe(true)
})

test('it learns from decisions, and a few do not turn it over', () => {
  const group = facts({ kinds: { target: 4 }, newInBuild: true })
  const asTest = cause({ group }).likelihoods['test-fault']
  const decided = (count: number) =>
    cause({ group, decisions: Array.from({ length: count }, () => ({ group, cause: 'test-data' as const })) })
  const [few, many] = [decided(1).likelihoods, decided(30).likelihoods]
  expect(few['test-data']).toBeGreaterThan(cause({ group }).likelihoods['test-data'])
  expect(few['test-data']).toBeLessThan(0.5)
  expect(many['test-data']).toBeGreaterThan(0.7)
  expect(many['test-fault']).toBeLessThan(asTest)
  expect(decided(30)).toEqual(decided(30))
})

/** Of checks that are old and new, and of targets that are. */
const USUAL: CauseName[] = ['test-data', 'product-defect', 'test-fault', 'intended-change']

test('what it says is as sure as it is right: with decisions of a house, held against others of it', () => {
  // A house whose causes follow rules of its own, with noise.
  const next = randomFrom(12)
  const decided = () => {
    const isTarget = next() < 0.5
    const isNew = next() < 0.5
    const group = facts({
      kinds: isTarget ? { target: 3 } : { check: 3 },
      newInBuild: isNew,
      flakyBefore: next() * 0.3,
      cases: 1 + Math.floor(next() * 4),
    })
    const usual: CauseName = USUAL[Number(isTarget) * 2 + Number(isNew)]!
    const other = CAUSES[Math.floor(next() * CAUSES.length)]!
    return { group, cause: next() < 0.8 ? usual : other }
  }
  const decisions = Array.from({ length: 120 }, decided)
  const asked = Array.from({ length: 150 }, decided)
  const weights = learnt(decisions)
  const answers = asked.map((one) => {
    const { likelihoods } = causeBy(weights, one.group)
    const said = CAUSES.toSorted((a, b) => likelihoods[b] - likelihoods[a])[0]!
    return { sure: likelihoods[said], right: said === one.cause }
  })
  const mean = (values: number[]) => values.reduce((sum, value) => sum + value, 0) / values.length
  const right = mean(answers.map((one) => Number(one.right)))
  expect(right).toBeGreaterThan(0.7)
  expect(Math.abs(mean(answers.map(({ sure }) => sure)) - right)).toBeLessThan(0.12)
})
