import { describeChanges, parseDefinition } from './files'
import { writeDefinition } from './editing'
import type { Rotation } from '.'

const FILE = `rotation: night-full
title: Night full
what: { suite: nightly, with: { port: Tolva } }
environments: [chromium-debian, firefox-windows]
retries: 2
limit: 90s
when:
  rule: FREQ=DAILY
  timezone: Europe/Lisbon
  start: 2026-11-01T22:00
  blackout: [{ start: 2026-12-24T00:00, end: 2026-12-27T00:00 }]
  onBlackout: delay
  missed: run
`
const parse = (text: string) => parseDefinition('night-full.rotation.yaml', text)
const problems = (text: string) => parse(text).problems.map(({ line, field, message }) => `${line} ${field}: ${message}`)

test('a file becomes a rotation, with what is usual filled in; written and read again it is the same', () => {
  const rotation = parse(FILE).definition as Rotation
  expect(rotation).toEqual({
    kind: 'rotation', key: 'night-full', title: 'Night full', what: { suite: 'nightly', with: { port: 'Tolva' } }, build: 'newest', environments: ['chromium-debian', 'firefox-windows'], retries: 2, limitMs: 90_000, priority: 'normal', paused: false,
    when: { rule: 'FREQ=DAILY', timezone: 'Europe/Lisbon', start: '2026-11-01T22:00', except: [], blackout: [{ start: '2026-12-24T00:00', end: '2026-12-27T00:00' }], onBlackout: 'delay', missed: 'run', whileRunning: 'start' },
  })
  expect(parse(writeDefinition(rotation)).definition).toEqual(rotation)
})
test('one without times is started by hand', () => expect(parse('rotation: x\ntitle: X\nwhat: { rule: smoke }\nenvironments: [a]\n').definition).not.toHaveProperty('when'))

test.each([
  ['two things at once', 'what: { suite: nightly, rule: smoke }', /^3 what: it is exactly one of: suite, rule, cases$/],
  ['nothing to run', 'what: { with: { a: b } }', /^3 what: it is exactly one of/],
  ['a tag rule that cannot be read', 'what: { rule: "smoke and" }', /^3 what.rule: /],
])('%s is told at its line', (_, what, expected) => {
  expect(problems(`rotation: x\ntitle: X\n${what}\nenvironments: [a]\n`)[0]).toMatch(expected)
})
test.each([
  ['a zone that is none', 'timezone: Europe/Skerrow, start: 2026-11-01T22:00', /^5 when.timezone: there is no time zone “Europe\/Skerrow”/],
  ['a recurrence that is none', 'timezone: UTC, start: 2026-11-01T22:00, rule: FREQ=OFTEN', /^5 when.rule: /],
  ['an end before the start', 'timezone: UTC, start: 2026-11-01T22:00, until: 2026-10-01T22:00', /^5 when.until: it ends before it starts$/],
  ['a day that is none', 'timezone: UTC, start: 2026-02-30T22:00', /^5 when.start: /],
  ['a blackout the wrong way round', 'timezone: UTC, start: 2026-11-01T22:00, blackout: [{ start: 2026-12-02T00:00, end: 2026-12-01T00:00 }]', /^5 when.blackout.0.end: /],
])('%s is told at its field', (_, when, expected) => {
  expect(problems(`rotation: x\ntitle: X\nwhat: { rule: smoke }\nenvironments: [a]\nwhen: { ${when} }\n`)[0]).toMatch(expected)
})
test('what changed is said in words', () => {
  const before = parse(FILE).definition!
  expect(describeChanges(before, parse(FILE.replace('retries: 2', 'retries: 0').replace('firefox-windows', 'webkit-macos')).definition!)).toEqual(['environments: chromium-debian, firefox-windows became chromium-debian, webkit-macos', 'retries: 2 became 0'])
})
