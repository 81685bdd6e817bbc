import fc from 'fast-check'
import {
  describeAgo,
  describeDuration,
  describeStep,
  fill,
  fillDeep,
  match,
  numberIn,
  durationText,
  parseDurationMs,
  sentenceText,
  UnknownReference,
  type Matcher,
  type Step,
} from '.'

const scope = {
  names: { port: 'Tolva', odd: '${port}' },
  row: { fare: '14.40' },
  env: { os: 'Debian' },
  run: { build: '1' },
}

describe('values', () => {
  test.each([
    ['${port} at ${row.fare}', 'Tolva at 14.40'],
    ['${ env.os }', 'Debian'],
    ['no reference', 'no reference'],
    ['$5 {x}', '$5 {x}'],
    ['${odd}', '${port}'], // what a value holds is not looked at again
  ])('%s becomes %s', (written, filled) => expect(fill(written, scope)).toBe(filled))
  test.each(['${gone}', '${row.gone}', '${other.x}', '${}', '${toString}', '${row.constructor}'])(
    '%s is named',
    (written) => expect(() => fill(written, scope)).toThrow(UnknownReference),
  )
  test('deep, leaving what is no text', () =>
    expect(fillDeep({ a: ['${port}', 1, null, true], b: { c: '${row.fare}' } }, scope)).toEqual({
      a: ['Tolva', 1, null, true],
      b: { c: '14.40' },
    }))
  test('property: text without references stays as it is', () =>
    fc.assert(
      fc.property(
        fc.string().filter((text) => !text.includes('${')),
        (text) => fill(text, scope) === text,
      ),
    ))
})

describe('matchers', () => {
  test.each<[string, Matcher, boolean, string]>([
    ['86.40', { equals: '86.40' }, true, 'same'],
    ['86.4', { equals: '86.40' }, false, 'text, not number'],
    ['  a \n b ', { equals: 'a b' }, true, 'white space is folded'],
    ['3', { equals: 3 }, true, 'a number is compared as it is written'],
    ['abc', { not: 'abd' }, true, ''],
    ['abc', { not: 'abc' }, false, ''],
    ['abc', { contains: 'b' }, true, ''],
    ['abc', { startsWith: 'b' }, false, ''],
    ['FS-40121', { matches: '^FS-\\d+$' }, true, ''],
    ['FS-', { matches: '^FS-\\d+$' }, false, ''],
    ['£ 1,234.50', { near: { value: 1234, within: 0.5 } }, true, 'the edge counts'],
    ['1.1', { near: { value: '1', within: '0.1' } }, true, 'no rounding fault at the edge'],
    ['1.2', { near: { value: 1, within: 0.1 } }, false, ''],
    ['5', { between: [5, 7] }, true, 'ends count'],
    ['8', { between: [5, 7] }, false, ''],
    ['12 kg', { atLeast: 12 }, true, ''],
    ['12 kg', { atMost: 11 }, false, ''],
    ['none', { atLeast: 0 }, false, 'no number is not zero'],
    ['', { empty: true }, true, ''],
    [' ', { empty: false }, false, ''],
    ['b', { oneOf: ['a', 'b'] }, true, ''],
    ['12', { atLeast: 10, atMost: 11 }, false, 'all parts must hold'],
  ])('%j against %j: %s %s', (actual, matcher, holds) => expect(match(actual, matcher).holds).toBe(holds))
  test('what was expected is said in words', () =>
    expect(match('', { contains: 'x', atLeast: 2 }).expected).toBe('contains x and at least 2'))
  test.each([
    ['-3.5 °', -3.5],
    ['1\u00a0234', 1234],
    ['x', NaN],
    ['12,000', 12_000],
  ])('the number in %j is %d', (text, number) => expect(numberIn(text)).toBe(number))
})

describe('durations', () => {
  test.each<[string | number, number | undefined]>([
    ['500ms', 500],
    ['1.5s', 1500],
    ['2m', 120_000],
    ['1h', 3_600_000],
    ['1h30m', 5_400_000],
    ['1 h 30 min', 5_400_000],
    ['90 s', 90_000],
    ['2 min', 120_000],
    [' 3s ', 3000],
    [250, 250],
    ['1h soon', undefined],
    ['30', undefined],
    ['1h30', undefined],
    ['', undefined],
    ['soon', undefined],
    ['-1s', undefined],
    [-1, undefined],
  ])('%s is %s ms', (written, ms) => expect(parseDurationMs(written)).toBe(ms))
  test.each([0, 1, 999, 1000, 90_000, 120_000, 5_400_000, 7_200_000, 3_630_000])(
    '%d ms written is read as the same',
    (ms) => expect(parseDurationMs(durationText(ms))).toBe(ms),
  )
  test.each([
    [300, '0.3 s'],
    [9_949, '9.9 s'],
    [9_950, '10 s'],
    [59_400, '59 s'],
    [60_000, '1 min'],
    [125_000, '2 min 5 s'],
    [1_500_000, '25 min'],
    [5_400_000, '1 h 30 min'],
    [7_200_000, '2 h'],
  ])('%d ms reads %s', (ms, words) => expect(describeDuration(ms)).toBe(words))

  const [MINUTE, HOUR, DAY] = [60_000, 3_600_000, 86_400_000]
  test.each([
    [-5_000, 'just now'],
    [59_999, 'just now'],
    [MINUTE, '1 min ago'],
    [59 * MINUTE + 59_000, '59 min ago'],
    [HOUR, '1 h ago'],
    [4 * HOUR + 43 * MINUTE, '4 h 43 min ago'],
    [DAY - 1, '23 h 59 min ago'],
    [DAY, '1 day ago'],
    [30 * DAY, '30 days ago'],
    [31 * DAY, '1 month ago'],
    [364 * DAY, '11 months ago'],
    [366 * DAY, '1 year ago'],
    [800 * DAY, '2 years ago'],
  ])('%d ms are %s', (ms, words) => expect(describeAgo(ms)).toBe(words))
})

test.each<[Step, string]>([
  [{ verb: 'click', on: { role: 'button', name: 'Pay now' } }, 'click Pay now'],
  [{ verb: 'type', in: { label: 'Amount' }, value: '${row.amount}' }, 'type Amount ${row.amount}'],
  [
    {
      verb: 'check',
      of: { testId: 'fare-total' },
      subject: 'text',
      matcher: { equals: '86.40' },
      soft: false,
    },
    'check fare total equals 86.40',
  ],
  [
    { verb: 'check', subject: 'url', matcher: { contains: '/done' }, soft: true },
    'check address contains /done, goes on if not',
  ],
  [
    { verb: 'check', of: { role: 'row' }, subject: 'count', matcher: { atLeast: 2 }, soft: false },
    'check row count at least 2',
  ],
  [{ verb: 'use', routine: 'pay-by-card', with: { card: '1' } }, 'use pay by card card 1'],
  [{ verb: 'wait', state: 'visible', timeMs: 2000 }, 'wait 2.0 s'],
  [{ verb: 'open', address: 'booking:/pay' }, 'open booking /pay'],
  [{ verb: 'repeat', times: 3, steps: [] }, 'repeat 3 times'],
])('a step reads as a sentence: %#', (step, words) => expect(sentenceText(describeStep(step))).toBe(words))
