import { randomFrom } from '../execution/random'
import { estimate, type EstimateInput, type PastRun } from '.'

const NOW = '2026-11-23T00:00:00Z'
const daysAgo = (days: number) => new Date(Date.parse(NOW) - days * 86_400_000).toISOString()
const run = (key: string, ms: number, more: Partial<PastRun> = {}): PastRun => ({
  case: key,
  environment: 'wide',
  ms,
  endedAt: daysAgo(1),
  outcome: 'passed',
  ...more,
})
const one = (history: PastRun[], key = 'a', environment = 'wide', steps?: number) =>
  estimate({
    history,
    wanted: [{ case: key, environment, ...(steps !== undefined && { steps }) }],
    now: NOW,
  })[0]!

/** Made-up history with known rules: cases, environments, noise; then what came next. */
function made(seed: number, days: number) {
  const random = randomFrom(seed)
  const gaussian = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random())
  const environments = Array.from({ length: 5 }, (_, e) => ({
    name: `env-${e}`,
    factor: Math.exp(gaussian() * 0.3),
  }))
  const cases = Array.from({ length: 60 }, (_, c) => ({
    key: `case-${c}`,
    level: Math.exp(gaussian() * 0.9 + 9.5),
    noise: 0.08 + random() * 0.25,
  }))
  const all = Array.from({ length: days }, (_, day) =>
    cases.flatMap(({ key, level, noise }) =>
      environments.map(({ name, factor }): PastRun => {
        const fails = random() < 0.04
        return {
          case: key,
          environment: name,
          ms: Math.round(level * factor * Math.exp(gaussian() * noise) * (fails ? 0.3 * random() : 1)),
          endedAt: daysAgo(days - day),
          outcome: fails ? 'failed' : 'passed',
        }
      }),
    ),
  ).flat()
  return all
}

test.each([1, 2, 3])(
  'on history it has not seen, half of what passes takes less than p50 and nine tenths less than p90 (seed %i)',
  (seed) => {
    const all = made(seed, 26)
    const cutoff = Date.parse(daysAgo(6))
    const history = all.filter(({ endedAt }) => Date.parse(endedAt) < cutoff)
    const later = all.filter(({ endedAt, outcome }) => Date.parse(endedAt) >= cutoff && outcome === 'passed')
    const estimates = estimate({
      history,
      wanted: later.map(({ case: key, environment }) => ({ case: key, environment })),
      now: daysAgo(6),
    })
    const under = (bound: 'p50Ms' | 'p90Ms') =>
      later.filter(({ ms }, i) => ms <= estimates[i]![bound]).length / later.length
    expect(Math.abs(under('p50Ms') - 0.5)).toBeLessThan(0.05)
    expect(Math.abs(under('p90Ms') - 0.9)).toBeLessThan(0.04)
  },
)

test('a case that never ran on an environment gets its level times the environment’s factor', () => {
  const history = ['a', 'b', 'c', 'd'].flatMap((key, i) =>
    [1, 2, 3].flatMap(() => [
      run(key, 1000 * (i + 1)),
      ...(key === 'a' ? [] : [run(key, 2000 * (i + 1), { environment: 'slow' })]),
    ]),
  )
  expect(one(history, 'a', 'slow')).toMatchObject({ basis: 'case', n: 3 })
  expect(one(history, 'a', 'slow').p50Ms / 2000).toBeCloseTo(1, 1)
})
test('failures alone say how long it takes at least, and nothing more', () => {
  const failed = (ms: number) => run('a', ms, { outcome: 'failed' })
  const estimated = (history: PastRun[]) => one(history, 'a', 'wide', 20)
  const unknown = estimated([])
  expect(estimated([failed(40), failed(60), failed(50)])).toEqual(unknown) // they failed at once
  expect(estimated([failed(90_000)]).p50Ms).toBe(90_000)
})
test('failures that ended early shorten nothing', () => {
  const good = Array.from({ length: 10 }, () => run('a', 10_000))
  expect(
    one([...good, ...Array.from({ length: 10 }, () => run('a', 300, { outcome: 'failed' }))]).p50Ms,
  ).toBe(one(good).p50Ms)
})
test('recent runs weigh more than old ones', () => {
  expect(
    one([
      ...Array.from({ length: 6 }, () => run('a', 10_000, { endedAt: daysAgo(60) })),
      ...Array.from({ length: 4 }, () => run('a', 20_000)),
    ]).p50Ms,
  ).toBeGreaterThan(19_000)
})
test('one wild value moves neither p50 nor p90 far', () => {
  const usual = Array.from({ length: 15 }, (_, i) => run('a', 10_000 + i * 50))
  expect(one([...usual, run('a', 600_000)]).p50Ms).toBeLessThan(11_000)
  expect(one([...usual, run('a', 600_000)]).p90Ms).toBeLessThan(20_000)
})
test.each<[string, ReturnType<typeof one>, string]>([
  ['the case on the environment', one([run('a', 1000)]), 'both'],
  ['the case elsewhere', one([run('a', 1000)], 'a', 'narrow'), 'case'],
  ['the environment alone', one([run('a', 1000)], 'b'), 'environment'],
  ['steps alone', one([run('a', 1000)], 'b', 'wide', 12), 'steps'],
  ['nothing', one([], 'b'), 'default'],
])('from %s', (_, { basis, p50Ms, p90Ms }, expected) => {
  expect(basis).toBe(expected)
  expect(p50Ms).toBeGreaterThan(0)
  expect(p90Ms).toBeGreaterThanOrEqual(p50Ms)
})
test('more steps take longer, and an instant that is none is told with its place', () => {
  expect(one([], 'x', 'wide', 30).p50Ms).toBeGreaterThan(one([], 'x', 'wide', 3).p50Ms)
  expect(() =>
    estimate({ history: [run('a', 1, { endedAt: 'soon' })], wanted: [], now: NOW } satisfies EstimateInput),
  ).toThrow('history/0/endedAt')
})
