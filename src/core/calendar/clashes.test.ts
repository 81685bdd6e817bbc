import { clashes, type ClashesInput } from '.'

const minute = (n: number) => new Date(Date.UTC(2026, 2, 1, 0, n)).toISOString()
const one = (
  id: string,
  from: number,
  minutes: number,
  more: Partial<ClashesInput['occurrences'][number]> = {},
) => ({
  id,
  pool: 'p',
  at: minute(from),
  p50Ms: minutes * 60_000,
  p90Ms: minutes * 60_000,
  seats: 1,
  ...more,
})
const pools = [
  { id: 'p', seats: 2 },
  { id: 'q', seats: 1 },
]
const said = (list: ClashesInput['occurrences']) =>
  clashes({ pools, occurrences: list }).map(
    ({ from, to, ids, need, have, exclusive }) =>
      `${from.slice(14, 16)}-${to.slice(14, 16)} ${ids.join('+')} ` +
      `${need}/${have}${exclusive ? ` ${exclusive}` : ''}`,
  )

test.each<[string, ClashesInput['occurrences'], string[]]>([
  ['as much as there is', [one('a', 0, 10), one('b', 0, 10)], []],
  ['one more', [one('a', 0, 10), one('b', 5, 10), one('c', 7, 20)], ['07-10 a+b+c 3/2']],
  [
    'others in each span',
    [one('a', 0, 10), one('b', 0, 30), one('c', 5, 10), one('d', 12, 10)],
    ['05-10 a+b+c 3/2', '12-15 b+c+d 3/2'],
  ],
  ['one that starts as another ends', [one('a', 0, 10, { seats: 2 }), one('b', 10, 10, { seats: 2 })], []],
  ['more seats than the pool has, alone', [one('a', 0, 10, { seats: 3 })], ['00-10 a 3/2']],
  ['another pool is no trouble', [one('a', 0, 10, { seats: 2 }), one('b', 0, 10, { pool: 'q' })], []],
  [
    'the same thing alone, over pools',
    [one('a', 0, 10, { exclusive: ['desk'] }), one('b', 5, 10, { pool: 'q', exclusive: ['desk', 'gate'] })],
    ['05-10 a+b 2/1 desk'],
  ],
])('%s', (_, list, expected) => expect(said(list)).toEqual(expected))

test('the likelihood is the chance that all still run when it begins', () => {
  const spread = { p50Ms: 600_000, p90Ms: 1_200_000 }
  const [clash] = clashes({
    pools: [{ id: 'p', seats: 1 }],
    occurrences: [one('a', 0, 0, spread), one('b', 10, 5)],
  })
  expect(clash!.likelihood).toBeCloseTo(0.5, 5) // a's median ends just then
  const [late] = clashes({
    pools: [{ id: 'p', seats: 1 }],
    occurrences: [one('a', 0, 0, spread), one('b', 19, 5)],
  })
  expect(late!.likelihood).toBeGreaterThan(0.1)
  expect(late!.likelihood).toBeLessThan(0.13)
  const [sure] = clashes({ pools: [{ id: 'p', seats: 1 }], occurrences: [one('a', 0, 10), one('b', 5, 5)] })
  expect(sure!.likelihood).toBe(1)
})

test.each([
  ['a pool that is not there', [one('a', 0, 1, { pool: 'z' })], 'occurrences/0/pool'],
  ['an id twice', [one('a', 0, 1), one('a', 5, 1)], 'occurrences/1/id'],
  ['no instant', [{ ...one('a', 0, 1), at: 'soon' }], 'occurrences/0/at'],
  ['a p90 below the p50', [one('a', 0, 2, { p90Ms: 1 })], 'occurrences/0/p90Ms'],
])('%s is bad input', (_, list, path) => expect(() => clashes({ pools, occurrences: list })).toThrow(path))
