import fc from 'fast-check'
import { applicationsOf, parseRule, ruleHolds, unknownInRule, type Rule, type RuleFacts } from '.'
import type { Routine, Step, TestCase } from './types'

const facts: RuleFacts = {
  key: 'board',
  tags: ['smoke', 'two words', 'not'],
  priority: 'high',
  requires: ['FSF-R12'],
  applications: ['booking', 'gate'],
}
const holds = (text: string) => {
  const rule = parseRule(text)
  if ('message' in rule) throw new Error(rule.message)
  return ruleHolds(rule, facts)
}

test.each<[string, boolean, string]>([
  ['smoke', true, 'a word is a tag'],
  ['slow', false, 'a tag it has not'],
  ['smoke and not slow', true, 'the example of the format'],
  ['not smoke or slow', false, 'not binds closest'],
  ['slow and smoke or smoke', true, 'and binds closer than or'],
  ['slow and (smoke or smoke)', false, 'brackets'],
  ['not not smoke', true, 'twice no'],
  ['"two words"', true, 'a tag in quotes'],
  ['"not"', true, 'a tag called like a word of ours'],
  ['priority >= high', true, 'at least'],
  ['priority > high', false, 'more than'],
  ['priority = normal or priority < critical', true, 'compared twice'],
  ['priority != high', false, 'another than'],
  ['application = gate', true, 'one of its applications'],
  ['application != desk', true, 'none of its applications'],
  ['requires FSF-R12', true, 'a requirement'],
  ['requires FSF-R1', false, 'whole ids only'],
  ['requires = FSF-R12', true, 'a requirement, compared'],
  ['requires != FSF-R12', false, 'not that requirement'],
  ['requires != FSF-R1', true, 'another requirement'],
  ['key = board and tag = smoke', true, 'key and tag by name'],
  ['key != board', false, 'every key but one'],
  ['smoke and(not(slow))', true, 'no blanks around brackets'],
])('%s is %s: %s', (text, expected) => expect(holds(text)).toBe(expected))

test.each<[string, string, number]>([
  ['', 'the rule is empty', 0],
  ['smoke slow', '“slow” is too much', 6],
  ['smoke and', 'expected a tag', 9],
  ['(smoke', 'a bracket is opened and not closed', 6],
  ['smoke)', '“)” is too much', 5],
  ['priority high', 'priority is compared', 9],
  ['priority >= urgent', '“urgent” is no priority', 12],
  ['application > gate', 'application is compared with = or !=', 14],
  ['requires > FSF-R12', 'requires is compared with = or !=', 11],
  ['smoke = 3', '“smoke” cannot be compared', 0],
  ['and smoke', 'there is “and”', 0],
  ['smoke !', '“!” is not understood', 6],
  ['requires', 'expected a requirement id', 8],
  ['"open', '“"” is not understood', 0],
  [`${'('.repeat(200)}a`, 'nested too deep', 100],
])('%s: %s', (text, message, at) =>
  expect(parseRule(text)).toMatchObject({ message: expect.stringContaining(message) as string, at }),
)

const anyRule = fc.letrec<{ rule: [text: string, value: boolean] }>((tie) => ({
  rule: fc.oneof(
    { maxDepth: 5 },
    fc.constantFrom<[string, boolean]>(
      ['smoke', true],
      ['slow', false],
      ['priority >= low', true],
      ['application = desk', false],
    ),
    tie('rule').map(([text, value]): [string, boolean] => [`not (${text})`, !value]),
    fc
      .tuple(tie('rule'), tie('rule'))
      .map(([[a, x], [b, y]]): [string, boolean] => [`(${a}) and (${b})`, x && y]),
    fc
      .tuple(tie('rule'), tie('rule'))
      .map(([[a, x], [b, y]]): [string, boolean] => [`(${a}) or (${b})`, x || y]),
  ),
})).rule
test('property: an expression means what its parts mean', () =>
  fc.assert(fc.property(anyRule, ([text, value]) => expect(holds(text)).toBe(value))))
test('property: any text is either read or refused with a place in it', () =>
  fc.assert(
    fc.property(
      fc.oneof(
        fc.string(),
        fc
          .array(fc.constantFrom('smoke', 'and', 'or', 'not', '(', ')', 'priority', '>=', 'high', '"', '='))
          .map((words) => words.join(' ')),
      ),
      (text) => {
        const rule: Rule | { message: string; at: number } = parseRule(text)
        if ('message' in rule) expect(rule.at).toBeLessThanOrEqual(text.length)
        else expect(typeof ruleHolds(rule, facts)).toBe('boolean')
      },
    ),
  ))

test('applications of a case: its own steps and those of its routines, entry included', () => {
  const open = (address: string): Step => ({ verb: 'open', address })
  const steps: Step[] = [
    { verb: 'use', routine: 'loop', with: {} },
    {
      verb: 'if',
      condition: { visible: { text: 'x' } },
      steps: [],
      otherwise: [{ verb: 'call', method: 'GET', url: 'manifest:/x', read: {}, handoff: false }],
    },
  ]
  const testCase = { entry: 'in', steps, undo: [] } as unknown as TestCase
  const routine = (key: string, inner: Step[]): [string, Routine] => [
    key,
    { kind: 'routine', key, title: key, parameters: {}, undo: [], steps: inner },
  ]
  expect(
    applicationsOf(
      testCase,
      new Map([
        routine('in', [open('desk:/')]),
        routine('loop', [open('gate:/'), { verb: 'use', routine: 'loop', with: {} }]),
      ]),
    ),
  ).toEqual(['desk', 'gate', 'manifest'])
})

test('names that no case has are told, each once', () => {
  const unknown = (text: string) => unknownInRule(parseRule(text) as Rule, [facts])
  expect(
    unknown('smoke and priority >= low and application = gate and requires FSF-R12 and key = board'),
  ).toEqual([])
  expect(unknown('smok or not smok and application = gat')).toEqual([
    'no case has the tag “smok”',
    'no case meets the application “gat”',
  ])
  expect(unknown('requires FSF-R1 or key = x')).toEqual([
    'no case has the requirement “FSF-R1”',
    'no case has the key “x”',
  ])
})
