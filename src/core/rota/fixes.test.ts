import { randomFrom } from '../execution/random'
import { loadCurve } from './load'
import { rotaClashes, type RotaEntry } from './fixes'

const NOW = '2026-11-23T08:00:00.000Z'
const at = (time: string) => `2026-11-23T${time}:00.000Z`
const MINUTE_MS = 60_000
const entry = (
  id: string,
  time: string,
  minutes: number,
  seats: number,
  more: Partial<RotaEntry> = {},
): RotaEntry => ({
  id,
  at: at(time),
  p50Ms: minutes * MINUTE_MS,
  p90Ms: minutes * 1.2 * MINUTE_MS,
  seats: { P: seats },
  movable: true,
  elsewhere: [],
  ...more,
})
const POOLS = [
  { id: 'P', seats: 6 },
  { id: 'Q', seats: 4 },
]

test('the one that starts last is moved behind the other, to a whole five minutes; or before it', () => {
  const [clash, ...others] = rotaClashes(
    POOLS,
    [entry('gate', '12:00', 40, 4), entry('devices', '12:30', 20, 5)],
    NOW,
  )
  expect(others).toEqual([])
  expect(clash).toMatchObject({ pool: 'P', need: 9, have: 6, ids: ['gate', 'devices'] })
  expect(clash!.fixes).toEqual([
    { do: 'move', id: 'devices', at: at('12:50'), byMs: 20 * MINUTE_MS },
    { do: 'move', id: 'devices', at: at('11:35'), byMs: -55 * MINUTE_MS },
  ])
})
test('another pool is offered when it has room', () => {
  const entries = [
    entry('gate', '12:00', 40, 4),
    entry('devices', '12:30', 20, 5, { elsewhere: [{ pool: 'Q', seats: 4 }] }),
  ]
  expect(rotaClashes(POOLS, entries, NOW)[0]!.fixes.at(-1)).toEqual({ do: 'pool', id: 'devices', pool: 'Q' })
  expect(
    rotaClashes(POOLS, [...entries, entry('other', '12:20', 40, 1, { seats: { Q: 1 } })], NOW)[0]!.fixes.some(
      (fix) => fix.do === 'pool',
    ),
  ).toBe(false)
})
test('nothing is moved into the past, nor what runs already', () => {
  const [clash] = rotaClashes(
    POOLS,
    [entry('gate', '08:00', 60, 4, { movable: false }), entry('devices', '08:10', 20, 5)],
    NOW,
  )
  expect(clash!.fixes).toEqual([{ do: 'move', id: 'devices', at: at('09:15'), byMs: 65 * MINUTE_MS }])
})
test('two that end before the other begins do not clash', () =>
  expect(rotaClashes(POOLS, [entry('a', '12:00', 10, 6), entry('b', '12:12', 10, 6)], NOW)).toEqual([]))
test('a start that wants more than the pool has clashes alone, and nothing fixes it', () =>
  expect(rotaClashes(POOLS, [entry('a', '12:00', 10, 7)], NOW)).toMatchObject([{ ids: ['a'], fixes: [] }]))

test('whatever is proposed does mend it: taken, no clash has the moved one in it (property)', () => {
  const random = randomFrom(3)
  let mended = 0
  for (let round = 0; round < 150; round++) {
    const entries = Array.from({ length: 3 + Math.floor(random() * 6) }, (_, i) =>
      entry(
        `e${i}`,
        `${String(9 + Math.floor(random() * 6)).padStart(2, '0')}:${String(Math.floor(random() * 60)).padStart(2, '0')}`,
        5 + Math.floor(random() * 90),
        1 + Math.floor(random() * 6),
        { elsewhere: random() < 0.4 ? [{ pool: 'Q', seats: 1 + Math.floor(random() * 4) }] : [] },
      ),
    )
    for (const { fixes } of rotaClashes(POOLS, entries, NOW)) {
      for (const fix of fixes) {
        const after = entries.map((one) => {
          if (one.id !== fix.id) return one
          return fix.do === 'move'
            ? { ...one, at: fix.at }
            : { ...one, seats: { [fix.pool]: one.elsewhere[0]!.seats } }
        })
        expect(rotaClashes(POOLS, after, NOW).filter(({ ids }) => ids.includes(fix.id))).toEqual([])
        mended++
      }
    }
  }
  expect(mended).toBeGreaterThan(100)
})

test('the load of a pool stands at its seats until the p50, and falls to none at the p90', () => {
  const curve = loadCurve(
    [entry('a', '12:00', 10, 4), entry('b', '12:05', 10, 2), entry('c', '12:00', 10, 3, { seats: { Q: 3 } })],
    'P',
    Date.parse(at('11:00')),
    Date.parse(at('13:00')),
  )
  const load = (time: string, second = 0) => {
    const t = Date.parse(at(time)) + second * 1000
    const i = curve.findIndex(([moment]) => moment > t)
    const [[before, a], [after, b]] = [curve[i - 1]!, curve[i]!]
    return a + ((b - a) * (t - before)) / (after - before)
  }
  expect(
    [
      load('11:30'),
      load('12:02'),
      load('12:08'),
      load('12:11'),
      load('12:14'),
      load('12:16'),
      load('12:30'),
    ].map((seats) => Math.round(seats * 100) / 100),
  ).toEqual([0, 4, 6, 4, 2, 1, 0])
})
