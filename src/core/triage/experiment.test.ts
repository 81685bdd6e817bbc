import { randomFrom } from '../execution'
import { CAUSES, type CauseName } from './evidence'
import { afterRuns, ARMS, experimentFor, type Likelihoods } from './experiment'

const EVEN = Object.fromEntries(CAUSES.map((cause) => [cause, 1 / CAUSES.length])) as Likelihoods
const ALL = { again: 60_000, before: 60_000, elsewhere: 60_000 }
const likeliest = (likely: Likelihoods) => CAUSES.toSorted((a, b) => likely[b] - likely[a])[0]
const onlyBetween = (...causes: CauseName[]): Likelihoods =>
  Object.fromEntries(
    CAUSES.map((cause) => [cause, causes.includes(cause) ? 1 / causes.length : 0]),
  ) as Likelihoods

describe('what runs tell', () => {
  test.each<[CauseName, [number, number, number]]>([
    ['intended-change', [3, 0, 3]],
    ['environment-fault', [2, 2, 0]],
    ['test-data', [3, 3, 3]],
    ['unclear', [0, 0, 0]],
  ])('%s', (cause, [again, before, elsewhere]) => {
    const results = [again, before, elsewhere].map((failed, i) => ({ arm: ARMS[i]!, failed, of: 3 }))
    expect(likeliest(afterRuns(EVEN, results))).toBe(cause)
  })
  test('they add up to one, also after many runs and from something that was ruled out', () => {
    const random = randomFrom(7)
    for (let i = 0; i < 100; i++) {
      const of = Math.floor(random() * 2000)
      const results = ARMS.map((arm) => ({ arm, failed: Math.floor(random() * (of + 1)), of }))
      const after = Object.values(afterRuns(onlyBetween('unclear', 'test-data'), results))
      expect(after.reduce((sum, share) => sum + share, 0)).toBeCloseTo(1, 9)
      expect(after.every((share) => share >= 0 && share <= 1)).toBe(true)
    }
  })
  test('no runs tell nothing, and the order of the runs is all the same', () => {
    for (const cause of CAUSES) expect(afterRuns(EVEN, [])[cause]).toBeCloseTo(EVEN[cause], 9)
    const [one, two] = [
      { arm: 'again', failed: 1, of: 2 },
      { arm: 'before', failed: 0, of: 3 },
    ] as const
    const whole = afterRuns(EVEN, [one, two])
    const apart = afterRuns(afterRuns(EVEN, [two]), [one])
    for (const cause of CAUSES) expect(apart[cause]).toBeCloseTo(whole[cause], 9)
  })
})

describe('which runs', () => {
  test('a defect of the product or a fault of the test is told by the build before', () => {
    const { times } = experimentFor(onlyBetween('product-defect', 'test-fault'), ALL)!
    expect(times.before).toBeGreaterThan(0)
    expect(times.again + times.elsewhere).toBe(0)
  })
  test('the environment is told by going elsewhere', () => {
    const { times } = experimentFor(onlyBetween('environment-fault', 'test-data'), ALL)!
    expect(times.elsewhere).toBeGreaterThan(0)
    expect(times.before).toBe(0)
  })
  test('what comes and goes is told by doing the same again', () => {
    const { times } = experimentFor(onlyBetween('unclear', 'intended-change'), { again: 1000 })!
    expect(times).toMatchObject({ before: 0, elsewhere: 0 })
    expect(times.again).toBeGreaterThan(0)
  })
  test('who knows it already runs nothing; where nothing can be run there is no experiment', () => {
    expect(experimentFor(onlyBetween('test-data'), ALL)).toBeUndefined()
    expect(experimentFor(EVEN, {})).toBeUndefined()
  })
  test('what takes long is run less often than what is as good and quick', () => {
    const between = onlyBetween('product-defect', 'environment-fault')
    const quick = experimentFor(between, { ...ALL, before: 3_600_000 })!
    expect(quick.times.before).toBe(0)
    expect(quick.ms).toBeLessThan(3_600_000)
  })
  test('it is never larger than somebody waits for, and expected to tell something', () => {
    const random = randomFrom(3)
    for (let i = 0; i < 60; i++) {
      const raw = CAUSES.map(() => random() ** 3)
      const whole = raw.reduce((sum, one) => sum + one, 0)
      const likely = Object.fromEntries(CAUSES.map((cause, at) => [cause, raw[at]! / whole])) as Likelihoods
      const found = experimentFor(likely, ALL)
      if (!found) continue
      expect(found.caseRuns).toBeLessThanOrEqual(8)
      expect(found.bits).toBeGreaterThan(0)
      expect(found.bits).toBeLessThanOrEqual(found.bitsNow + 1e-9)
      expect(found.ms).toBe(found.caseRuns * 60_000)
    }
  })
  // played: what the causes say happens, happens, and the likeliest afterwards is mostly the right one
  test('by what it tells, the cause is found more often than before', () => {
    const random = randomFrom(19)
    const fails: Partial<Record<CauseName, [number, number, number]>> = {
      'product-defect': [0.95, 0.02, 0.9],
      'environment-fault': [0.7, 0.7, 0.02],
      'test-fault': [0.9, 0.85, 0.9],
    }
    const kinds = Object.keys(fails) as CauseName[]
    const { times } = experimentFor(onlyBetween(...kinds), ALL)!
    let right = 0
    for (let i = 0; i < 600; i++) {
      const truth = kinds[i % kinds.length]!
      const results = ARMS.map((arm, at) => {
        const failed = Array.from({ length: times[arm] }, () => random() < fails[truth]![at]!).filter(Boolean)
        return { arm, failed: failed.length, of: times[arm] }
      })
      if (likeliest(afterRuns(onlyBetween(...kinds), results)) === truth) right++
    }
    expect(right / 600).toBeGreaterThan(0.85)
  })
})
