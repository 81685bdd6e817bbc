import { describeChanges, parseDefinition } from './files'
import { describeRule } from './rule-words'
import type { RecoveryPolicy } from './types'
import { writeDefinition } from './write'

const FILE = `policy: night-upsets
title: Upsets of the night
budget: 1m
rules:
  - rule: storm
    when: { kinds: [ dialog ], message: Storm }
    do:
      - click: { on: { role: button, name: Understood } }
  - rule: signed-in
    when: { message: signed in, application: desk, environment: { browser: [ Chromium, Firefox ] } }
    do:
      - use: sign-out
    resume: case
    most: 1
    mostInRun: 20
  - rule: slow
    when: { step: manifest }
    wait: 2s
    grow: 2
    off: true
`
const parse = (text: string) => parseDefinition('x.policy.yaml', text)
const policy = parse(FILE).definition as RecoveryPolicy

test('a file becomes a policy, with what is usual filled in; written and read again it is the same', () => {
  expect(policy).toMatchObject({
    kind: 'policy',
    key: 'night-upsets',
    budgetMs: 60_000,
    rules: [
      {
        id: 'storm',
        when: { kinds: ['dialog'], message: 'Storm' },
        do: [{ verb: 'click', line: 8 }],
        resume: 'step',
        most: 3,
        off: false,
      },
      { id: 'signed-in', do: [{ verb: 'use', routine: 'sign-out' }], resume: 'case', most: 1, mostInRun: 20 },
      { id: 'slow', do: [], waitMs: 2000, grow: 2, off: true },
    ],
  })
  expect(writeDefinition(policy)).toBe(FILE)
})

test('rules read as sentences', () => {
  expect(policy.rules.map(describeRule)).toEqual([
    'When an unexpected dialog appears and the message has /Storm/, click Understood, do the step ' +
      'again, at most 3 times a case run',
    'When the message has /signed in/ and the application is desk and the browser is Chromium or ' +
      'Firefox, use sign out, begin the case again, at most once a case run and 20 times a run',
    '(off) When the step is tagged manifest, wait 2s, 2 times as long each time, do the step again, ' +
      'at most 3 times a case run',
  ])
  expect(describeRule({ ...policy.rules[0]!, when: {} })).toContain('When anything fails, ')
})

test.each([
  [
    'an expression that is none',
    FILE.replace('message: Storm', 'message: "("'),
    'rules.0.when.message',
    '/(/ cannot be used: a bracket is opened and not closed',
    6,
  ],
  [
    'an id used twice',
    FILE.replace('rule: slow', 'rule: storm'),
    'rules.2.rule',
    '“storm” is the id of another rule',
    16,
  ],
  [
    'a place to go on that is none',
    FILE.replace('resume: case', 'resume: page'),
    'rules.1.resume',
    'expected one of: step, check, case, skip-case, stop-run',
    13,
  ],
  [
    'a kind that is none',
    FILE.replace('kinds: [ dialog ]', 'kinds: [ popup ]'),
    'rules.0.when.kinds.0',
    'expected one of: check, target, dialog, page, script, time-limit, agent, data',
    6,
  ],
  [
    'a step without a verb',
    FILE.replace('use: sign-out', 'because: so'),
    'rules.1.do.0',
    'a step has exactly one verb',
    12,
  ],
])('%s is told at its place', (_, text, field, message, line) => {
  expect(parse(text).problems).toMatchObject([
    { field, line, message: expect.stringContaining(message) as string },
  ])
})

test('changes are told rule by rule', () => {
  expect(
    describeChanges(
      policy,
      parse(FILE.replace('most: 1\n', 'most: 2\n').replace('budget: 1m\n', '')).definition!,
    ),
  ).toEqual([
    'budget was taken away (1m)',
    expect.stringMatching(/^rule 2: signed-in: .*at most once.* became signed-in: .*at most 2 times/),
  ])
})
