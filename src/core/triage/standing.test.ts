import fc from 'fast-check'
import { splitSignature, type Split, type SplitFacts } from './splits'
import { standingGroups } from './standing'

const group = (signature: string, ...members: string[]) => ({ signature, title: `of ${signature}`, members })
const facts = (more: Partial<SplitFacts> = {}): SplitFacts => ({
  message: 'The gate stays shut',
  caseKey: 'board',
  environment: 'handset',
  agent: 'maren-01',
  ...more,
})
const none = () => facts()
const merged = (merges: Record<string, string>) => ({ merges, splits: [] })
const split = (id: number, of: string, more: Partial<Split> = {}): Split => ({
  id,
  signature: of,
  by: 'environment',
  value: 'tablet',
  words: 'on tablet',
  ...more,
})
/** Members whose number is even are on the tablet. */
const byNumber = (id: string) => facts({ environment: Number(id) % 2 === 0 ? 'tablet' : 'handset' })

test('groups that are taken for one are one, called as that is', () => {
  const groups = [group('a', '1', '2'), group('b', '3'), group('c', '4', '5', '6')]
  expect(standingGroups(groups, merged({ a: 'b' }), none)).toEqual([
    { signature: 'b', title: 'of b', members: ['1', '2', '3'] },
    group('c', '4', '5', '6'),
  ])
})
test('where what they are taken for has no failure, they are one all the same', () =>
  expect(standingGroups([group('a', '1'), group('b', '2')], merged({ a: 'z', b: 'z' }), none)).toEqual([
    { signature: 'z', title: 'of a', members: ['1', '2'] },
  ]))

test('a part is a group of its own, and says what it is', () =>
  expect(
    standingGroups([group('a', '1', '2', '3')], { merges: {}, splits: [split(7, 'a')] }, byNumber),
  ).toEqual([group('a', '1', '3'), { signature: 'a / 7', title: 'of a (on tablet)', members: ['2'] }]))

test.each([
  ['case', 'board', true],
  ['case', 'boar', false],
  ['agent', 'maren-01', true],
  ['environment', 'tablet', false],
  ['words', 'GATE stays', true],
  ['words', 'gate opens', false],
] as const)('told by %s %s: %s', (by, value, isPart) =>
  expect(
    standingGroups([group('a', '1')], { merges: {}, splits: [split(1, 'a', { by, value })] }, none)[0]!
      .signature,
  ).toBe(isPart ? 'a / 1' : 'a'),
)

test('of several rules that fit the oldest counts, and a part may be parted again', () => {
  const splits = [
    split(9, 'a / 2', { by: 'words', value: 'gate', words: 'that say “gate”' }),
    split(5, 'a'),
    split(2, 'a', { by: 'agent', value: 'maren-01', words: 'on maren-01' }),
  ]
  expect(standingGroups([group('a', '2')], { merges: {}, splits }, byNumber)).toEqual([
    { signature: 'a / 2 / 9', title: 'of a (on maren-01) (that say “gate”)', members: ['2'] },
  ])
})

test('a part is taken for another cause, or for what it was set apart of', () => {
  const groups = [group('a', '1', '2'), group('b', '3')]
  const into = (signature: string) =>
    standingGroups(groups, { merges: { 'a / 7': signature }, splits: [split(7, 'a')] }, byNumber)
  expect(into('b')).toEqual([{ signature: 'b', title: 'of b', members: ['2', '3'] }, group('a', '1')])
  expect(into('a')).toEqual(groups)
})

test('what is taken for a cause of which a part is set apart is parted as well', () =>
  expect(
    standingGroups([group('b', '2', '3')], { merges: { b: 'a' }, splits: [split(7, 'a')] }, byNumber),
  ).toMatchObject([
    { signature: 'a / 7', members: ['2'] },
    { signature: 'a', members: ['3'] },
  ]))

test('a signature of the length that is allowed has one of that length for its part', () => {
  const long = 'x'.repeat(400)
  expect(splitSignature({ id: 12345, signature: long }).length).toBeLessThanOrEqual(400)
  expect(splitSignature({ id: 1, signature: long })).not.toBe(splitSignature({ id: 2, signature: long }))
})

test('no member is lost or told twice, whatever the rules', () => {
  const name = fc.constantFrom('a', 'b', 'c', 'a / 1', 'b / 2', 'a / 1 / 3')
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.constantFrom('a', 'b', 'c', 'd', 'e')),
      fc.dictionary(name, name),
      fc.uniqueArray(fc.record({ id: fc.integer({ min: 1, max: 5 }), signature: name }), {
        selector: ({ id }) => id,
      }),
      (signatures, merges, parts) => {
        const groups = signatures.map((one, i) => group(one, `${2 * i}`, `${2 * i + 1}`))
        const splits = parts.map(({ id, signature }) => split(id, signature))
        const found = standingGroups(groups, { merges, splits }, byNumber)
        expect(found.flatMap(({ members }) => members).toSorted()).toEqual(
          groups.flatMap(({ members }) => members).toSorted(),
        )
        expect(new Set(found.map(({ signature }) => signature)).size).toBe(found.length)
      },
    ),
  )
})
