import fc from 'fast-check'
import { beginning, DAY_NAMES, readRecur, writeRecur, type Recur } from './recur'

test.each<{ rule: string | null; recur: Recur; why: string }>([
  { rule: null, recur: { kind: 'once' }, why: 'no rule is once' },
  { rule: 'FREQ=HOURLY', recur: { kind: 'hourly', every: 1, days: [] }, why: 'all day, every day' },
  {
    rule: 'FREQ=HOURLY;INTERVAL=2;BYHOUR=7,8,9;BYDAY=MO,TU',
    recur: { kind: 'hourly', every: 2, from: 7, to: 9, days: ['MO', 'TU'] },
    why: 'within hours of some days',
  },
  {
    rule: 'FREQ=WEEKLY;BYDAY=SA',
    recur: { kind: 'weekly', every: 1, days: ['SA'], hours: [] },
    why: 'one day',
  },
  {
    rule: 'FREQ=DAILY;BYHOUR=8,20',
    recur: { kind: 'daily', every: 1, hours: [8, 20] },
    why: 'several times a day',
  },
  {
    rule: 'FREQ=WEEKLY;BYDAY=MO,FR;BYHOUR=7,12,19',
    recur: { kind: 'weekly', every: 1, days: ['MO', 'FR'], hours: [7, 12, 19] },
    why: 'several times on some days',
  },
  {
    rule: 'FREQ=MONTHLY;BYDAY=1MO',
    recur: { kind: 'monthly', every: 1, nth: 1, weekday: 'MO' },
    why: 'the first Monday',
  },
  {
    rule: 'FREQ=MONTHLY;BYDAY=-1FR',
    recur: { kind: 'monthly', every: 1, nth: -1, weekday: 'FR' },
    why: 'the last Friday',
  },
  {
    rule: 'FREQ=MONTHLY;INTERVAL=3;BYMONTHDAY=31',
    recur: { kind: 'monthly', every: 3, day: 31 },
    why: 'a day of the month',
  },
])('$rule: $why', ({ rule, recur }) => {
  expect(readRecur(rule)).toEqual(recur)
  expect(writeRecur(recur)).toBe(rule)
})

test.each([
  ['hours with a gap', 'FREQ=HOURLY;BYHOUR=7,9'],
  ['the fifth Friday of a month', 'FREQ=MONTHLY;BYDAY=5FR'],
  ['hours that go back', 'FREQ=DAILY;BYHOUR=20,8'],
  ['a number of times', 'FREQ=DAILY;COUNT=5'],
  ['the last day of a month', 'FREQ=MONTHLY;BYMONTHDAY=-1'],
  ['a year', 'FREQ=YEARLY'],
])('%s is a rule of one’s own, and stays as it was written', (_, rule) => {
  expect(readRecur(rule)).toEqual({ kind: 'own', rule })
  expect(writeRecur(readRecur(rule))).toBe(rule)
})

test('what the fields say is read back as it was (property)', () => {
  const days = fc.subarray(DAY_NAMES.map(([name]) => name as string))
  const every = fc.integer({ min: 1, max: 12 })
  const hours = fc.subarray(Array.from({ length: 24 }, (_, hour) => hour))
  const some: fc.Arbitrary<Recur> = fc.oneof(
    fc.record({ kind: fc.constant('daily' as const), every, hours }),
    fc.record({ kind: fc.constant('weekly' as const), every, days, hours }),
    fc.record({
      kind: fc.constant('monthly' as const),
      every,
      nth: fc.constantFrom(1, 2, 3, 4, -1),
      weekday: fc.constantFrom(...DAY_NAMES.map(([name]) => name as string)),
    }),
    fc.record({ kind: fc.constant('monthly' as const), every, day: fc.integer({ min: 1, max: 31 }) }),
    fc.record({ kind: fc.constant('hourly' as const), every, days }),
    fc
      .tuple(every, days, fc.integer({ min: 0, max: 23 }), fc.integer({ min: 0, max: 23 }))
      .map(([n, on, a, b]): Recur => ({
        kind: 'hourly',
        every: n,
        from: Math.min(a, b),
        to: Math.max(a, b),
        days: on,
      })),
  )
  fc.assert(fc.property(some, (recur) => expect(readRecur(writeRecur(recur))).toEqual(recur)))
})

test('turning to weeks or months begins with the day it starts on', () => {
  expect(beginning('weekly', '2026-11-23T22:00', null)).toEqual({
    kind: 'weekly',
    every: 1,
    days: ['MO'],
    hours: [],
  })
  expect(beginning('weekly', '2026-11-29T22:00', null)).toMatchObject({ days: ['SU'] })
  expect(beginning('monthly', '2026-11-23T22:00', null)).toEqual({ kind: 'monthly', every: 1, day: 23 })
  expect(beginning('own', '2026-11-23T22:00', 'FREQ=WEEKLY')).toEqual({ kind: 'own', rule: 'FREQ=WEEKLY' })
})
