import { findOnScreens } from './on-screens'

const word = (text: string, x: number, y = 10) => ({ text, x, y, w: text.length * 8, h: 12, sure: 0.9 })
const SCREENS = [
  { hash: 'a', words: [word('Return', 0), word('fare', 56), word('86.40', 100)] },
  { hash: 'b', words: [word('No', 0), word('sailings', 24)] },
  { hash: 'c', words: [] },
]
const on = (text: string) => findOnScreens({ screens: SCREENS, text }).map(({ hash }) => hash)

test.each([
  ['return fare', ['a']],
  ['Sailings', ['b']],
  ['sail', ['b']],
  ['86.4', ['a']],
  ['fare sailings', []],
  ['', []],
  ['  ', []],
])('“%s” is on %j', (text, hashes) => expect(on(text)).toEqual(hashes))

test('where it stands is told, and of very many places the first ones', () => {
  expect(findOnScreens({ screens: SCREENS, text: 'return fare' })[0]!.boxes).toEqual([
    { x: 0, y: 10, w: 88, h: 12 },
  ])
  const many = Array.from({ length: 90 }, (_, i) => word('fare', 0, i * 20))
  expect(findOnScreens({ screens: [{ hash: 'm', words: many }], text: 'fare' })[0]!.boxes).toHaveLength(20)
})
