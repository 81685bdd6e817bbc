/** What holds for every verb of the registry, whichever it is. */
import { FILE_SCHEMAS, parseDefinition } from '../files'
import { editSource } from '../edit'
import { writeDefinition } from '../write'
import { stepsOfCase } from '../walk'
import type { TestCase } from '../types'
import {
  changesPage,
  describeStep,
  fieldsOf,
  isOnScreen,
  newStep,
  readStep,
  targetsOf,
  VERB_NAMES,
} from './index'

const caseWith = (step: object) => {
  const source = JSON.stringify({ case: 'c', title: 'C', steps: [step] }) // JSON is YAML
  const { definition, problems } = parseDefinition('c.case.yaml', source)
  expect(problems).toEqual([])
  return definition as TestCase
}
const schemaOfSteps = (
  FILE_SCHEMAS.case as unknown as { definitions: { step: { properties: Record<string, unknown> } } }
).definitions.step.properties

describe.each(VERB_NAMES)('%s', (verb) => {
  test('a new step of it is good, is read as that verb, and is written as it was', () => {
    const read = caseWith(newStep(verb))
    expect(read.steps[0]!.verb).toBe(verb)
    const again = parseDefinition('c.case.yaml', writeDefinition(read)).definition as TestCase
    expect(stripLines(again)).toEqual(stripLines(read))
  })
  test('a new step of it put into a file names nothing by an alias', () => {
    const source = 'case: c\ntitle: C\nsteps:\n  - note: first\n'
    const text = editSource(source, [{ do: 'insert', list: ['steps'], at: 1, values: [newStep(verb)] }])
    expect(text).not.toMatch(/[&*]a1/)
    expect(parseDefinition('c.case.yaml', text).problems).toEqual([])
  })
  test('its sentence says what it acts on', () => {
    const step = caseWith(newStep(verb)).steps[0]!
    const { object } = describeStep(step)
    expect(object).not.toBe('')
    expect([verb, '']).toContain(describeStep(step).verb)
  })
  test('each field of its form is one of the file', () => {
    for (const { path } of fieldsOf(verb)) {
      let schema: unknown = { properties: schemaOfSteps }
      for (const name of path) schema = (schema as { properties: Record<string, unknown> }).properties[name]
      expect(schema).toBeDefined()
    }
  })
  test('what it carries over from another step is kept', () => {
    const target = { testId: 'carried' }
    const from = caseWith({ click: { on: target } }).steps[0]!
    const step = caseWith(newStep(verb, from)).steps[0]!
    if (targetsOf(step).length > 0) expect(targetsOf(step)[0]).toEqual(target)
  })
})

const stripLines = (testCase: TestCase) =>
  JSON.parse(
    JSON.stringify(testCase, (name, value: unknown) => (name === 'line' ? undefined : value)),
  ) as unknown

test('an unknown verb is refused, and never read as another one', () => {
  const { problems } = parseDefinition(
    'c.case.yaml',
    'case: c\ntitle: C\nsteps:\n  - swipe: { on: { text: Go } }\n',
  )
  expect(problems.map(({ message }) => message).join('; ')).toContain('"swipe" is not known here')
  expect(() => readStep({ swipe: {} }, {}, () => [])).toThrow('no verb that is known: swipe')
})

test('a new step begins with the first application and database that there are', () => {
  const there = { applications: ['gate', 'desk'], databases: ['ferry'] }
  expect(newStep('open', undefined, there)).toEqual({ open: 'gate:/' })
  expect(newStep('call', undefined, there)).toMatchObject({ call: { url: 'gate:/' } })
  expect(newStep('query', undefined, there)).toMatchObject({ query: { database: 'ferry' } })
})

test('what changes the page is on the screen', () => {
  const steps = VERB_NAMES.flatMap((verb) => stepsOfCase(caseWith(newStep(verb))))
  for (const step of steps) if (changesPage(step)) expect(isOnScreen(step)).toBe(true)
  expect(VERB_NAMES.filter((verb) => isOnScreen(caseWith(newStep(verb)).steps[0]!)).sort()).toEqual(
    'check choose click drag go hover open press read scroll type upload wait window'.split(' '),
  )
})
