import { parseDefinition } from './files'
import type { Definition } from './definition'
import { libraryOf } from './library'
import { brokenReferences, type SetUp } from './references'

const NOTHING: SetUp = {
  applications: new Set(['gate']),
  databases: new Set(['ferry']),
  secrets: new Set(['PIN']),
  pictures: new Set(['deck-plan']),
  environments: new Set(['chromium-debian', 'chrome']),
}
const read = (file: string, text: string): Definition => {
  const { definition, problems } = parseDefinition(file, text)
  expect(problems).toEqual([])
  return definition!
}
/** Problems of the first file, where all of them are what there is. */
function found(files: Record<string, string>, setUp: SetUp | null = NOTHING) {
  const placed = Object.entries(files).map(([file, text]) => ({ file, document: read(file, text) }))
  const there = { ...libraryOf(placed.map(({ document }) => document)), ...(setUp && { setUp }) }
  return brokenReferences(placed.slice(0, 1), there).map(({ line, message, missing }) =>
    [`${line}: ${message}`, missing && `${missing.kind} ${missing.key}`].filter(Boolean).join(' -> '),
  )
}
const inCase = (steps: string, more = '') => ({
  'a.case.yaml': `case: a\ntitle: A\n${more}steps:\n${steps}`,
})

test.each<[string, Record<string, string>, string[]]>([
  ['everything is there', inCase('  - open: gate:/\n  - note: ${secret.PIN} ${env.os} ${run.build}\n'), []],
  ['an application', inCase('  - open: shop:/\n'), ['4: there is no application “shop” -> application shop']],
  ['one that is put together while it runs', inCase('  - open: gate:/${run.id}\n'), []],
  [
    'a database',
    inCase('  - query: { database: records, sql: select 1 }\n'),
    ['4: there is no database “records” -> database records'],
  ],
  ['a secret', inCase('  - note: "${secret.KEY}"\n'), ['4: there is no secret “KEY” -> secret KEY']],
  [
    'a secret of a parameter',
    inCase('  - note: "${pin}"\n', 'parameters: { pin: "${secret.KEY}" }\n'),
    ['1: there is no secret “KEY” -> secret KEY'],
  ],
  [
    'a parameter',
    inCase('  - note: "${port}"\n'),
    ['4: ${port} stands for nothing: it is no parameter, and no step reads it'],
  ],
  ['a parameter that it has', inCase('  - note: "${port}"\n', 'parameters: { port: Tolva }\n'), []],
  ['a handoff that it takes', inCase('  - note: "${port}"\n', 'needs: [port]\n'), []],
  [
    'somebody who is signed in, and is handed on',
    inCase('  - signed-in: { does: take, as: clerk }\n', 'needs: [clerk]\n'),
    [],
  ],
  [
    'somebody whom the case does not take',
    inCase('  - signed-in: { does: take, as: clerk }\n'),
    ['4: “clerk” is none of the handoffs that the case takes'],
  ],
  ['a value that is read', inCase('  - read: { of: { text: x }, as: port }\n  - note: "${port}"\n'), []],
  [
    'a value that another role reads',
    {
      'a.case.yaml':
        'case: a\ntitle: A\nroles:\n  one: { steps: [{ read: { of: { text: x }, as: port } }] }\n  ' +
        'two: { steps: [{ note: "${port}" }] }\n',
    },
    [],
  ],
  [
    'a value that a routine reads',
    {
      ...inCase('  - use: r\n  - note: "${port}"\n'),
      'r.routine.yaml': 'routine: r\ntitle: R\nsteps: [{ read: { of: { text: x }, as: port } }]\n',
    },
    [],
  ],
  [
    'a value that a suite gives',
    {
      ...inCase('  - note: "${port}"\n'),
      's.suite.yaml': 'suite: s\ntitle: S\nentries: [{ case: a, with: { port: Tolva } }]\n',
    },
    [],
  ],
  [
    'a fact that no environment has',
    inCase('  - note: "${env.colour}"\n'),
    [
      '4: ${env.colour} stands for nothing; there is env.key, env.title, env.browser, env.os, ' +
        'env.locale, run.build, run.id, run.seed',
    ],
  ],
  ['made-up values', inCase('  - note: "${fake.name} ${date(+3d)}"\n'), []],
  [
    'a column of no table',
    inCase('  - note: "${row.port}"\n'),
    ['4: ${row.port} stands for nothing: the case has no table'],
  ],
  [
    'a column of another table',
    {
      ...inCase('  - note: "${row.port}"\n', 'data: t.csv\n'),
      't.csv': 'harbour\nTolva\n',
    },
    ['1: the table “t.csv” has no column “port”'],
  ],
  [
    'a column of a table that a suite gives',
    {
      ...inCase('  - note: "${row.port}"\n'),
      's.suite.yaml': 'suite: s\ntitle: S\nentries: [{ case: a, data: t.csv }]\n',
      't.csv': 'port\nTolva\n',
    },
    [],
  ],
  [
    'the environment of a rotation, by its other name or by none',
    {
      'r.rotation.yaml':
        'rotation: r\ntitle: R\nwhat: [{ case: a }]\nwhere: { environments: [chrome, opera-amiga] }\n',
      ...inCase('  - note: x\n'),
    },
    ['1: there is no environment “opera-amiga” -> environment opera-amiga'],
  ],
  [
    'a step inside others, at its own line',
    inCase('  - block: B\n    steps:\n      - open: shop:/\n'),
    ['6: there is no application “shop” -> application shop'],
  ],
])('%s', (_, files, problems) => expect(found(files)).toEqual(problems))

test('where Settings is not known, nothing is said of it', () =>
  expect(found(inCase('  - open: shop:/\n  - note: "${secret.KEY}"\n'), null)).toEqual([]))
