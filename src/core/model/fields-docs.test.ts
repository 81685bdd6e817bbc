/** docs/formats/fields.md against the schemas and the parser: a row for every field, no row for none, and
 * every example parses. */
import { readFileSync } from 'node:fs'
import { FILE_SCHEMAS, parseDefinition } from './files'

type Schema = { properties?: Record<string, Schema>; $ref?: string; items?: Schema }
type Row = { section: string; field: string; example: string }

const rows: Row[] = readFileSync('docs/formats/fields.md', 'utf8')
  .split('\n## ')
  .slice(1)
  .flatMap((part) => {
    const section = part.slice(0, part.indexOf('\n'))
    return [...part.matchAll(/^\| `([^`]+)` \|.*\| `(.+)` \|$/gm)].map(([, field, example]) => ({
      section,
      field: field!,
      example: example!,
    }))
  })

/** Fields with dots for what stands directly inside them; what has a name of its own has its own section. */
const fieldsOf = (schema: Schema, own = ''): string[] =>
  Object.entries(schema.properties ?? {}).flatMap(([name, inner]) => [
    `${own}${name}`,
    ...fieldsOf(inner, `${own}${name}.`),
  ])
const { definitions } = FILE_SCHEMAS.case as unknown as { definitions: Record<string, Schema> }
const matcherFields = fieldsOf(definitions.matcher!)
const stepFields = fieldsOf(definitions.step!)
const SECTIONS: Record<string, string[]> = {
  case: fieldsOf(FILE_SCHEMAS.case as Schema),
  routine: fieldsOf(FILE_SCHEMAS.routine as Schema),
  suite: fieldsOf(FILE_SCHEMAS.suite as Schema),
  rotation: fieldsOf(FILE_SCHEMAS.rotation as Schema),
  policy: fieldsOf(FILE_SCHEMAS.policy as Schema),
  'recovery rule': fieldsOf(
    (FILE_SCHEMAS.policy as unknown as { definitions: Record<string, Schema> }).definitions.rule!,
  ),
  role: fieldsOf(definitions.role!),
  entry: fieldsOf(
    (FILE_SCHEMAS.suite as unknown as { definitions: Record<string, Schema> }).definitions.entry!,
  ),
  step: stepFields.filter((field) => !field.startsWith('check.')),
  check: stepFields
    .filter((field) => field.startsWith('check.'))
    .map((field) => field.slice('check.'.length)),
  attribute: fieldsOf(definitions.attribute!).filter((field) => !matcherFields.includes(field)),
  target: fieldsOf(definitions.target!),
  matcher: matcherFields,
}

test('the tables have a row for every field, and no other', () => {
  const documented = Object.fromEntries(
    Object.keys(SECTIONS).map((section) => [
      section,
      rows
        .filter((row) => row.section === section)
        .map(({ field }) => field)
        .sort(),
    ]),
  )
  expect(documented).toEqual(
    Object.fromEntries(Object.entries(SECTIONS).map(([section, fields]) => [section, fields.toSorted()])),
  )
})

const step = (text: string) => ['x.case.yaml', `case: x\ntitle: X\nsteps:\n  - ${text}\n`] as const
const keyless = (example: string, needed: string[]) =>
  needed.filter((line) => !example.startsWith(line.slice(0, line.indexOf(':') + 1)))
/** The example in the smallest file it can stand in. */
const FILES: Record<string, (example: string) => readonly [file: string, text: string]> = {
  case: (example) => [
    'x.case.yaml',
    [
      ...keyless(example, [
        'case: x',
        'title: X',
        ...(example.startsWith('roles') ? [] : ['steps: [{ note: a }]']),
      ]),
      example,
    ].join('\n'),
  ],
  routine: (example) => [
    'x.routine.yaml',
    [...keyless(example, ['routine: x', 'title: X', 'steps: [{ note: a }]']), example].join('\n'),
  ],
  suite: (example) => [
    'x.suite.yaml',
    [
      ...keyless(example, [
        'suite: x',
        'title: X',
        ...(example.startsWith('rule') ? [] : ['entries: [{ case: a }]']),
      ]),
      example,
    ].join('\n'),
  ],
  rotation: (example) => [
    'x.rotation.yaml',
    [
      ...keyless(example, [
        'rotation: x',
        'title: X',
        'what: [{ rule: smoke }]',
        'where: { environments: [a] }',
      ]),
      example,
    ].join('\n'),
  ],
  policy: (example) => [
    'x.policy.yaml',
    [...keyless(example, ['policy: x', 'title: X', 'rules: []']), example].join('\n'),
  ],
  'recovery rule': (example) => [
    'x.policy.yaml',
    `policy: x\ntitle: X\nrules:\n  - ` +
      `${example.startsWith('{') ? example : [...keyless(example, ['rule: a']), example].join('\n    ')}\n`,
  ],
  role: (example) => [
    'x.case.yaml',
    `case: x\ntitle: X\nroles:\n  crew: { steps: [{ note: a }] }\n  passenger:\n    ` +
      `${[...keyless(example, ['steps: [{ note: a }]']), example].join('\n    ')}\n`,
  ],
  entry: (example) => [
    'x.suite.yaml',
    `suite: x\ntitle: X\nentries:\n  - ` +
      `${[...(/^(case|suite|group):/.test(example) ? [] : ['case: a']), example].join('\n    ')}\n`,
  ],
  step,
  check: (example) => step(`check: ${example}`),
  attribute: (example) => step(`check: { of: { text: A }, attribute: ${example} }`),
  target: (example) => step(`click: { on: ${example} }`),
  matcher: (example) => step(`check: { title: ${example} }`),
}

test.each(rows)('the example for $field of a $section parses, and has it', ({ section, field, example }) => {
  const [file, text] = FILES[section]!(example)
  expect(parseDefinition(file, text).problems).toEqual([])
  expect(example).toContain(`${field.split('.').at(-1)}:`)
})
