import fc from 'fast-check'
import { mergedGroups, standsAs } from './merges'

const group = (signature: string, ...members: string[]) => ({ signature, title: `of ${signature}`, members })

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

test('groups that are taken for one are one, called as that is', () => {
  const groups = [group('a', '1', '2'), group('b', '3'), group('c', '4', '5', '6')]
  expect(mergedGroups(groups, { a: 'b' })).toEqual([
    { signature: 'b', title: 'of b', members: ['1', '2', '3'] },
    group('c', '4', '5', '6'),
  ])
})
test('where what they are taken for has no failure, they are one all the same', () =>
  expect(mergedGroups([group('a', '1'), group('b', '2')], { a: 'z', b: 'z' })).toEqual([
    { signature: 'z', title: 'of a', members: ['1', '2'] },
  ]))

test('no member is lost or told twice, whatever the rules', () =>
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.constantFrom('a', 'b', 'c', 'd', 'e')),
      fc.dictionary(fc.constantFrom('a', 'b', 'c', 'd', 'e'), fc.constantFrom('a', 'b', 'c', 'x')),
      (signatures, merges) => {
        const groups = signatures.map((one) => group(one, `${one}1`, `${one}2`))
        const members = mergedGroups(groups, merges).flatMap((one) => one.members)
        expect(members.toSorted()).toEqual(groups.flatMap((one) => one.members).toSorted())
      },
    ),
  ))
