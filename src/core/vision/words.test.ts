/** Texts among words that were read, and letters made ready for reading. */
import { lettering } from './lettering'
import { block, draw, words as written } from './testing/drawing'
import { findText, type ReadWord } from './words'

const word = (text: string, x: number, y = 10, sure = 0.9): ReadWord => ({
  text,
  x,
  y,
  w: text.length * 8,
  h: 12,
  sure,
})

test.each<[string, string[], string]>([
  ['one word', ['Pay', 'now'], 'now'],
  ['several', ['Find', 'sailings', 'today'], 'Find sailings'],
  ['capitals, accents and signs do not count', ['FÄHRE,', 'jetzt!'], 'fahre jetzt'],
  ['what is taken for something else', ['B0ok', 'lsland'], 'Book Island'],
  ['words that were joined', ['Findsailings'], 'Find sailings'],
  ['words that were parted', ['Timet', 'able'], 'Timetable'],
])('%s', (_, read, text) => {
  let x = 0
  const found = findText(
    read.map((one) => {
      const at = x
      x += one.length * 8 + 6
      return word(one, at)
    }),
    text,
  )
  expect(found).toHaveLength(1)
})

test('the box is that of all its words, and as sure as the least sure', () => {
  expect(findText([word('Pay', 10, 20, 0.9), word('now', 40, 22, 0.6)], 'pay now')).toEqual([
    { text: 'Pay now', x: 10, y: 20, w: 54, h: 14, sure: 0.6 },
  ])
})

test('words far apart, on another line or in another order are another text', () => {
  expect(findText([word('Pay', 0), word('now', 300)], 'Pay now')).toEqual([])
  expect(findText([word('Pay', 0, 10), word('now', 30, 40)], 'Pay now')).toEqual([])
  expect(findText([word('now', 0), word('Pay', 30)], 'Pay now')).toEqual([])
})

test('nothing is found for a text without letters, or among no words', () => {
  expect(findText([word('Pay', 0)], ' - ')).toEqual([])
  expect(findText([], 'Pay')).toEqual([])
  expect(findText([word('•', 0)], 'Pay')).toEqual([])
})

const ink = (
  { width, data }: { width: number; data: Float32Array },
  x: number,
  y: number,
  w: number,
  h: number,
) => {
  let dark = 0
  for (let v = y; v < y + h; v++) for (let u = x; u < x + w; u++) dark += Number(data[v * width + u]! < 128)
  return dark
}

test('light letters on a dark button and dark ones on a light page come out alike', async () => {
  const light = lettering(await draw(written(40, 60, 'Choose')))
  const button = lettering(
    await draw(block(20, 30, 140, 60, '#0b3e4a') + written(40, 60, 'Choose').replace('#202020', '#ffffff')),
  )
  const [one, other] = [ink(light, 40, 45, 70, 20), ink(button, 40, 45, 70, 20)]
  expect(one).toBeGreaterThan(100)
  expect(Math.abs(one - other) / one).toBeLessThan(0.25)
})

test('the lines of a box around letters are gone, and the letters stay', async () => {
  const boxed = lettering(
    await draw(
      '<rect x="20" y="30" width="120" height="60" fill="none" stroke="#000" ' +
        `stroke-width="2"/>${written(60, 66, 'C4')}`,
    ),
  )
  expect(ink(boxed, 18, 28, 124, 4)).toBeLessThan(8)
  expect(ink(boxed, 58, 50, 30, 20)).toBeGreaterThan(30)
})

test('a plain picture has no letters', async () => {
  const plain = lettering(await draw('', { width: 50, height: 30, ground: '#445566' }))
  expect(ink(plain, 0, 0, 50, 30)).toBe(0)
})
