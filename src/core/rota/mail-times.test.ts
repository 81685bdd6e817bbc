import fc from 'fast-check'
import { DateTime } from 'luxon'
import { nextMailTime } from './mail-times'

const next = (after: string, time: string, weekday: number | null = null, zone = 'Europe/Berlin') =>
  DateTime.fromJSDate(nextMailTime({ weekday, time, zone }, new Date(after)), { zone }).toISO()

test.each([
  ['later today', '2026-11-30T05:00:00Z', '07:00', null, '2026-11-30T07:00:00.000+01:00'],
  [
    'at this very minute it was: tomorrow',
    '2026-11-30T06:00:00Z',
    '07:00',
    null,
    '2026-12-01T07:00:00.000+01:00',
  ],
  ['this Friday', '2026-11-30T05:00:00Z', '17:30', 5, '2026-12-04T17:30:00.000+01:00'],
  ['today is Monday, and it is over', '2026-11-30T12:00:00Z', '07:00', 1, '2026-12-07T07:00:00.000+01:00'],
  ['over the end of summer time', '2026-10-24T12:00:00Z', '07:00', null, '2026-10-25T07:00:00.000+01:00'],
  [
    'a time that is left out in spring',
    '2027-03-27T12:00:00Z',
    '02:30',
    null,
    '2027-03-28T03:30:00.000+02:00',
  ],
] as const)('%s', (_, after, time, weekday, at) => expect(next(after, time, weekday)).toBe(at))

test('it is after now, at this time of this day, and none between is left out', () => {
  const zone = fc.constantFrom('UTC', 'Europe/Berlin', 'America/St_Johns', 'Asia/Kolkata', 'Pacific/Apia')
  fc.assert(
    fc.property(
      fc.date({ min: new Date('2026-01-01'), max: new Date('2028-01-01'), noInvalidDate: true }),
      fc.integer({ min: 4, max: 23 }), // where no zone of these changes its clocks
      fc.integer({ min: 0, max: 59 }),
      fc.option(fc.integer({ min: 1, max: 7 })),
      zone,
      (after, hour, minute, weekday, place) => {
        const time = `${String(hour).padStart(2, '0')}:${String(minute).padStart(2, '0')}`
        const at = DateTime.fromJSDate(nextMailTime({ weekday, time, zone: place }, after), { zone: place })
        expect(at.toMillis()).toBeGreaterThan(after.getTime())
        expect(at.toFormat('HH:mm')).toBe(time)
        if (weekday !== null) expect(at.weekday).toBe(weekday)
        const before = at.minus(weekday === null ? { days: 1 } : { weeks: 1 })
        expect(before.toMillis()).toBeLessThanOrEqual(after.getTime())
      },
    ),
  )
})

test('a zone that is none is told', () =>
  expect(() => nextMailTime({ weekday: null, time: '07:00', zone: 'Mare/Nubium' }, new Date())).toThrow(
    'there is no time zone Mare/Nubium',
  ))
