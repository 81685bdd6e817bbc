import fc from 'fast-check'
import { matrix, type MatrixInput, type MatrixRule } from '.'

/** Axes of so many factors with so many levels each: [levels, factors]. */
const axes = (...groups: [number, number][]): Record<string, string[]> =>
  Object.fromEntries(
    groups.flatMap(([levels, factors], g) =>
      Array.from({ length: factors }, (_, f) => [
        `axis${g}x${f}`,
        Array.from({ length: levels }, (_, l) => `v${l}`),
      ]),
    ),
  )
const faultsOf = (input: MatrixInput) => {
  try {
    matrix(input)
  } catch (error) {
    return (error as { faults: { path: string; message: string }[] }).faults
  }
  throw new Error('nothing was wrong with it')
}

/** Brute force: every combination that keeps the rules, and every tuple that one of them has. */
function obvious({ axes: given, strength, forbid = [] }: MatrixInput) {
  const names = Object.keys(given)
  const says = (value: unknown, level: unknown) => [value].flat().includes(level)
  const all = names.reduce<Record<string, unknown>[]>(
    (rows, name) => rows.flatMap((row) => given[name]!.map((level) => ({ ...row, [name]: level }))),
    [{}],
  )
  const allowed = all.filter(
    (row) => !forbid.some((rule) => Object.entries(rule).every(([name, value]) => says(value, row[name]))),
  )
  const size = Math.min(strength === 3 ? 3 : 2, names.length)
  const choose = (n: number, from = 0): string[][] =>
    n === 0
      ? [[]]
      : names.slice(from).flatMap((name, i) => choose(n - 1, from + i + 1).map((rest) => [name, ...rest]))
  const tuplesOf = (rows: Record<string, unknown>[]) =>
    new Set(
      rows.flatMap((row) =>
        choose(size).map((chosen) => JSON.stringify(chosen.map((name) => [name, row[name]]))),
      ),
    )
  return { allowed, total: tuplesOf(all).size, possible: tuplesOf(allowed), tuplesOf }
}

const small = fc.array(fc.integer({ min: 1, max: 4 }), { minLength: 1, maxLength: 5 }).chain((sizes) => {
  const given = Object.fromEntries(
    sizes.map((size, i) => [`a${i}`, Array.from({ length: size }, (_, l) => `v${l}`)]),
  )
  const rule = fc
    .uniqueArray(fc.nat(sizes.length - 1), { minLength: 1, maxLength: 3 })
    .chain((factors) =>
      fc
        .tuple(
          ...factors.map((factor) =>
            fc
              .uniqueArray(fc.nat(sizes[factor]! - 1), { minLength: 1, maxLength: 2 })
              .map(
                (levels) =>
                  [`a${factor}`, levels.length === 1 ? `v${levels[0]}` : levels.map((l) => `v${l}`)] as const,
              ),
          ),
        )
        .map(Object.fromEntries),
    )
  return fc.record({
    axes: fc.constant(given),
    strength: fc.constantFrom(2 as const, 3 as const, 'all' as const),
    forbid: fc.array(rule, { maxLength: 4 }),
    seed: fc.nat(1000),
    budgetMs: fc.constant(1),
  })
})

test('on small axes with any rules: no row breaks one, every possible tuple is covered, the sums agree with a full listing', () => {
  fc.assert(
    fc.property(small, (input) => {
      const { rows, uncovered, pairs } = matrix(input)
      const { allowed, total, possible, tuplesOf } = obvious(input)
      const known = new Set(allowed.map((row) => JSON.stringify(row)))
      for (const row of rows) expect(known.has(JSON.stringify(row))).toBe(true)
      expect(uncovered).toEqual([])
      expect(tuplesOf(rows)).toEqual(possible)
      expect(pairs).toEqual({ total, covered: possible.size, impossible: total - possible.size })
      if (input.strength === 'all') expect(rows).toEqual(allowed)
    }),
    { numRuns: 150 },
  )
})

test('the same input and seed give the same rows, however the clock runs', () => {
  const input: MatrixInput = {
    axes: axes([4, 3], [3, 4], [2, 5]),
    strength: 2,
    forbid: [{ axis0x0: 'v0', axis1x0: ['v1', 'v2'] }],
    seed: 7,
    budgetMs: 50,
  }
  expect(matrix(input)).toEqual(matrix(input, () => 0))
})

test.each([
  { name: '3^4', given: axes([3, 4]), most: 9, why: 'the orthogonal array' },
  { name: '3^13', given: axes([3, 13]), most: 15, why: 'one array beside itself, and what then misses' },
  { name: '2^100', given: axes([2, 100]), most: 10, why: 'choices of half the rows' },
  { name: '4^6 5^1', given: axes([5, 1], [4, 5]), most: 25, why: 'a larger field, with levels left out' },
  { name: '8^9', given: axes([8, 9]), most: 64, why: 'a field that is no prime' },
  { name: '9^10', given: axes([9, 10]), most: 81, why: 'another field that is no prime' },
])('$name takes $most rows at most: $why', ({ given, most }) => {
  const { rows, uncovered, pairs } = matrix({ axes: given, strength: 2, budgetMs: 250 })
  expect(rows.length).toBeLessThanOrEqual(most)
  expect(uncovered).toEqual([])
  expect(pairs.covered).toBe(pairs.total)
})
test('triples of five levels meet in as few rows as there can be', () =>
  expect(matrix({ axes: axes([5, 6]), strength: 3, budgetMs: 100 }).rows).toHaveLength(125))

describe('rules', () => {
  const browsers = {
    browser: ['chromium', 'firefox', 'webkit'],
    os: ['debian', 'windows', 'macos'],
    locale: ['en', 'de'],
  }
  test('what rules make impossible together is counted, though no rule names it', () => {
    // webkit only on macos, macos never in de: so webkit never in de.
    const { pairs, rows } = matrix({
      axes: browsers,
      strength: 2,
      forbid: [
        { browser: 'webkit', os: ['debian', 'windows'] },
        { os: 'macos', locale: 'de' },
      ],
    })
    expect(pairs.impossible).toBe(4)
    expect(
      rows
        .filter(({ browser }) => browser === 'webkit')
        .every(({ os, locale }) => os === 'macos' && locale === 'en'),
    ).toBe(true)
  })
  test('rules that leave nothing leave no row, and say that all is impossible', () => {
    expect(matrix({ axes: { a: ['x'], b: ['y', 'z'] }, strength: 2, forbid: [{ a: 'x' }] })).toEqual({
      rows: [],
      uncovered: [],
      pairs: { total: 2, covered: 0, impossible: 2 },
    })
  })
  test('required rows are there, keep to the rules, and count', () => {
    const require: MatrixRule[] = [
      { browser: 'firefox', os: 'windows', locale: 'de' },
      { os: ['debian', 'macos'], browser: 'chromium' },
    ]
    const { rows, uncovered } = matrix({
      axes: browsers,
      strength: 2,
      require,
      forbid: [{ browser: 'chromium', os: 'debian' }],
    })
    expect(rows).toContainEqual(require[0])
    expect(rows.some(({ browser, os }) => browser === 'chromium' && os === 'macos')).toBe(true)
    expect(uncovered).toEqual([])
    expect(rows.length).toBeLessThanOrEqual(9)
  })
  test('one axis alone, and two of one level each', () => {
    expect(matrix({ axes: { os: ['a', 'b'] }, strength: 3 }).rows).toEqual([{ os: 'a' }, { os: 'b' }])
    expect(matrix({ axes: { a: ['x'], b: ['y'] }, strength: 2 })).toEqual({
      rows: [{ a: 'x', b: 'y' }],
      uncovered: [],
      pairs: { total: 1, covered: 1, impossible: 0 },
    })
  })
})

describe('bad input', () => {
  test.each([
    ['an axis that is not there', { forbid: [{ brwser: 'x' }] }, 'forbid/0/brwser'],
    ['a level that is not there', { forbid: [{ a: ['x', 'q'] }] }, 'forbid/0/a'],
    ['a level twice', { axes: { a: ['x', 'x'] } }, 'axes/a/1'],
    ['a required row that a rule forbids', { forbid: [{ a: 'x' }], require: [{ a: 'x' }] }, 'require/0'],
  ] as [string, Partial<MatrixInput>, string][])('%s is told with its place', (_, given, path) => {
    expect(
      faultsOf({ axes: { a: ['x', 'y'], b: ['z'] }, strength: 2, ...given }).map((fault) => fault.path),
    ).toEqual([path])
  })
  test('a product nobody could list is refused, and what to do is said', () =>
    expect(faultsOf({ axes: axes([10, 6]), strength: 'all' })[0]!.message).toContain('Ask for pairs'))
})
