import { expressionProblem, findsExpression, pickedBy } from './expressions'

test.each([
  ['\\d{4}-\\d\\d', 'on 2026-11-29', true, 'found anywhere'],
  ['^\\d+$', 'a1', false, 'anchors hold'],
  ['(?i)storm', 'STORM notice', true, 'flags within'],
  ['\\p{L}+', 'é', true, 'classes of Unicode'],
  ['(?<port>Fennel|Sound)', 'to Sound', true, 'named groups'],
  ['\\u00e9', 'é', true, 'a character by its number, as JavaScript writes it'],
  ['\\u{1F6A2}', '🚢', true, 'the same beyond 16 bits'],
  ['\\\\u0041', '\\u0041', true, 'a backslash that is meant'],
  ['^.$', '🚢', true, 'one character, not two halves'],
])('/%s/ in “%s” is %s: %s', (pattern, text, found) => {
  expect(expressionProblem(pattern)).toBeUndefined()
  expect(findsExpression(pattern, text)).toBe(found)
})

test.each([
  ['(?=x)a', 'looks ahead'],
  ['(?<!x)a', 'looks ahead or behind'],
  ['(a)\\1', 'refers back'],
  ['(', 'not closed'],
  ['a)', 'not opened'],
  ['[a', 'not closed'],
  ['*', 'nothing before'],
  ['a{1001}', 'more than 1000'],
  ['(x{1,900}){1,1}y{900}z{900}', 'more than 2000'],
  ['(?:a?){900}', 'too large'],
])('/%s/ is refused in words, and never found', (pattern, words) => {
  expect(expressionProblem(pattern)).toContain(words)
  expect(findsExpression(pattern, 'aaa xxx')).toBe(false)
})

/** Steps that a backtracking matcher takes double with each letter; a linear one is through at once, or this
 * test never ends. */
test.each(['^(a+)+$', '(x+x+)+y', '^(a|aa)+$', '(.*a){12}b'])(
  '/%s/ does not run away on a long text',
  (pattern) => {
    expect(findsExpression(pattern, `${'a'.repeat(50_000)}!${'x'.repeat(40_000)}`)).toBe(false)
  },
)

test('only the first 100,000 characters are searched', () => {
  expect([
    findsExpression('b', `${'a'.repeat(99_999)}b`),
    findsExpression('b', `${'a'.repeat(100_000)}b`),
  ]).toEqual([true, false])
})

test.each<[string, string, string | undefined]>([
  ['FS-(\\d+)', 'booked as FS-104, FS-9', '104'],
  ['FS-\\d+', 'booked as FS-104', 'FS-104'],
  ['FS-(\\d+)?', 'FS-', undefined],
  ['FS-\\d+', 'not yet', undefined],
  ['(', 'FS-1', undefined],
])('%s picks of “%s”: %s', (pattern, text, picked) => expect(pickedBy(pattern, text)).toBe(picked))
