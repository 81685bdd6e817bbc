import fc from 'fast-check'
import { readTypedDate, showDate } from './typed-dates'

test.each([
  ['2026-12-03', false, '2026-12-03'],
  ['  2026-12-03 ', false, '2026-12-03'],
  ['2028-02-29', false, '2028-02-29'],
  ['2026-12-03 16:00', true, '2026-12-03T16:00'],
  ['2026-12-03T16:00', true, '2026-12-03T16:00'],
  ['2026-12-03  6:05', true, '2026-12-03T06:05'],
] as const)('%j, with a time: %j, is %j', (text, withTime, iso) => {
  expect(readTypedDate(text, withTime)).toBe(iso)
})

test.each([
  ['', false],
  ['2026-12', false],
  ['2026-02-29', false],
  ['2026-13-01', false],
  ['2026-00-10', false],
  ['2026-04-31', false],
  ['03/12/2026', false],
  ['2026-12-03 16:00', false],
  ['2026-12-03', true],
  ['2026-12-03 24:00', true],
  ['2026-12-03 12:60', true],
  ['2026-12-0316:00', true],
  ['next Thursday', false],
])('%j, with a time: %j, is no date', (text, withTime) => {
  expect(readTypedDate(text, withTime)).toBeUndefined()
})

test('what a field shows is read as what it was', () => {
  const moments = fc.date({ noInvalidDate: true, min: new Date('1900-01-01'), max: new Date('2999-12-31') })
  fc.assert(
    fc.property(moments, fc.boolean(), (moment, withTime) => {
      const iso = moment.toISOString().slice(0, withTime ? 16 : 10)
      expect(readTypedDate(showDate(iso), withTime)).toBe(iso)
    }),
  )
})
