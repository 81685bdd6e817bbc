import fc from 'fast-check'
import type { Step } from '../model'
import { generate } from '../model/generators'
import { offeredGenerators } from '.'

const TODAY = new Date(2026, 11, 1, 23, 30)
const type = (value: string): Step => ({ verb: 'type', in: { label: 'Date' }, value })
const offered = (value: string) => offeredGenerators(type(value), TODAY)

test.each<[string, string | undefined, string | undefined]>([
  ['2026-12-04', "date(+3d, 'yyyy-MM-dd')", '3 days after the day it is played'],
  ['2026-12-01', "date(+0d, 'yyyy-MM-dd')", 'the day it is played'],
  ['30/11/2026', "date(-1d, 'dd/MM/yyyy')", 'a day before the day it is played'],
  ['12/24/2026', "date(+23d, 'MM/dd/yyyy')", '23 days after the day it is played'],
  ['05.12.2026', "date(+4d, 'dd.MM.yyyy')", '4 days after the day it is played'],
  ['20261205', "date(+4d, 'yyyyMMdd')", '4 days after the day it is played'],
  ['1984-02-29', undefined, undefined], // a birthday stays
  ['2027-02-29', undefined, undefined], // no day
  ['isla@fennel-sound.invalid', 'fake.email', 'another address each time'],
  ['+44 555 010 2030', 'fake.phone', 'another number each time'],
  ['Isla Fenwick', 'fake.name', 'another name each time'],
  ['Tolva', undefined, undefined],
  ['2', undefined, undefined],
  ['${reference}', undefined, undefined],
  ['', undefined, undefined],
])('for %j: %s', (written, expression, words) => {
  expect(offered(written)).toEqual(expression === undefined ? [] : [{ expression, words }])
})

test('only of what is typed: a check has to know what it looks for', () => {
  const check: Step = {
    verb: 'check',
    of: { testId: 'date' },
    subject: 'text',
    matcher: { equals: '2026-12-04' },
    soft: false,
  }
  expect(offeredGenerators(check, TODAY)).toEqual([])
})

test('played on the same day, a date gives what was typed', () => {
  const days = fc.date({ min: new Date('2026-01-01'), max: new Date('2027-11-30'), noInvalidDate: true })
  fc.assert(
    fc.property(days, (day) => {
      const written = day.toISOString().slice(0, 10)
      const [first] = offered(written)
      expect(generate(first!.expression, 1, 'parameters', '2026-12-01T12:00:00Z')).toBe(written)
    }),
  )
})

test('any text has an answer', () => {
  fc.assert(fc.property(fc.string({ unit: 'binary' }), (text) => offered(text).length <= 1))
})
