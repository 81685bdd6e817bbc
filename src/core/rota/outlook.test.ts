import type { RotationWhere } from '../model'
import { outlook, type OutlookBasis } from './outlook'
import { variantsOf } from './variants'

const MINUTE_MS = 60_000
const environment = (key: string) => ({
  key,
  title: key.toUpperCase(),
  browser: key,
  os: 'O',
  width: 800,
  height: 600,
  locale: 'en-GB',
  simulated: true,
})
const item = (key: string, more: object = {}) => ({
  case: key,
  title: key.toUpperCase(),
  after: [],
  exclusive: [],
  priority: 0,
  ...more,
})
const basis = (count: number, more: Partial<OutlookBasis> = {}): OutlookBasis => {
  const items = Array.from({ length: count }, (_, i) => item(`c${i}`))
  const all = more.items ?? items
  return {
    items,
    environments: ['a', 'b'].map(environment),
    agents: [
      { name: 'one', pool: 'P', seats: 2, environments: ['a', 'b'] },
      { name: 'two', pool: 'Q', seats: 1, environments: ['a'] },
    ],
    estimates: Object.fromEntries(
      all.map(({ case: key }) => [
        key,
        {
          a: { p50Ms: MINUTE_MS, p90Ms: 1.2 * MINUTE_MS, failRate: 0 },
          b: { p50Ms: 2 * MINUTE_MS, p90Ms: 2.2 * MINUTE_MS, failRate: 0 },
        },
      ]),
    ),
    ...more,
  }
}
const where = (more: Partial<RotationWhere> = {}): RotationWhere => ({
  environments: ['a', 'b'],
  cover: 'all',
  never: [],
  always: [],
  spread: 'split',
  leaveOut: false,
  lanes: {},
  ...more,
})
const foresee = (given: OutlookBasis, more: Partial<RotationWhere> = {}, retries = 0) =>
  outlook({ where: where(more), retries }, given)

test('work is dealt over the seats that serve it; the end is not before the bound, nor far behind it', () => {
  const found = foresee(basis(10))
  expect(found).toMatchObject({
    caseRuns: 20,
    seats: 3,
    used: 3,
    usedByPool: { P: 2, Q: 1 },
    makespanMs: 10 * MINUTE_MS,
    boundMs: 10 * MINUTE_MS,
    bound: 'load',
    unplaceable: [],
    faults: [],
  })
  expect(found.p50Ms).toBeGreaterThanOrEqual(found.boundMs * 0.95)
  expect(found.p90Ms).toBeGreaterThanOrEqual(found.p50Ms)
  expect(found.lanes.flatMap(({ environments }) => environments).length).toBe(20)
})
test('a pool leaves the other seats out, and what it does not serve has no place', () => {
  const found = foresee(basis(4), { pool: 'Q' })
  expect(found).toMatchObject({ seats: 1, used: 1, usedByPool: { Q: 1 }, caseRuns: 8, utilisation: 1 })
  expect(found.unplaceable).toMatchObject([{ count: 4, environment: 'b', titles: ['C0', 'C1', 'C2'] }])
  expect(found.unplaceable[0]!.work).toHaveLength(4)
})
test('a pool without seats is a fault at its field', () =>
  expect(foresee(basis(1), { pool: 'Harbour' }).faults).toEqual([
    { path: 'where/pool', message: 'the pool “Harbour” has no seats now; P, Q have' },
  ]))
test('everywhere: every agent that can does all of it', () =>
  expect(foresee(basis(3), { spread: 'everywhere', environments: ['a'] })).toMatchObject({
    caseRuns: 6,
    usedByPool: { P: 2, Q: 1 },
  }))
test('in sequence one seat does all of it', () =>
  expect(foresee(basis(3), { spread: 'sequence' })).toMatchObject({ used: 1, makespanMs: 9 * MINUTE_MS }))
test('by hand: each case on its agent; those nobody was given, and agents that are not here, are named', () => {
  const found = foresee(basis(3), {
    spread: 'assigned',
    environments: ['a'],
    lanes: { c0: 'two', c1: 'gone' },
  })
  expect(found.lanes.map(({ agent, items }) => [agent, items.length])).toEqual([['two', 1]])
  expect(found.unplaceable.reduce((sum, { count }) => sum + count, 0)).toBe(2)
  expect(found.faults).toEqual([{ path: 'where/lanes/c1', message: 'the agent “gone” is not here' }])
})
test('before all comes once and first, after all once and last', () => {
  const items = [
    item('before:all', { phase: 'before' }),
    item('c0'),
    item('c1'),
    item('after:all', { phase: 'after' }),
  ]
  const found = foresee(basis(0, { items }))
  const placed = found.lanes.flatMap((lane) => lane.items).sort((a, b) => a.startMs - b.startMs)
  expect(placed).toHaveLength(6)
  expect(placed[0]!.work).toBe('0 a')
  expect(placed.at(-1)!.work).toBe('3 a')
  expect(placed.slice(1).every(({ startMs }) => startMs >= placed[0]!.endMs)).toBe(true)
  expect(placed.slice(0, -1).every(({ endMs }) => endMs <= placed.at(-1)!.startMs)).toBe(true)
})
test('nothing chosen is nothing to do, not a fault', () =>
  expect(foresee(basis(0))).toMatchObject({ caseRuns: 0, lanes: [], faults: [], p50Ms: 0 }))
test('what fails often is named as likely to need a second try', () => {
  const given = basis(3)
  given.estimates.c1!.a!.failRate = 0.4
  const [first] = foresee(given, {}, 1).risky
  expect(first).toMatchObject({ title: 'C1', environment: 'a' })
  expect(first!.chance).toBeGreaterThan(0.25)
  expect(first!.chance).toBeLessThan(0.55)
})
test('the same question has the same answer', () =>
  expect(foresee(basis(30), {}, 1)).toEqual(foresee(basis(30), {}, 1)))

describe('what would change it', () => {
  const changes = (given: OutlookBasis, more: Partial<RotationWhere> = {}) =>
    variantsOf({ where: where(more), retries: 0 }, given, foresee(given, more))
  test('another seat helps where the load is, and leaving an environment out by what it takes', () => {
    const found = changes(basis(12))
    const seat = found.find(({ kind }) => kind === 'seat')!
    expect(seat.earlierMs).toBeGreaterThan(2 * MINUTE_MS)
    expect(
      found.find(({ kind, environment: key }) => kind === 'without' && key === 'b')!.earlierMs,
    ).toBeGreaterThanOrEqual(7 * MINUTE_MS)
  })
  test('one seat alone is the neck: a second one halves the time', () => {
    const given = basis(8, { agents: [{ name: 'one', pool: 'P', seats: 1, environments: ['a'] }] })
    expect(changes(given, { environments: ['a'] })).toEqual([
      { kind: 'seat', environment: 'a', seats: 2, earlierMs: 4 * MINUTE_MS },
    ])
  })
  test('where a chain is what takes the time, no seat helps, and none is offered', () => {
    const items = Array.from({ length: 6 }, (_, i) => item(`c${i}`, i > 0 ? { after: [i - 1] } : {}))
    expect(changes(basis(0, { items }), { environments: ['a'] })).toEqual([])
  })
})
test('waits the rotation asks for count for every case as often as they come in it', () => {
  const given = basis(2, { pauses: { c0: { between: 4, settle: 2 } } })
  const with_ = (how: { settleMs: number; betweenMs: number }) =>
    outlook({ where: where({ environments: ['a'], spread: 'sequence' }), retries: 0, how }, given).makespanMs
  expect(with_({ settleMs: 0, betweenMs: 0 })).toBe(2 * MINUTE_MS)
  expect(with_({ settleMs: 5000, betweenMs: 1000 })).toBe(2 * MINUTE_MS + 2 * 5000 + 4 * 1000)
})

describe('joint cases', () => {
  const joint = (on: Record<string, string>) =>
    basis(1, {
      items: [
        item('c0', {
          roles: [
            { role: 'passenger', on: { a: 'a', b: 'b' } },
            { role: 'crew', on },
          ],
        }),
      ],
    })
  test('all roles begin together, each on a seat of its own, and count as one case run', () => {
    const found = foresee(joint({ a: 'b', b: 'b' }), { environments: ['a'] })
    expect(found).toMatchObject({ caseRuns: 1, unplaceable: [] })
    const placed = found.lanes.flatMap(({ items }) => items)
    expect(placed).toHaveLength(2)
    expect(new Set(placed.map(({ startMs }) => startMs)).size).toBe(1)
    expect(found.lanes.flatMap(({ environments }) => environments).sort()).toEqual(['a', 'b'])
  })
  test('without a seat for one of them, none has a place', () => {
    const found = foresee(joint({ a: 'nowhere', b: 'nowhere' }), { environments: ['a'] })
    expect(found.lanes).toEqual([])
    expect(found).toMatchObject({ caseRuns: 1 })
    expect(found.unplaceable.reduce((sum, { count }) => sum + count, 0)).toBe(2)
  })
})
