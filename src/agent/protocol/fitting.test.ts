import { fitting, TEXT_MOST } from './fitting'

test('texts are storable and end; how much is missing is said', () => {
  const long = 'x'.repeat(250_000)
  const { text, deep } = fitting({ text: long, deep: [{ 'a\0': 'b\0' }] }) as { text: string; deep: unknown }
  expect(text).toHaveLength(TEXT_MOST)
  expect(text.slice(-40)).toMatch(/x… and 230,029 more characters$/)
  expect(deep).toEqual([{ 'a␀': 'b␀' }])
})
test('an emoji at the cut is not halved', () => {
  const cut = fitting('😀'.repeat(20_000))
  expect(cut.slice(0, 4) + cut.slice(-34)).toMatch(/^😀+�?… and/u)
  expect(Buffer.from(cut).toString() === cut).toBe(true)
})
test('what is within bounds stays as it is', () => {
  const value = { a: 'b', n: 1, none: null, yes: true, list: ['x'] }
  expect(fitting(value)).toEqual(value)
})
