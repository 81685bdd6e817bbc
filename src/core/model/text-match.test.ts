import { fitsText, type TextMatch } from './text-match'

test.each<[string, string, TextMatch | undefined, boolean]>([
  ['  Pay \n now ', 'Pay now', undefined, true],
  ['Pay now', 'pay now', undefined, false],
  ['Pay now (2)', 'Pay now', undefined, false],
  ['Pay now (2)', 'now', 'part', true],
  ['Pay now (2)', 'later', 'part', false],
  ['Seat 12 A', 'Seat * A', 'pattern', true],
  ['Seat 12 B', 'Seat * A', 'pattern', false],
  ['Seat A', 'Seat A*A', 'pattern', false],
  ['Seat 12 A, deck 3', 'Seat*A*', 'pattern', true],
  ['Seat 12', '*', 'pattern', true],
  ['', '*', 'pattern', true],
  ['1 of 2 of 3', '*of*of*', 'pattern', true],
  ['1 of 2', '*of*of*', 'pattern', false],
  ['a.b', 'a.b', 'pattern', true],
  ['axb', 'a.b', 'pattern', false],
])('“%s” and “%s”, %s: %s', (actual, wanted, match, fits) => {
  expect(fitsText(actual, wanted, match)).toBe(fits)
})

test('a pattern agrees with the regular expression that it stands for', () => {
  const letters = ['a', 'b', '*']
  const words = (length: number): string[] =>
    length === 0 ? [''] : words(length - 1).flatMap((word) => letters.map((letter) => word + letter))
  const texts = [0, 1, 2, 3, 4].flatMap(words).filter((text) => !text.includes('*'))
  for (const pattern of [0, 1, 2, 3, 4].flatMap(words)) {
    const expression = new RegExp(`^${pattern.replaceAll('*', '.*')}$`)
    for (const text of texts)
      expect([text, pattern, fitsText(text, pattern, 'pattern')]).toEqual([
        text,
        pattern,
        expression.test(text),
      ])
  }
})

test('a pattern made to be slow is not', () => {
  expect(fitsText('a'.repeat(100_000), `${'a*'.repeat(150)}b`, 'pattern')).toBe(false)
})
