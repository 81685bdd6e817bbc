import fc from 'fast-check'
import { calculate, calculationProblem } from './calculations'
import { isCalculation, namesInCalculation } from './calculation-names'
import { parseDefinition } from './files'
import { fill, referencesIn, type Scope } from './values'

const tables = {
  names: { fare: '24.50', party: '3', reference: 'FSF-77', empty: '' },
  row: { passengers: '2', 'arrival-port': 'Tolva' },
  env: { browser: 'Chromium' },
  run: { build: '2026.11' },
}
const scope: Scope = { ...tables, secret: { PIN: '4711' }, calculate }
const worked = (written: string) => fill(`\${${written}}`, scope)

test.each([
  ['number(fare) * 2', '49'],
  ['number(fare)*int(party)', '73.5'],
  ['int(row.passengers) + 1', '3'],
  ['7 / 2', '3'],
  ['7 / 2.0', '3.5'],
  ['7 % 4', '3'],
  ['number("0.1") + number("0.2")', '0.3'],
  ['fixed(number(fare) * 1.1, 2)', '26.95'],
  ['fixed(number("1.005"), 2)', '1.01'],
  ['fixed(2.0, 2)', '2.00'],
  ['round(number("-2.5"))', '-3'],
  ['round(number(fare) / 7, 3)', '3.5'],
  ['floor(number(fare))', '24'],
  ['ceil(number(fare))', '25'],
  ['-number(fare)', '-24.5'],
  ['reference + "-" + party', 'FSF-77-3'],
  ['reference+"x"', 'FSF-77x'],
  ['reference.lowerAscii()', 'fsf-77'],
  ['reference.substring(0, 3)', 'FSF'],
  ['reference.split("-")[1]', '77'],
  ['reference.replace("-", "")', 'FSF77'],
  ['size(reference)', '6'],
  ['int(party) > 2 ? "a group" : "a party"', 'a group'],
  ['empty == "" || party in ["1", "2"]', 'true'],
  ['row["arrival-port"] + "!"', 'Tolva!'],
  ["env.browser + ' of ' + run.build", 'Chromium of 2026.11'],
])('%s is %s', (written, result) => expect(worked(written)).toBe(result))

test.each([
  ['number(reference)', '“FSF-77” is no number'],
  ['number(empty) + 1', '“” is no number'],
  ['int(party) / 0', 'divided by 0'],
  ['number(fare) / 0.0', 'divided by 0'],
  ['int(fare)', 'cannot be made a whole number'],
  ['fixed(1.0, 99)', 'there are 0 to 12 decimals'],
  ['reference.substring(50)', 'beyond the end of the text'],
  ['[1, 2]', 'neither a text nor a number'],
  ['9223372036854775807 + 1', 'too large'],
])('%s cannot be carried out: %s', (written, why) => expect(() => worked(written)).toThrow(why))

test.each([
  ['fare * 2', 'values are texts: write number(…)'],
  ['number(fare) +', 'ends too early'],
  ['fare.shout()', 'there is no “shout” for these values'],
  ['[1, 2].map(x, x * 2)', '“map” cannot be used here'],
  ['fare.matches("(a+)+$")', '“matches” cannot be used here'],
  ['secret.PIN + "1"', 'a secret cannot be calculated with'],
  ['secret["PIN"] + "1"', 'a secret cannot be calculated with'],
  ['(((', 'ends too early'],
  [`${'('.repeat(200)}1${')'.repeat(200)}`, 'it is too long'],
])('%s is refused where it is written: %s', (written, why) => {
  expect(calculationProblem(written)).toContain(why)
  const { problems } = parseDefinition(
    'a.case.yaml',
    `case: a\ntitle: A\nsteps:\n  - open: booking:/\n  - note: '\${${written.replaceAll("'", "''")}}'\n`,
  )
  expect(problems).toMatchObject([
    { line: 5, field: 'steps.1.note', message: expect.stringContaining(why) as string },
  ])
})

test('a value that is not there is named, as everywhere', () => {
  expect(() => worked('number(gone) * 2')).toThrow('${gone} is not known here')
  expect(() => worked('row.gone + "x"')).toThrow('${row.gone} is not known here')
})

test('a calculation refers to the values in it, and to nothing in its texts', () => {
  expect(
    referencesIn({ a: '${number(row.fare) * int(party)}', b: ['${row[\'a b\'] + "row.no" + env.os}'] }),
  ).toEqual(['row.fare', 'party', 'row.a b', 'env.os'])
  expect(namesInCalculation('fare.size() > 2 ? true : reference.split("-")[0] == row.port.trim()')).toEqual([
    'fare',
    'reference',
    'row.port',
  ])
})

test.each([
  ['fare'],
  ['row.passengers'],
  ['row.arrival-port'],
  ['row.full name'],
  ['row.Fare (EUR)'],
  ['row.From/To'],
  ['fake.number(1,9)'],
  ["date(+3d, 'yyyy-MM-dd')"],
  ['secret.PIN'],
])('%s is a name, not a calculation', (written) => expect(isCalculation(written)).toBe(false))

test('whatever is written takes no time, throws nothing else, and never shows a secret', () => {
  const part = fc.constantFrom(
    ...[
      'number(',
      'fare',
      'row.passengers',
      'secret.PIN',
      ' + ',
      ' * ',
      '(',
      ')',
      '"x"',
      '[',
      ']',
      '?',
      ':',
      '1',
      '.',
      ',',
    ],
    ...['.map(', 'size(', '==', '{', '\\', 'π', ' in ', 'true', '-'],
  )
  fc.assert(
    fc.property(fc.array(part, { maxLength: 30 }), (parts) => {
      const written = parts.join('').replaceAll('}', '')
      try {
        if (isCalculation(written)) expect(worked(written)).not.toContain('4711')
      } catch (error) {
        expect((error as Error).constructor.name).toMatch(/CalculationFault|UnknownReference/)
      }
    }),
    { numRuns: 500 },
  )
})

test('a text is never made longer than it may be', () => {
  const long = 'x'.repeat(9000)
  const all = { ...tables, names: { long } }
  expect(() => calculate('long + long', all)).toThrow('the text gets too long')
  expect(() => calculate('long.replace("x", long)', all)).toThrow('the text gets too long')
  expect(() => calculate('long + "x"', { ...all, names: { long: long + long } })).toThrow('longer than 10000')
})
