import { describeChanges, parseDefinition } from './files'
import { readRotation, writeDefinition } from './editing'
import type { Rotation } from '.'

const FILE = `rotation: night-full
title: Night full
what:
  - suite: nightly
  - rule: smoke and not slow
  - case: sign-in
with: { port: Tolva }
before:
  - use: fetch-accounts
where:
  axes: { browser: [Chromium, Firefox], locale: [en-GB] }
  cover: pairs
  never: [{ browser: Firefox, os: [Debian 12, macOS 15] }]
  pool: Windows
how: { settle: 300ms, video: on-failure, keep: { video: 14 } }
retries: 2
limit: 90s
runLimit: 2h
stopAfter: 20
when:
  rule: FREQ=DAILY
  timezone: Europe/Lisbon
  start: 2026-11-01T22:00
  blackout: [{ start: 2026-12-24T00:00, end: 2026-12-27T00:00 }]
  onBlackout: delay
  moves: [{ from: 2026-11-03T22:00, to: 2026-11-03T23:15 }]
  missed: run
`
const parse = (text: string) => parseDefinition('night-full.rotation.yaml', text)
const problems = (text: string) =>
  parse(text).problems.map(({ line, field, message }) => `${line} ${field}: ${message}`)

test('a file becomes a rotation, with what is usual filled in; written and read again it is the same', () => {
  const rotation = parse(FILE).definition as Rotation
  expect(rotation).toEqual({
    kind: 'rotation',
    key: 'night-full',
    title: 'Night full',
    what: [{ suite: 'nightly' }, { rule: 'smoke and not slow' }, { case: 'sign-in' }],
    with: { port: 'Tolva' },
    before: [{ verb: 'use', routine: 'fetch-accounts', with: {}, line: 9 }],
    after: [],
    build: 'newest',
    where: {
      axes: { browser: ['Chromium', 'Firefox'], locale: ['en-GB'] },
      cover: 'pairs',
      never: [{ browser: ['Firefox'], os: ['Debian 12', 'macOS 15'] }],
      always: [],
      pool: 'Windows',
      spread: 'split',
      leaveOut: false,
      lanes: {},
    },
    how: {
      settleMs: 300,
      betweenMs: 0,
      screens: 'always',
      video: 'on-failure',
      console: 'always',
      network: 'always',
      keep: { video: 14 },
    },
    retries: 2,
    retryAgent: 'any',
    limitMs: 90_000,
    runLimitMs: 7_200_000,
    stopAfter: 20,
    priority: 'normal',
    paused: false,
    when: {
      rule: 'FREQ=DAILY',
      timezone: 'Europe/Lisbon',
      start: '2026-11-01T22:00',
      except: [],
      blackout: [{ start: '2026-12-24T00:00', end: '2026-12-27T00:00' }],
      calendars: [],
      onBlackout: 'delay',
      moves: [{ from: '2026-11-03T22:00', to: '2026-11-03T23:15' }],
      missed: 'run',
      whileRunning: 'start',
      notWith: [],
    },
  })
  expect(parse(writeDefinition(rotation)).definition).toEqual(rotation)
})
test('one without times is started by hand', () =>
  expect(
    parse('rotation: x\ntitle: X\nwhat: [{ rule: smoke }]\nwhere: { environments: [a] }\n').definition,
  ).not.toHaveProperty('when'))

test.each([
  [
    'two things in one part',
    'what: [{ suite: nightly, rule: smoke }]\nwhere: { environments: [a] }',
    /^3 what.0: expected exactly one field$/,
  ],
  [
    'a part that says nothing',
    'what: [{}]\nwhere: { environments: [a] }',
    /^3 what.0: expected at least one field$/,
  ],
  [
    'a tag rule that cannot be read',
    'what: [{ case: a }, { rule: "smoke and" }]\nwhere: { environments: [a] }',
    /^3 what.1.rule: /,
  ],
  ['no environment', 'what: []\nwhere: {}', /^4 where: no environment is named/],
  [
    'environments twice',
    'what: []\nwhere: { environments: [a], axes: { os: [b] } }',
    /^4 where.axes: environments are named, or picked by axes; not both$/,
  ],
  [
    'a rule without an axis',
    'what: []\nwhere: { axes: {}, never: [{}] }',
    /^4 where.never.0: expected at least one field$/,
  ],
  [
    'lanes without the spread that has them',
    'what: []\nwhere: { environments: [a], lanes: { b: c } }',
    /^4 where.lanes: lanes belong to the spread “?"?assigned/,
  ],
  [
    'a broken step before all',
    'what: []\nwhere: { environments: [a] }\nbefore: [{ tap: a }]',
    /^5 before.0.tap: "tap" is not known here$/,
  ],
  [
    'one that follows itself',
    'what: []\nwhere: { environments: [a] }\nfollows: { rotation: x }',
    /^5 follows.rotation: a rotation cannot follow itself$/,
  ],
])('%s is told at its line', (_, text, expected) => {
  expect(problems(`rotation: x\ntitle: X\n${text}\n`)[0]).toMatch(expected)
})
test.each([
  [
    'a zone that is none',
    'timezone: Europe/Skerrow, start: 2026-11-01T22:00',
    /^5 when.timezone: there is no time zone “Europe\/Skerrow”/,
  ],
  ['a recurrence that is none', 'timezone: UTC, start: 2026-11-01T22:00, rule: FREQ=OFTEN', /^5 when.rule: /],
  [
    'an end before the start',
    'timezone: UTC, start: 2026-11-01T22:00, until: 2026-10-01T22:00',
    /^5 when.until: it ends before it starts$/,
  ],
  [
    'a move to no moment',
    'timezone: UTC, start: 2026-11-01T22:00, moves: [{ from: 2026-11-01T22:00, to: 2026-11-31T22:00 }]',
    /^5 when.moves.0.to: /,
  ],
  ['a day that is none', 'timezone: UTC, start: 2026-02-30T22:00', /^5 when.start: /],
  [
    'a blackout the wrong way round',
    'timezone: UTC, start: 2026-11-01T22:00, blackout: [{ start: 2026-12-02T00:00, end: 2026-12-01T00:00 }]',
    /^5 when.blackout.0.end: /,
  ],
])('%s is told at its field', (_, when, expected) => {
  expect(
    problems(
      `rotation: x\ntitle: X\nwhat: [{ rule: smoke }]\nwhere: { environments: [a] }\nwhen: { ${when} }\n`,
    )[0],
  ).toMatch(expected)
})
test('what changed is said in words', () => {
  const before = parse(FILE).definition!
  expect(
    describeChanges(
      before,
      parse(
        FILE.replace('retries: 2', 'retries: 0')
          .replace('cover: pairs', 'cover: all')
          .replace('settle: 300ms', 'settle: 1s'),
      ).definition!,
    ),
  ).toEqual(['where.cover was taken away (pairs)', 'how.settle: 300ms became 1s', 'retries: 2 became 0'])
})
describe('read at once, for who edits', () => {
  test('it is what the parser reads, but for the lines of its steps', () => {
    const withoutLines = (text: string) => JSON.parse(text.replaceAll(/"line":\d+/g, '"line":0')) as unknown
    expect(withoutLines(JSON.stringify(readRotation(FILE)))).toEqual(
      withoutLines(JSON.stringify(parse(FILE).definition)),
    )
  })
  test.each([
    '',
    'rotation: x',
    'a: [',
    'rotation: x\ntitle: X\nwhat: smoke\nwhere: {}',
    'rotation: x\ntitle: X\nwhat: []\nwhere: {}\nlimit: soon',
    '- a',
  ])('%j is none', (text) => expect(readRotation(text)).toBeUndefined())
})
