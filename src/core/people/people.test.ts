import {
  isPasswordWeakness,
  lookOf,
  nameProblem,
  passwordWeakness,
  WAIT_MOST_MS,
  waitAfter,
  waitLeft,
  wayBack,
} from '.'

test.each([
  ['/runs/7?step=main.0#x', '/runs/7?step=main.0#x'],
  ['/', '/'],
  ['', '/'],
  [undefined, '/'],
  ['//evil.invalid', '/'],
  ['/\\evil.invalid', '/'],
  ['/%09/evil.invalid', '/%09/evil.invalid'],
  ['/\t/evil.invalid', '/'],
  ['\t//evil.invalid', '/'],
  ['/\n/evil.invalid', '/'],
  ['https://evil.invalid/', '/'],
  ['https:evil.invalid', '/'],
  ['javascript:alert(1)', '/'],
  ['data:text/html,x', '/'],
  ['\\\\evil.invalid', '/'],
  ['/..//evil.invalid', '/'],
  ['/api/sign-out', '/'],
  ['/sign-in?to=/sign-in', '/'],
  ['runs/7', '/runs/7'],
])('after signing in, %j leads to %j', (asked, to) => {
  const way = wayBack(asked)
  expect(way).toBe(to)
  expect(new URL(way, 'https://oak.fennel-sound.invalid').host).toBe('oak.fennel-sound.invalid')
})

const known = [{ name: 'Wren Adeyemi', username: 'wren' }]
test.each([
  ['Isla Brandt', 'isla', undefined],
  ['Wren Adeyemi', 'isla', 'somebody else'],
  ['wren  adeyemi', 'isla', 'somebody else'],
  ['Wrén Adeyemi', 'isla', 'somebody else'],
  ['Wrеn Adeyemi', 'isla', 'somebody else'],
  ['W\u200bren Adeyemi', 'isla', 'control characters'],
  ['Isla', 'wren', 'somebody else'],
  ['Isla', 'w.ren', undefined],
  ['wren', 'isla', 'somebody else'],
  ['A signed message', 'isla', 'audit trail'],
  ['Isla', 'admin', 'audit trail'],
  ['Isla', 'Isla', 'small letters'],
  ['Isla', 'i', 'small letters'],
  ['Isla', '../isla', 'small letters'],
  ['', 'isla', '1 to 80'],
  ['<b>Isla</b>', 'isla', 'angle brackets'],
])('a person “%s”, signing in as “%s”: %s', (name, username, problem) => {
  const found = nameProblem({ name, username }, known)
  if (problem === undefined) expect(found).toBeUndefined()
  else expect(found).toContain(problem)
})
test('names that look the same are the same', () => expect(lookOf('Аda  Lоve')).toBe(lookOf('ada.love')))

test('the wait doubles with each failure, and ends at a quarter of an hour', () => {
  expect([4, 5, 6, 7, 10, 100].map((failures) => waitAfter(failures, 5))).toEqual([
    0,
    1000,
    2000,
    4000,
    32_000,
    WAIT_MOST_MS,
  ])
})
test.each([
  ['nothing failed', { pair: 0, address: 0, account: 0 }, false, 0],
  ['a few of one person', { pair: 4, address: 4, account: 4 }, false, 0],
  ['many of one person', { pair: 7, address: 7, account: 7 }, false, 4000],
  [
    'others tried this account from elsewhere: who comes from a new address waits',
    { pair: 0, address: 0, account: 52 },
    false,
    4000,
  ],
  ['who comes from where they always do does not', { pair: 0, address: 0, account: 52 }, true, 0],
  ['one address that tries everybody', { pair: 1, address: 22, account: 1 }, true, 4000],
])('%s', (_, counts, isKnown, expected) => {
  const ages = { pair: 0, address: 0, account: 0 }
  expect(waitLeft(counts, ages, isKnown)).toBe(expected)
  expect(waitLeft(counts, { pair: expected, address: expected, account: expected }, isKnown)).toBe(0)
})

test.each([
  ['a calm crossing', undefined],
  ['eleven-char', 'short'],
  ['twelve-chars', undefined],
  ['x'.repeat(128).replace('x', 'y'), undefined],
  ['x'.repeat(129), 'long'],
  ['PASSWORD1234', 'common'],
  ['............', 'common'],
  ['likes-ISLA-boats', 'named'],
  ['isla b. of tolva', 'named'],
])('the password “%s”: %s', (password, weakness) =>
  expect(passwordWeakness(password, { name: 'Isla B. of Tolva', username: 'isla' })).toBe(weakness),
)
test('only what is a weakness is one', () => {
  expect(['short', 'toString', 'constructor', '', undefined].map(isPasswordWeakness)).toEqual([
    true,
    false,
    false,
    false,
    false,
  ])
})
