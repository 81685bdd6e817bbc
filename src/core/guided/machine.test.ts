import { saidOfMachine, withVerdicts, type CarriedOut, type GuidedStep, type GuidedVerdict } from '.'

const step = (path: string, kind: GuidedStep['kind'] = 'step'): GuidedStep => ({
  path,
  depth: 0,
  kind,
  words: { verb: '', object: path, detail: '' },
})
const STEPS = [
  step('entry.0', 'group'),
  step('entry.0.0'),
  step('main.0'),
  step('main.1', 'group'),
  step('main.1.0'),
  step('main.1.1', 'check'),
  step('main.10', 'do'),
]
const ended = (path: string, outcome: CarriedOut['outcome'], note = ''): CarriedOut => ({
  path,
  outcome,
  note,
  pictures: [],
})
const said = (one: CarriedOut) => saidOfMachine(STEPS, one, 1234.6).map(({ path, is }) => `${path} ${is}`)

test.each<[string, CarriedOut, string[]]>([
  ['a step', ended('main.0', 'passed'), ['main.0 passed']],
  ['all of a routine', ended('main.1', 'passed'), ['main.1.0 passed', 'main.1.1 passed']],
  ['no other that begins alike', ended('main.1', 'skipped'), ['main.1.0 skipped', 'main.1.1 skipped']],
  ['of a bad routine the first', ended('main.1', 'failed'), ['main.1.0 failed']],
  ['one that could not be done', ended('main.10', 'errored'), ['main.10 cannot']],
  ['the entry', ended('entry.0', 'passed'), ['entry.0.0 passed']],
  ['nothing of a step that is not there', ended('main.7', 'passed'), []],
  ['nothing of one that was cut off', ended('main.0', 'cancelled'), []],
])('a machine says of the sheet %s', (_, one, expected) => expect(said(one)).toEqual(expected))

test('the note and the picture stand once, with the worked time', () => {
  const pictures = [{ hash: 'a', width: 1, height: 1 }]
  expect(saidOfMachine(STEPS, { ...ended('main.1', 'passed', 'seen'), pictures }, 1234.6)).toEqual([
    { path: 'main.1.0', is: 'passed', note: 'seen', atMs: 1235, pictures },
    { path: 'main.1.1', is: 'passed', note: '', atMs: 1235, pictures: [] },
  ])
})

test('what is said later counts', () => {
  const one = (path: string, is: GuidedVerdict['is']): GuidedVerdict => ({
    path,
    is,
    note: '',
    atMs: 1,
    pictures: [],
  })
  expect(withVerdicts([one('a', 'failed'), one('b', 'passed')], [one('a', 'passed')])).toEqual([
    one('b', 'passed'),
    one('a', 'passed'),
  ])
})
