import fc from 'fast-check'
import { isStorable, storable, storableDeep, unstorableIn } from './storable'

test.each([
  ['a\0b', 'a␀b', 'NUL, which PostgreSQL cannot hold'],
  ['half \ud83d of one', 'half � of one', 'a first half alone'],
  ['\ude00 half', '� half', 'a second half alone'],
  ['\ud83d\ud83d\ude00', '�😀', 'a half before a whole one'],
  ['whole 😀', 'whole 😀', 'a whole one stays'],
  ['\x1b[31mred\x1b[0m', '␛[31mred␛[0m', 'terminal codes are seen, not obeyed'],
  ['tab\tline\r\nend', 'tab\tline\r\nend', 'white space stays'],
  ['\x7f \x9b', '␡ \\x9b', 'the controls above'],
  ['Ærø, Çeşme, 東京, עברית', 'Ærø, Çeşme, 東京, עברית', 'other scripts stay'],
])('%j becomes %j: %s', (text, expected) => expect(storable(text)).toBe(expected))

test('whatever a text holds, what comes out is well formed, and stays as it is the second time', () => {
  fc.assert(
    fc.property(
      fc.string({ unit: 'binary' }),
      fc.array(fc.integer({ min: 0, max: 0xffff })),
      (text, units) => {
        const made = storable(text + String.fromCharCode(...units))
        expect(isStorable(made)).toBe(true)
        expect(storable(made)).toBe(made)
        expect(Buffer.from(made, 'utf8').toString('utf8')).toBe(made)
      },
    ),
  )
})

test('every text of a value is made storable, names of fields too, and what is too deep is left out', () => {
  expect(storableDeep({ 'a\0': ['x\0', 1, null, { b: '\ud800' }] })).toEqual({
    'a␀': ['x␀', 1, null, { b: '�' }],
  })
  let deep: unknown = 'bottom'
  for (let i = 0; i < 100_000; i++) deep = [deep]
  expect(JSON.stringify(storableDeep(deep)).length).toBeLessThan(300)
})

test('what cannot be stored is told with its place', () => {
  expect(unstorableIn({ events: [{ text: 'fine' }, { text: 'a\0' }] })).toMatchObject({
    path: 'events.1.text',
  })
  expect(unstorableIn({ 'na\0me': 1 })).toMatchObject({ path: 'na␀me' })
  let deep: unknown = 1
  for (let i = 0; i < 100_000; i++) deep = { x: deep }
  expect(unstorableIn(deep)?.message).toContain('nested deeper')
  expect(unstorableIn({ a: ['b', { c: 'd' }, 1, null, true] })).toBeUndefined()
})
