import { standsAs } from './merges'

test.each([
  ['itself where there is no rule', 'a', {}, 'a'],
  ['what it is taken for', 'a', { a: 'b' }, 'b'],
  ['and what that is taken for', 'a', { a: 'b', b: 'c' }, 'c'],
  ['no name of the language', 'constructor', {}, 'constructor'],
])('a signature stands as %s', (_, signature, merges, expected) =>
  expect(standsAs(signature, merges)).toBe(expected),
)
test('rules in a circle have an end', () => {
  const merges = { a: 'b', b: 'c', c: 'a' }
  for (const one of ['a', 'b', 'c']) expect(['a', 'b', 'c']).toContain(standsAs(one, merges))
  expect(standsAs('a', { a: 'a' })).toBe('a')
})
