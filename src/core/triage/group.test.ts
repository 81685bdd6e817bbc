import { group, signatureOf, type GroupedFailure } from '.'
import { adjustedRand, labelled, OTHERS, SERVICES, WEB } from './testing/failures'

const sign = (message: string, stack?: string, kind = 'check') =>
  signatureOf({ kind, message, ...(stack !== undefined && { stack }) }).signature
const groupOf = (failures: GroupedFailure[]) => {
  const of = new Map<string, string>()
  for (const { signature, members } of group({ failures })) for (const id of members) of.set(id, signature)
  return of
}

describe.each([
  ['web interfaces', WEB],
  ['services in several languages', SERVICES],
  ['other programs', OTHERS],
  ['all together', [...WEB, ...SERVICES, ...OTHERS]],
])('failures of %s', (_, causes) => {
  test.each([1, 2, 3])('are told apart by their cause, %s', (seed) => {
    const all = labelled(causes, 10, seed)
    const of = groupOf(all.map(({ failure }) => failure))
    const index = adjustedRand(
      all.map(({ cause }) => cause),
      all.map(({ failure }) => of.get(failure.id)!),
    )
    expect(index).toBeGreaterThanOrEqual(0.95)
  })
})

describe('what never tells causes apart', () => {
  test.each([
    ['numbers', 'seat 41 of 40', 'seat 7 of 2'],
    ['locale of numbers', 'paid 1,234.50 and not 3', 'paid 1.234,50 and not 3'],
    ['dates', 'no sailing on 2026-12-14', 'no sailing on 14. Dezember 2026'],
    ['dates in words', 'no sailing on Dec 14, 2026', 'no sailing on 3 March 2027'],
    ['times', 'closed at 10:41', 'closed at 9:05 pm'],
    ['durations', 'gave up after 30 s', 'gave up after 30000 ms'],
    ['addresses', 'cannot reach 10.0.0.7:5432', 'cannot reach db-2.ferry.internal:6432'],
    ['links', 'GET https://a.invalid/x?y=1 hangs', 'GET http://b.invalid:81/z hangs'],
    ['paths', 'cannot read /srv/a/b.csv', 'cannot read C:\\data\\c.csv'],
    ['references', 'booking FS-40121 is gone', 'booking FS-99 is gone'],
    ['generated ids', 'order 3f2a9c1b-7d2e-4a1b-9c3d-001122334455 is gone', 'order 0x3fa9 is gone'],
    ['retries', 'gave up (attempt 1 of 3)', 'gave up (attempt 3 of 3)'],
    ['log prefixes', '2026-11-29 10:41:02,123 ERROR [worker-3] desk.Bookings - it is full', 'it is full'],
    ['colours of terminals', '\u001b[31mit is full\u001b[0m', 'it is full'],
    ['lists', 'ports [Tolva, Skerrow] are closed', 'ports [Tolva] are closed'],
    ['plural', 'there was 1 passenger', 'there were 12 passengers'],
    ['quoted data', 'no port “Tolva”', 'no port "Maren Quay"'],
    ['what was cut off', 'it says "Because of the storm', 'it says "Because of the"'],
    ['what was expected', 'total: expected 86.40, found 86.39', 'total: expected twelve, found lots'],
  ])('%s', (_, one, other) => {
    expect(sign(one)).toBe(sign(other))
  })

  test('case, step, address and console are context', () => {
    const failure = { kind: 'check', message: 'it is full' }
    const all = [
      { id: '1', ...failure, case: 'a', step: 'main.1', url: 'http://x/', console: ['x'] },
      { id: '2', ...failure, case: 'b', step: 'main.2', url: 'http://y/', console: [] },
    ]
    expect(group({ failures: all }).map(({ members }) => members)).toEqual([['1', '2']])
  })
})

describe('what tells causes apart', () => {
  test.each([
    ['status codes', 'answered with 500', 'answered with 503'],
    ['words of status codes', '404 Not Found', '409 Conflict'],
    ['error types', 'KeyError: x is bad', 'ValueError: x is bad'],
    ['names of buttons', 'button "Pay now" is covered', 'button "Keep" is covered'],
    ['names before the word', 'the "Pay now" button is covered', 'the "Keep" button is covered'],
    ['columns', 'column "a" does not exist', 'column "b" does not exist'],
    ['constraints', 'violates check constraint "seats"', 'violates check constraint "length"'],
    ['undefined and null', 'expected 3, found undefined', 'expected 3, found null'],
    ['the property compared', 'fare: expected 3, found 2', 'party: expected 3, found 2'],
    ['not', 'the notice is visible', 'the notice is not visible'],
  ])('%s', (_, one, other) => {
    expect(sign(one)).not.toBe(sign(other))
  })

  test('the kind, and the first frame of its own', () => {
    expect(sign('it is full', '', 'check')).not.toBe(sign('it is full', '', 'page'))
    const at = (fn: string) =>
      `Error: it is full\n    at run (https://x/node_modules/a.js:1:2)\n    at ${fn} (https://x/app.js:3:4)`
    expect(sign('it is full', at('Deck.draw'))).not.toBe(sign('it is full', at('Fare.add')))
    expect(sign('it is full', at('Deck.draw'))).toBe(sign('it is full', 'draw@https://y/app.3f2a9.js:9:9'))
  })

  test('the deepest cause, and not what it was wrapped in', () => {
    const wrapped = (cause: string) =>
      `desk.Failed: cannot book\n\tat desk.Book.save(Book.java:3)\nCaused by: ${cause}\n\tat ` +
      `desk.Store.put(Store.java:9)\n\t... 12 more`
    expect(sign('cannot book', wrapped('io.Full: it is full'))).not.toBe(
      sign('cannot book', wrapped('io.Away: it is away')),
    )
  })
})

test('groups are the same in any order, and stay as they are when more comes', () => {
  const all = labelled([...WEB, ...SERVICES], 4, 9).map(({ failure }) => failure)
  const before = groupOf(all)
  expect(groupOf(all.toReversed())).toEqual(before)
  const more = [...all, { id: 'new', kind: 'check', message: 'something new' }]
  for (const [id, signature] of groupOf(more)) if (id !== 'new') expect(signature).toBe(before.get(id))
})

test('the largest comes first, members as they came; what is known is named', () => {
  const failure = (id: string, message: string) => ({ id, kind: 'check', message })
  const failures = [failure('a', 'one'), failure('b', 'two 2'), failure('c', 'two 3')]
  const known = [{ signature: sign('one'), id: 'defect-7' }]
  expect(group({ failures, known })).toEqual([
    { signature: sign('two 9'), title: 'two …', members: ['b', 'c'] },
    { signature: sign('one'), title: 'one', members: ['a'], known: 'defect-7' },
  ])
  expect(() => group({ failures: [...failures, failure('a', 'x')] })).toThrow('failures/3/id')
  expect(group({ failures: [] })).toEqual([])
})

describe('awkward data', () => {
  test('of 2 MB, of noise, of nothing', () => {
    const noise = Array.from({ length: 5000 }, (_, i) => String.fromCharCode((i * 7919) % 65_536)).join('')
    for (const message of [
      'x '.repeat(1_000_000),
      '['.repeat(100_000),
      '"'.repeat(99_999),
      noise,
      '',
      '\n\n',
      '{'.repeat(50_000),
      ...[
        'a.',
        'a-',
        '(.',
        ' [',
        'a/',
        '1.',
        '<n>,',
        "'a",
        'at (',
        '    at x.(',
        'caused by:\n',
        'File "',
      ].map((part) => part.repeat(200_000)),
    ]) {
      const { signature, title } = signatureOf({ kind: 'page', message })
      expect(signature.length).toBeLessThan(450)
      expect(title.length).toBeGreaterThan(0)
    }
  })

  test('a stack of 10,000 frames ends at its own frame', () => {
    const frame = '    at next (https://x/node_modules/lib.js:1:2)\n'
    const stack = `Error: too deep\n${frame.repeat(10_000)}    at Deck.draw (https://x/app.js:3:4)`
    expect(sign('too deep', stack)).toBe(sign('too deep', 'draw@https://x/app.js:3:4'))
  })

  test('five thousand failures of one lost agent are one group', () => {
    const failures = Array.from({ length: 5000 }, (_, i) => ({
      id: String(i),
      kind: 'agent',
      message: `agent maren-04 said nothing for ${30 + (i % 9)} s`,
    }))
    expect(group({ failures })).toHaveLength(1)
  })
})
