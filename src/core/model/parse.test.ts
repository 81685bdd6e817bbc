import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { kindOfFile, parseDefinition } from './files'

const parse = (text: string, file = 'x.case.yaml') => parseDefinition(file, text)
const steps = (lines: string) => parse(`case: a\ntitle: A\nsteps:\n${lines}`)

describe('a good file', () => {
  test('becomes a case with every part in its place', () => {
    const { definition, problems } = parse(`
case: book
title: Book
tags: [smoke]
priority: high
requires: [FSF-R1]
entry: signed-out
parameters: { port: Skerrow, count: 3 }
data: fares.csv
uses: [desk-account]
limit: 2m
steps:
  - open: booking:/
  - check: { of: { testId: total }, text: { near: { value: 3, within: 0.1 } }, soft: true }
  - block: Pay
    steps: [{ use: pay, with: { amount: 3 } }]
undo:
  - call: { method: DELETE, url: "booking:/x" }
x-note: kept
`)
    expect(problems).toEqual([])
    expect(definition).toMatchObject({
      kind: 'case',
      key: 'book',
      priority: 'high',
      parameters: { port: 'Skerrow', count: '3' },
      limitMs: 120_000,
      uses: ['desk-account'],
      steps: [
        { verb: 'open', address: 'booking:/', line: 13 },
        {
          verb: 'check',
          subject: 'text',
          soft: true,
          matcher: { near: { value: 3, within: 0.1 } },
          line: 14,
        },
        {
          verb: 'block',
          title: 'Pay',
          steps: [{ verb: 'use', routine: 'pay', with: { amount: '3' }, line: 16 }],
        },
      ],
      undo: [{ verb: 'call', method: 'DELETE' }],
    })
  })

  test.each([
    { lines: '  - wait: { time: 2s }', step: { verb: 'wait', timeMs: 2000 } },
    { lines: '  - wait: { for: { text: Ready }, state: hidden }', step: { verb: 'wait', state: 'hidden' } },
    {
      lines:
        '  - if: { hidden: { text: Ready } }\n    steps: [{ press: { key: Enter } }]\n    else: [{ ' +
        'press: { key: Tab } }]',
      step: {
        verb: 'if',
        condition: { hidden: { text: 'Ready' } },
        steps: [{ verb: 'press', key: 'Enter' }],
        otherwise: [{ key: 'Tab' }],
      },
    },
    {
      lines: '  - repeat: { times: 2 }\n    steps: [{ press: { key: Enter } }]',
      step: { verb: 'repeat', times: 2 },
    },
    { lines: '  - check: { url: { contains: /done } }', step: { verb: 'check', subject: 'url' } },
    {
      lines: '  - read: { of: { testId: ref }, as: reference, handoff: true }',
      step: { verb: 'read', as: 'reference', handoff: true },
    },
    {
      lines: '  - type: { in: { label: Amount }, value: 20 }\n    limit: 500ms\n    off: true',
      step: { verb: 'type', value: '20', limitMs: 500, off: true },
    },
  ])('reads $step.verb', ({ lines, step }) => {
    const { definition, problems } = steps(lines)
    expect(problems).toEqual([])
    expect(definition).toMatchObject({ steps: [step] })
  })
})

describe('a broken file is named with its place', () => {
  test.each([
    {
      why: 'unknown verb',
      lines: '  - tap: { on: { text: A } }',
      line: 4,
      field: 'steps.0.tap',
      says: 'not known here',
    },
    {
      why: 'two verbs',
      lines: '  - open: a:/\n    use: b',
      line: 4,
      field: 'steps.0',
      says: 'exactly one verb',
    },
    { why: 'no verb', lines: '  - because: none', line: 4, field: 'steps.0', says: 'exactly one verb' },
    {
      why: 'unknown target way',
      lines: '  - open: a:/\n  - click: { on: { colour: red } }',
      line: 5,
      field: 'steps.1.click.on.colour',
      says: 'not known here',
    },
    {
      why: 'a name without a role',
      lines: '  - click: { on: { name: Pay } }',
      line: 4,
      field: 'steps.0.click.on',
      says: 'needs "role"',
    },
    {
      why: 'empty target',
      lines: '  - click: { on: {} }',
      line: 4,
      field: 'steps.0.click.on',
      says: 'at least one field',
    },
    {
      why: 'a check of nothing',
      lines: '  - check: { of: { text: A } }',
      line: 4,
      field: 'steps.0.check',
      says: 'exactly one of',
    },
    {
      why: 'a check of two things',
      lines: '  - check: { of: { text: A }, text: { equals: 1 }, count: { equals: 1 } }',
      line: 4,
      field: 'steps.0.check',
      says: 'exactly one of',
    },
    {
      why: 'a check without of',
      lines: '  - check: { text: { equals: 1 } }',
      line: 4,
      field: 'steps.0.check',
      says: '"of" is missing',
    },
    {
      why: 'a block without steps',
      lines: '  - block: Pay',
      line: 4,
      field: 'steps.0',
      says: '"steps" is missing',
    },
    {
      why: 'steps under a click',
      lines: '  - click: { on: { text: A } }\n    steps: [{ open: a:/ }]',
      line: 5,
      field: 'steps.0.steps',
      says: 'only block, if and repeat',
    },
    {
      why: 'an else without if',
      lines: '  - block: A\n    steps: [{ open: a:/ }]\n    else: [{ open: a:/ }]',
      line: 6,
      field: 'steps.0.else',
      says: 'belongs to an if',
    },
    {
      why: 'a bad duration',
      lines: '  - open: a:/\n    limit: soon',
      line: 5,
      field: 'steps.0.limit',
      says: 'a time: 500ms, 30s, 2m, 1h30m',
    },
    {
      why: 'an address without application',
      lines: '  - open: /start',
      line: 4,
      field: 'steps.0.open',
      says: 'the key of an application and a path',
    },
    {
      why: 'a broken expression',
      lines: '  - check: { of: { text: A }, text: { matches: "(" } }',
      line: 4,
      field: 'steps.0.check.text.matches',
      says: 'not closed',
    },
    {
      why: 'a path in JSON that is none',
      lines: '  - call: { method: GET, url: "a:/", expect: { json: { "items.id": 3 } } }',
      line: 4,
      field: 'steps.0.call.expect.json.items.id',
      says: 'cannot be read as a path',
    },
    {
      why: 'a path in JSON that a value is read at, and is none',
      lines: '  - call: { method: GET, url: "a:/", read: { id: "$.items[?@.open]" } }',
      line: 4,
      field: 'steps.0.call.read.id',
      says: 'cannot be read as a path',
    },
    {
      why: 'a state that is none',
      lines: '  - check: { of: { text: A }, state: blue }',
      line: 4,
      field: 'steps.0.check.state',
      says: 'expected one of: visible',
    },
  ])('$why', ({ lines, line, field, says }) => {
    const { definition, problems } = steps(lines)
    expect(definition).toBeUndefined()
    expect(problems[0]).toMatchObject({ file: 'x.case.yaml', line, field })
    expect(problems[0]!.message).toContain(says)
  })

  test('YAML that is none has the line of the mistake', () => {
    const { problems } = parse('case: a\ntitle: "open\nsteps: []\n')
    expect(problems.length).toBeGreaterThan(0)
    expect(problems[0]!.line).toBeGreaterThan(1)
  })
  test('a key given twice', () =>
    expect(parse('case: a\ncase: b\ntitle: A\nsteps: [{ open: a:/ }]').problems[0]).toMatchObject({
      line: 2,
      message: expect.stringContaining('unique') as string,
    }))
  test('missing fields are all told, not only the first', () =>
    expect(parse('tags: []').problems.map(({ message }) => message)).toEqual([
      '"case" is missing',
      '"title" is missing',
      '"steps" is missing',
    ]))
  test('a suite entry that is two things', () =>
    expect(
      parse('suite: a\ntitle: A\nentries:\n  - case: b\n    group: c\n', 's.suite.yaml').problems[0],
    ).toMatchObject({ line: 4, message: 'an entry is exactly one of: case, suite, group' }))
  test('a name of another kind', () =>
    expect(parse('', 'notes.yaml').problems[0]!.message).toContain('.case.yaml'))
  test('a bomb of aliases', () => {
    const nineOf = (what: string) => `[${Array<string>(9).fill(what).join(',')}]`
    const levels = [...'bcdefg'].map((name, i) => `${name}: &${name} ${nineOf(`*${'abcdef'[i]}`)}`)
    expect(parse([`a: &a ${nineOf('x')}`, ...levels].join('\n')).definition).toBeUndefined()
  })
})

test('every file of the demo repository is sound', () => {
  const folder = join('stand-ins', 'repository')
  const files = (readdirSync(folder, { recursive: true }) as string[]).filter((file) => kindOfFile(file))
  expect(files.filter((file) => file.endsWith('.case.yaml')).length).toBeGreaterThanOrEqual(24)
  for (const file of files)
    expect(parseDefinition(file, readFileSync(join(folder, file), 'utf8')).problems).toEqual([])
})
