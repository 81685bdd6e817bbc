import { where, type Factors } from '.'
import { randomFrom } from '../execution/random'
import { lnFactorials, lnFisher } from './fisher'

const fisher = (...given: Parameters<typeof lnFisher>) => Math.exp(lnFisher(...given))

const pick = <T>(from: readonly T[], next: () => number): T => from[Math.floor(next() * from.length)]!

/** Runs of a fleet; `fails` says how likely each is to fail. */
function runs(count: number, seed: number, fails: (factors: Factors) => number) {
  const next = randomFrom(seed)
  return Array.from({ length: count }, () => {
    const factors: Factors = {
      browser: pick(['Chromium', 'Firefox', 'WebKit'], next),
      os: pick(['Debian', 'Windows', 'handset'], next),
      build: pick(['2026.11.3', '2026.11.4'], next),
      agent: `maren-${Math.floor(next() * 12)}`,
      hour: Math.floor(next() * 24),
    }
    return { failed: next() < fails(factors), factors }
  })
}

describe('Fisher’s exact test', () => {
  test('is what counting all draws gives', () => {
    const ln = lnFactorials(12)
    const choose = (n: number, k: number): number => (k === 0 ? 1 : (choose(n - 1, k - 1) * n) / k)
    for (let failed = 0; failed <= 12; failed++)
      for (let of = 0; of <= 12; of++)
        for (let here = Math.max(0, of - (12 - failed)); here <= Math.min(of, failed); here++) {
          let ways = 0
          for (let k = here; k <= Math.min(of, failed); k++)
            if (of - k <= 12 - failed) ways += choose(failed, k) * choose(12 - failed, of - k)
          expect(fisher(ln, { all: 12, failed }, { of, failed: here })).toBeCloseTo(ways / choose(12, of), 9)
        }
  })

  test('the lady tasting tea: all eight cups right', () => {
    expect(fisher(lnFactorials(8), { all: 8, failed: 4 }, { of: 4, failed: 4 })).toBeCloseTo(1 / 70, 10)
  })
})

test.each<[string, Factors, number]>([
  ['one value', { browser: 'WebKit' }, 300],
  ['two together', { browser: 'Firefox', os: 'Windows' }, 600],
  ['three together', { browser: 'Firefox', os: 'Windows', build: '2026.11.4' }, 1500],
  ['one agent', { agent: 'maren-4' }, 600],
  ['an hour, as a number', { hour: 3 }, 1500],
])('what was planted comes first: %s', (_, planted, count) => {
  for (let seed = 1; seed <= 10; seed++) {
    const rows = runs(count, seed, (factors) =>
      Object.entries(planted).every(([name, value]) => factors[name] === value) ? 0.85 : 0.02,
    )
    const [best, ...others] = where({ rows })
    expect(best!.factors).toEqual(planted)
    expect(best!.p).toBeLessThan(0.001)
    expect(others).toEqual([])
  }
})

test('with so many rows that no number holds the chance, what was planted still comes first', () => {
  const rows = runs(20_000, 3, ({ browser, os }) => (browser === 'Firefox' && os === 'Windows' ? 0.9 : 0.01))
  const found = where({ rows })
  expect(found.map(({ factors }) => factors)).toEqual([{ browser: 'Firefox', os: 'Windows' }])
  expect(found[0]!.pRaw).toBe(0)
})

test('two causes are told, each by itself', () => {
  const rows = runs(800, 5, ({ agent, browser }) =>
    agent === 'maren-2' || browser === 'WebKit' ? 0.8 : 0.02,
  )
  expect(where({ rows }).map(({ factors }) => factors)).toEqual([{ browser: 'WebKit' }, { agent: 'maren-2' }])
})

test('where nothing makes a difference something is told in one of twenty at the most', () => {
  let told = 0
  for (let seed = 1; seed <= 200; seed++) if (where({ rows: runs(200, seed, () => 0.15) }).length > 0) told++
  expect(told).toBeLessThanOrEqual(15)
})

test('figures are those of the rows', () => {
  const row = (failed: boolean, browser: string) => ({ failed, factors: { browser, site: 'booking' } })
  const rows = [
    ...Array.from({ length: 9 }, () => row(true, 'WebKit')),
    row(false, 'WebKit'),
    row(true, 'Firefox'),
    ...Array.from({ length: 19 }, () => row(false, 'Firefox')),
  ]
  const [only, ...others] = where({ rows })
  expect(others).toEqual([])
  expect(only).toMatchObject({
    factors: { browser: 'WebKit' },
    failed: 9,
    of: 10,
    elsewhereFailed: 1,
    elsewhereOf: 20,
    covers: 0.9,
  })
  expect(only!.ratio).toBeCloseTo(18, 9)
  expect(only!.p).toBeCloseTo(only!.pRaw * only!.tried, 12)
})

test('nothing failed elsewhere: there is no ratio; names for the same rows are all told', () => {
  const rows = Array.from({ length: 20 }, (_, i) => ({
    failed: i < 8,
    factors: { browser: i < 8 ? 'WebKit' : 'Firefox', engine: i < 8 ? 'WebKitGTK' : 'Gecko' },
  }))
  const found = where({ rows })
  expect(found.map(({ factors }) => factors)).toEqual([{ browser: 'WebKit' }, { engine: 'WebKitGTK' }])
  expect(found[0]!.ratio).toBeNull()
})

test.each([
  ['no rows', []],
  [
    'all failed',
    [
      { failed: true, factors: { a: 1 } },
      { failed: true, factors: { a: 2 } },
    ],
  ],
  ['none failed', [{ failed: false, factors: { a: 1 } }]],
  [
    'no factors',
    [
      { failed: true, factors: {} },
      { failed: false, factors: {} },
    ],
  ],
  [
    'too few to tell',
    [
      { failed: true, factors: { a: 1 } },
      { failed: false, factors: { a: 2 } },
    ],
  ],
])('nothing is told: %s', (_, rows) => {
  expect(where({ rows })).toEqual([])
})

test('a factor that only some rows have is one, and a name of the language is none', () => {
  const rows = Array.from({ length: 40 }, (_, i) => ({
    failed: i < 10,
    factors: (i < 10 ? { proxy: true, constructor: 'x' } : { constructor: 'x' }) as Factors,
  }))
  expect(where({ rows }).map(({ factors }) => factors)).toEqual([{ proxy: true }])
})
