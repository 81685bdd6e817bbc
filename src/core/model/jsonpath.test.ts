import fc from 'fast-check'
import { isJsonPath, valuesAt } from './jsonpath'

const SAILING = {
  ship: 'Ternholm',
  decks: [{ cars: 48 }, { cars: 120 }, {}],
  'crew on board': 9,
  'second-class': { 'fare in €': 12.5, empty: null },
}

test.each<[string, unknown[]]>([
  ['$', [SAILING]],
  ['$.ship', ['Ternholm']],
  ['$.decks[*].cars', [48, 120]],
  ['$.decks.*.cars', [48, 120]],
  ['$.decks[1].cars', [120]],
  ['$.decks[-2].cars', [120]],
  ['$.decks[9]', []],
  ['$.decks[-4]', []],
  ["$['crew on board']", [9]],
  ['$["crew on board"]', [9]],
  ['$.second-class["fare in €"]', [12.5]],
  ['$.second-class.empty', [null]],
  ['$.decks.cars', []],
  ['$.ship.length', []],
  ['$.constructor', []],
  ['$.decks.length', []],
  ['$[ 0 ]', []],
])('%s', (path, values) => {
  expect(valuesAt(SAILING, path)).toEqual(values)
})

test.each([
  '',
  'ship',
  '$ship',
  '$.',
  '$..ship',
  '$.decks[',
  '$.decks[1',
  "$['a",
  '$[a]',
  '$.a b',
  '$[1.5]',
  '$[?@.cars]',
  '$["\\x"]',
])('%j cannot be read', (path) => {
  expect(isJsonPath(path)).toBe(false)
  expect(valuesAt(SAILING, path)).toBeUndefined()
})

test.each(['\\"', '"', "'", "\\'", '\\', '\\\\"'])('the name %j is found in single quotes', (name) => {
  const quoted = name.replace(/[\\']/g, (sign) => `\\${sign}`)
  expect(valuesAt({ [name]: 1 }, `$['${quoted}']`)).toEqual([1])
})

test('any name is found by its quotes, whatever stands in it', () => {
  fc.assert(
    fc.property(fc.string(), fc.jsonValue(), (name, value) => {
      const json = Object.fromEntries([[name, value]])
      expect(valuesAt(json, `$[${JSON.stringify(name)}]`)).toEqual([value])
      const single = JSON.stringify(name).slice(1, -1).replaceAll('\\"', '"').replaceAll("'", "\\'")
      expect(valuesAt(json, `$['${single}']`)).toEqual([value])
    }),
  )
})

test('no text of a path takes longer than it is long, and none throws', () => {
  fc.assert(
    fc.property(
      fc.string({ unit: fc.constantFrom('$', '.', '[', ']', '*', '"', "'", '\\', 'a', '1', '-') }),
      (text) => {
        expect(() => valuesAt([], `$${text}`)).not.toThrow()
      },
    ),
  )
  expect(isJsonPath(`$["${'\\'.repeat(100_000)}`)).toBe(false)
  expect(isJsonPath(`$${'.a'.repeat(50_000)}`)).toBe(true)
})
