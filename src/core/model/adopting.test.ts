import fc from 'fast-check'
import {
  adoptionOf,
  parseDefinition,
  withAdopted,
  type Adoption,
  type FailedCheck,
  type Refusal,
} from './files'
import type { DataSet, Routine, TestCase } from '.'

const CASE = `case: fares
title: Fares
data: fares.csv
parameters:
  fare: "86.40"
  total: \${row.total}
  twice: \${fare}
steps:
  - check: { of: { testId: total }, text: { equals: "86.40" } } # the fare
  - check: { of: { testId: total }, text: { equals: Skerrow } }
  - check: { of: { testId: seats }, count: { equals: 3 } }
  - check: { of: { testId: total }, text: { near: { value: 86.4, within: 0.5 } } }
  - check: { of: { role: button, name: Pay }, state: enabled }
  - check: { url: { contains: /pay } }
  - check: { of: { testId: total }, text: { matches: "^\\\\d+$" } }
  - check: { of: { testId: total }, text: { equals: "\${fare}" } }
  - check: { of: { testId: total }, text: { equals: "\${twice}" } }
  - check: { of: { testId: total }, text: { equals: "\${total}" } }
  - check: { of: { testId: total }, text: { equals: "\${row.total}" } }
  - check: { of: { testId: total }, text: { equals: "£ \${fare}" } }
  - check: { of: { testId: total }, text: { equals: "\${seen}" } }
  - use: pay
    with: { amount: "12.00", place: "\${fare}" }
  - block: Again
    steps:
      - repeat: { times: 2 }
        steps:
          - check: { of: { testId: again }, text: { equals: yes } }
  - if: { visible: { testId: a } }
    steps:
      - note: one
      - check: { of: { testId: b }, text: { equals: B } }
    else:
      - check: { of: { testId: c }, text: { equals: C } }
      - check: { of: { testId: d }, text: { equals: D } }
  - click: { on: { text: Go } }
  - call:
      method: GET
      url: app:/fares
      expect: { status: 200, json: { $.fare: { equals: "86.40" }, $.seats: { equals: 3 }, "$.all[*].port": { equals: Tolva } } }
  - query:
      database: records
      sql: select count(*), port from fares
      expect: { rows: 1, value: { atLeast: 2 }, columns: { port: { equals: Skerrow } } }
undo:
  - check: { of: { testId: gone }, text: { equals: gone } }
`
const ROUTINE = `routine: pay
title: Pay
parameters: { amount: "1.00", place: Skerrow, rest: "0" }
steps:
  - check: { of: { testId: paid }, text: { equals: "\${amount}" } }
  - check: { of: { testId: at }, text: { equals: "\${place}" } }
  - check: { of: { testId: rest }, text: { equals: "\${rest}" } }
`
const TABLE = 'port,total\nSkerrow,86.40\nTolva,92.00\n'
const SOURCES: Record<string, string> = {
  'fares.case.yaml': CASE,
  'pay.routine.yaml': ROUTINE,
  'fares.csv': TABLE,
}

const parsed = (file: string, source: string) => {
  const { definition, problems } = parseDefinition(file, source)
  expect(problems).toEqual([])
  return definition!
}
const testCase = () => parsed('fares.case.yaml', CASE) as TestCase
const routine = () => parsed('pay.routine.yaml', ROUTINE) as Routine
const today = () => ({
  testCase: testCase(),
  routineOf: (key: string) => (key === 'pay' ? routine() : undefined),
})
const failed = (path: string, actual: string, more: Partial<FailedCheck> = {}): FailedCheck => ({
  path,
  role: '',
  actual,
  message: 'The text is not what was expected',
  testCase: testCase(),
  routines: [routine()],
  given: testCase().parameters,
  table: 'fares.csv',
  row: { index: 2, values: (parsed('fares.csv', TABLE) as DataSet).rows[1]! },
  ...more,
})
const adopt = (path: string, actual: string, more: Partial<FailedCheck> = {}): Adoption => {
  const found = adoptionOf(failed(path, actual, more), today())
  if ('why' in found) throw new Error(found.why)
  return found
}
const refusal = (path: string, actual: string, more: Partial<FailedCheck> = {}) =>
  (adoptionOf(failed(path, actual, more), today()) as Refusal).why
const fileOf = ({ file: { kind, key } }: Adoption) => (kind === 'data' ? key : `${key}.${kind}.yaml`)
/** The file with the adoption made, and what changed in it. */
const changed = (adoption: Adoption) => {
  const source = SOURCES[fileOf(adoption)]!
  const made = withAdopted(source, adoption.file, [adoption])
  const before = source.split('\n')
  return made.split('\n').filter((line, i) => line !== before[i])
}

test.each([
  ['main.0', '90.00', '  - check: { of: { testId: total }, text: { equals: "90.00" } } # the fare'],
  ['main.1', 'Tolva', '  - check: { of: { testId: total }, text: { equals: Tolva } }'],
  ['main.2', '4', '  - check: { of: { testId: seats }, count: { equals: 4 } }'],
  ['main.3', '£ 90.10', '  - check: { of: { testId: total }, text: { near: { value: 90.1, within: 0.5 } } }'],
  ['main.4', 'visible, disabled', '  - check: { of: { role: button, name: Pay }, state: disabled }'],
  ['main.5', 'http://127.0.0.1:4700/paid?ref=1', '  - check: { url: { contains: /paid?ref=1 } }'],
  ['main.7', '90.00', '  fare: "90.00"'],
  ['main.8', '90.00', '  fare: "90.00"'],
  ['main.9', '90.00', 'Tolva,90.00'],
  ['main.10', '90.00', 'Tolva,90.00'],
  ['main.13.0', '13.00', '    with: { amount: "13.00", place: "${fare}" }'],
  ['main.13.1', 'Tolva', '  fare: "Tolva"'],
  ['main.13.2', '1', 'parameters: { amount: "1.00", place: Skerrow, rest: "1" }'],
  ['main.14.0.1.0', 'no', '          - check: { of: { testId: again }, text: { equals: no } }'],
  ['main.15.0', 'X', '      - check: { of: { testId: c }, text: { equals: X } }'],
  ['undo.0', 'there', '  - check: { of: { testId: gone }, text: { equals: there } }'],
])('%s found “%s”: one line changes', (path, actual, line) => {
  expect(changed(adopt(path, actual))).toEqual([line])
})

test.each([
  ['main.17', 'The answer has another status', '201', 'expect: { status: 201,'],
  ['main.17', '$.fare is not as expected', '90.00', '$.fare: { equals: "90.00" }'],
  ['main.17', '$.seats is not as expected', '4', '$.seats: { equals: 4 }'],
  ['main.18', 'The number of rows is not as expected', '2', 'expect: { rows: 2,'],
  ['main.18', 'The value is not as expected', '1', 'value: { atLeast: 1 }'],
  ['main.18', '“port” is not as expected', 'Tolva', 'port: { equals: Tolva }'],
])('what a service or a database answered, %s: %s', (path, message, actual, part) => {
  const lines = changed(adopt(path, actual, { message }))
  expect(lines).toHaveLength(1)
  expect(lines[0]).toContain(part)
})
test.each([
  ['main.17', '$.all[*].port is not as expected', 'Skerrow', /^several values can stand there/],
  ['main.17', 'The answer is slow', '9', /^it does not say which/],
  ['main.18', 'The value is not as expected', 'no rows', /^there was nothing to compare/],
])('what cannot be told of %s, %s', (path, message, actual, why) =>
  expect(refusal(path, actual, { message })).toMatch(why),
)

test.each([
  ['main.0', 'no such element', 'there was nothing to compare'],
  ['main.0', 'it is ••••', 'what was found holds a secret'],
  ['main.0', 'x'.repeat(2001), 'what was found has more than 2000 characters'],
  ['main.3', 'none', 'what was found is no number'],
  ['main.4', 'visible, focused', 'it is neither enabled nor the opposite'],
  ['main.6', '12a', 'a pattern stands for many texts, and cannot be told from one'],
  ['main.11', '£ 90', '“£ ${fare}” is put together when the case runs'],
  ['main.12', 'x', '“seen” is worked out, or read, when the case runs'],
  ['main.15.1', 'x', 'both branches of its “if” have a check there'],
  ['main.16', 'x', 'the step compares nothing'],
  ['main.0~1', 'x', 'the step compares nothing'],
  ['main.99', 'x', 'the step compares nothing'],
])('%s with “%s” is refused: %s', (path, actual, why) => {
  expect(refusal(path, actual)).toBe(why)
})

test('a value that the suite gave, and a row nobody knows the table of, are refused', () => {
  expect(refusal('main.7', '1', { given: { fare: '2' } })).toBe(
    'its suite, or the start of its run, gave “fare”',
  )
  const { table: _, ...noTable } = failed('main.10', '1')
  expect((adoptionOf(noTable, today()) as Refusal).why).toBe('it cannot be told which table its row is of')
})

test('a check that was changed since is refused; one that only moved to another line is not', () => {
  const moved = parsed('fares.case.yaml', `# A note.\n${CASE}`) as TestCase
  expect(adoptionOf(failed('main.0', '90'), { ...today(), testCase: moved })).toMatchObject({ becomes: '90' })
  const other = parsed('fares.case.yaml', CASE.replace('"86.40" } } #', '"80.00" } } #')) as TestCase
  expect(adoptionOf(failed('main.0', '90'), { ...today(), testCase: other })).toEqual({
    why: 'the check was changed since, or is not there any more',
  })
  expect(adoptionOf(failed('main.0', '90'), { ...today(), testCase: undefined })).toMatchObject({
    why: expect.any(String) as string,
  })
})

test('several go into one file; a row that is not as it was leaves it as it is', () => {
  const two = [adopt('main.0', '1'), adopt('main.1', '2')]
  const made = withAdopted(CASE, two[0]!.file, two)
  expect(made).toContain('{ equals: "1" } } # the fare')
  expect(made).toContain('text: { equals: "2" } }')
  const cell = adopt('main.10', '1')
  expect(() => withAdopted('port,total\nSkerrow,1\n', cell.file, [cell])).toThrow('is not as it was')
})

test('whatever was found, the check that adopted it expects it', () => {
  fc.assert(
    fc.property(fc.string({ minLength: 1, maxLength: 60 }), (actual) => {
      const adoption = adopt('main.0', actual)
      const made = parsed('fares.case.yaml', withAdopted(CASE, adoption.file, [adoption])) as TestCase
      expect(made.steps[0]).toMatchObject({ matcher: { equals: actual } })
      expect(made.steps.slice(1).length).toBe(testCase().steps.length - 1)
    }),
  )
})
