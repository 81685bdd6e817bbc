/** Local times against what the database of zones says of each instant by itself. */
import fc from 'fast-check'
import { IANAZone } from 'luxon'
import { Zone } from './local-time'

const ZONES = [
  'Europe/Lisbon',
  'America/St_Johns',
  'Australia/Lord_Howe',
  'Africa/Casablanca',
  'Asia/Kathmandu',
]
const [FIRST, LAST] = [Date.UTC(1985, 0, 1), Date.UTC(2037, 0, 1)]

test.each(ZONES)('the wall of %s shows what it shows at each instant', (name) => {
  const [zone, exact] = [Zone.named(name)!, IANAZone.create(name)]
  fc.assert(
    fc.property(fc.integer({ min: FIRST, max: LAST }), (instant) => {
      expect(zone.wallOf(instant)).toBe(instant + Math.round(exact.offset(instant) * 60_000))
    }),
  )
})

test('to the millisecond, on days when the clock changes', () => {
  const zone = Zone.named('Europe/Lisbon')!
  const spring = Date.UTC(2026, 2, 29, 1)
  expect([-1, 0].map((ms) => zone.wallOf(spring + ms) - spring - ms)).toEqual([0, 3_600_000])
  const autumn = Date.UTC(2026, 9, 25, 1)
  expect([-1, 0].map((ms) => zone.wallOf(autumn + ms) - autumn - ms)).toEqual([3_600_000, 0])
})
