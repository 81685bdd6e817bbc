/** Rules that are followed from later on, and not for ever. */
import fc from 'fast-check'
import { Frequency, RRule, type Options } from 'rrule'
import { TooMany } from './too-many'
import { wallTimes } from './wall-times'

const DAY_MS = 86_400_000
const at = (text: string) => Date.parse(`${text}Z`)
const numbers = (to: number) => Array.from({ length: to }, (_, i) => i)

const some = (from: number, to: number) =>
  fc.option(fc.uniqueArray(fc.integer({ min: from, max: to }), { minLength: 1, maxLength: 3 }), {
    nil: undefined,
  })
const rules = fc.record({
  freq: fc.constantFrom(Frequency.YEARLY, Frequency.MONTHLY, Frequency.WEEKLY, Frequency.DAILY),
  interval: fc.integer({ min: 1, max: 5 }),
  wkst: fc.constantFrom(RRule.MO, RRule.SU),
  bymonth: some(1, 12),
  bymonthday: some(-3, 28).map((days) => days?.filter((day) => day !== 0)),
  byweekday: fc.option(fc.constantFrom([RRule.MO, RRule.SA], [RRule.TH], [RRule.FR.nth(-1)]), {
    nil: undefined,
  }),
  bysetpos: fc.option(fc.constantFrom([1], [-1]), { nil: undefined }),
  byhour: some(0, 23),
  count: fc.option(fc.integer({ min: 1, max: 40 }), { nil: undefined, freq: 3 }),
})
const starts = fc.integer({ min: at('1996-01-01T00:00:00') / 1000, max: at('2026-01-01T00:00:00') / 1000 })

/** A rule without the parts that it does not have. */
const withoutNothing = (options: object): Partial<Options> =>
  Object.fromEntries(
    Object.entries(options).filter(([, value]) => value !== undefined && value?.length !== 0),
  )

test('from a later period on a rule gives what it gives from its start on', () => {
  fc.assert(
    fc.property(
      rules,
      starts,
      fc.oneof(fc.integer({ min: 0, max: 400 }), fc.integer({ min: 0, max: 9000 })),
      (given, startSeconds, daysLater) => {
        const start = startSeconds * 1000
        const options = withoutNothing(given)
        // of what never comes the library by itself does not come to an end
        fc.pre(!options.bymonthday || !options.byweekday)
        const [from, to] = [start + daysLater * DAY_MS, start + (daysLater + 400) * DAY_MS]
        const whole = new RRule({ ...options, dtstart: new Date(start), until: new Date(to) }, true)
        const expected = whole.between(new Date(from), new Date(to), true).map((date) => date.getTime())
        expect(wallTimes(options, start, from, to)).toEqual(expected)
      },
    ),
    { numRuns: 50 },
  )
})

const never: [string, Partial<Options>][] = [
  ['day by day', { freq: Frequency.DAILY, bymonth: 2, bymonthday: 30 }],
  ['week by week', { freq: Frequency.WEEKLY, bymonth: 2, bymonthday: 30 }],
  ['month by month', { freq: Frequency.MONTHLY, bymonth: 2, bymonthday: 30 }],
  ['year by year', { freq: Frequency.YEARLY, bymonth: 2, bymonthday: 30 }],
]
test.each(never)('what never comes is looked for until the end of what is asked for, %s', (_, options) => {
  const start = at('2020-02-29T08:00:00')
  expect(wallTimes(options, start, start, start + 800 * DAY_MS)).toEqual([])
})

test('of the last year that is asked for all is found', () => {
  const monthly = { freq: Frequency.YEARLY, bymonthday: 1 }
  const [start, to] = [at('2020-12-31T08:00:00'), at('2022-06-30T00:00:00')]
  expect(wallTimes(monthly, start, start, to)).toHaveLength(18)
})

test('what is seldom is found', () => {
  const leap = { freq: Frequency.YEARLY, bymonth: 2, bymonthday: 29 }
  const [start, from, to] = [at('1904-02-29T08:00:00'), at('2025-01-01T00:00:00'), at('2033-01-01T00:00:00')]
  expect(wallTimes(leap, start, from, to)).toEqual([at('2028-02-29T08:00:00'), at('2032-02-29T08:00:00')])
})

test.each<[string, Partial<Options>, string]>([
  ['each second of each day', { freq: Frequency.DAILY }, '2026-01-01T00:00:00'],
  ['each second of each day, from long ago', { freq: Frequency.DAILY }, '1000-01-01T00:00:00'],
  [
    'each second of a year, at once',
    { freq: Frequency.YEARLY, byweekday: [0, 1, 2, 3, 4, 5, 6] },
    '1000-01-01T00:00:00',
  ],
])('%s is more than anybody could plan', (_, options, start) => {
  const all = { ...options, byhour: numbers(24), byminute: numbers(60), bysecond: numbers(60) }
  expect(() => wallTimes(all, at(start), at('2026-01-01T00:00:00'), at('2027-01-01T00:00:00'))).toThrow(
    TooMany,
  )
})
