import { boundedMatch, boundedMatches } from './bounded-match'

test.each([
  ['storm', 'A storm is coming', true, 'found anywhere'],
  ['^storm', 'A storm is coming', false, 'anchors hold'],
  ['Storm', 'a storm', false, 'case counts'],
  ['\\p{Lu}torm', 'Storm', true, 'flag u'],
  ['', 'anything', true, 'the empty expression is in every text'],
  ['(', '(', false, 'what is no expression is no match'],
  ['(a+)+$', `${'a'.repeat(50)}b`, false, 'what takes too long is no match'],
])('%s in %s: %s (%s)', (pattern, text, expected) => {
  expect(boundedMatch(pattern, text)).toBe(expected)
  expect(boundedMatches(pattern, [text])).toEqual([expected])
})

test('one slow text among many does not spoil the others', () => {
  const texts = Array.from({ length: 500 }, (_, i) => (i === 250 ? `${'a'.repeat(50)}b` : 'a'.repeat(i % 3)))
  expect(boundedMatches('^(a+)+$', texts)).toEqual(texts.map((text, i) => i !== 250 && text.length > 0))
})

test('a text is data: it never runs', () => expect(boundedMatch('x', '"); throw 1; ("x')).toBe(true))
