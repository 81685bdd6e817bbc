import { parseDefinition } from './files'
import type { DefinitionKind } from './definition'
import { libraryOf } from './library'
import { usesOf } from './uses'

const FILES = {
  'r.routine.yaml': 'routine: r\ntitle: R\nsteps: [{ note: x }]\n',
  'outer.routine.yaml':
    'routine: outer\ntitle: Outer\nsteps: [{ block: B, steps: [{ use: r, with: { a: 1 } }] }]\n',
  'joint.case.yaml':
    'case: joint\ntitle: Joint\nroles:\n  one: { steps: [{ use: r }] }\n  two: { steps: [{ use: r, ' +
    'with: { b: 2 } }] }\n',
  'entry.case.yaml': 'case: entry\ntitle: Entry\nentry: r\ndata: t.csv\npolicy: p\nsteps: [{ note: x }]\n',
  't.csv': 'port\nTolva\n',
  's.suite.yaml':
    'suite: s\ntitle: S\nentries: [{ group: G, entries: [{ case: joint }, { case: entry, data: t.csv }] }]\n',
  'night.rotation.yaml':
    'rotation: night\ntitle: Night\nwhat: [{ suite: s }, { case: joint }]\nbefore: [{ use: r ' +
    '}]\nwhere: { environments: [chromium-debian] }\npolicy: p\n',
  'day.rotation.yaml':
    'rotation: day\ntitle: Day\nwhat: [{ rule: smoke }]\nwhere: { environments: [chromium-debian] ' +
    '}\nfollows: { rotation: night }\n',
  'p.policy.yaml':
    'policy: p\ntitle: P\nrules: [{ rule: one, when: { kinds: [check] }, do: [{ use: r }], resume: step }]\n',
}
const library = libraryOf(
  Object.entries(FILES).map(([file, text]) => {
    const { definition, problems } = parseDefinition(file, text)
    expect(problems).toEqual([])
    return definition!
  }),
)

test.each<[DefinitionKind, string, string[]]>([
  [
    'routine',
    'r',
    [
      'case entry: entry state',
      'case joint: 2 times (b)',
      'policy p: 1 time',
      'rotation night: 1 time',
      'routine outer: 1 time (a)',
    ],
  ],
  ['routine', 'outer', []],
  ['case', 'joint', ['rotation night: a part', 'suite s: an entry']],
  ['case', 's', []],
  ['suite', 's', ['rotation night: a part']],
  ['data', 't.csv', ['case entry: its rows', 'suite s: an entry']],
  ['policy', 'p', ['case entry: its policy', 'rotation night: its policy']],
  ['rotation', 'night', ['rotation day: starts after it']],
])('where the %s “%s” is used', (kind, key, uses) =>
  expect(
    usesOf(kind, key, library)
      .map(
        (one) => `${one.kind} ${one.key}: ${one.how}${one.given.length > 0 ? ` (${one.given.join()})` : ''}`,
      )
      .sort(),
  ).toEqual(uses),
)
