import fc from 'fast-check'
import type { TestCase } from '../model'
import {
  AGENT_LOSSES_MOST,
  comparePaths,
  decide,
  describeCounts,
  draftDefect,
  NO_COUNTS,
  outcomeOfFailure,
  outlineOf,
  randomFrom,
  seedOf,
  type AttemptEvent,
  type Ended,
  type FailureKind,
  type NumberedEvent,
} from '.'

describe('what follows the end of an attempt', () => {
  const failed: Ended = { outcome: 'failed', kind: 'check' }
  const lost: Ended = { outcome: 'errored', kind: 'agent' }
  const passed: Ended = { outcome: 'passed' }
  test.each<{ why: string; last: Ended; before: Ended[]; retries: number; on?: FailureKind[]; next: string }>(
    [
      { why: 'passed at once', last: passed, before: [], retries: 2, next: 'passed' },
      {
        why: 'passed after a retry is recovered, never silently passed',
        last: passed,
        before: [failed],
        retries: 1,
        next: 'recovered',
      },
      {
        why: 'passed after a lost agent only is passed',
        last: passed,
        before: [lost],
        retries: 0,
        next: 'passed',
      },
      { why: 'failed with a retry left', last: failed, before: [], retries: 1, next: 'again' },
      { why: 'failed with none left', last: failed, before: [failed], retries: 1, next: 'failed' },
      { why: 'a lost agent uses no retry', last: lost, before: [], retries: 0, next: 'again' },
      { why: 'a retry is still there after a loss', last: failed, before: [lost], retries: 1, next: 'again' },
      {
        why: 'a case that loses every agent ends',
        last: lost,
        before: Array<Ended>(AGENT_LOSSES_MOST - 1).fill(lost),
        retries: 2,
        next: 'errored',
      },
      {
        why: 'not of a kind that is tried again',
        last: failed,
        before: [],
        retries: 1,
        on: ['page'],
        next: 'failed',
      },
      {
        why: 'of a kind that is tried again',
        last: failed,
        before: [],
        retries: 1,
        on: ['check'],
        next: 'again',
      },
      {
        why: 'a rule was used, and it passed',
        last: { outcome: 'passed', recovered: true },
        before: [],
        retries: 0,
        next: 'recovered',
      },
      {
        why: 'a rule was used before an agent was lost',
        last: passed,
        before: [{ ...lost, recovered: true }],
        retries: 0,
        next: 'recovered',
      },
      {
        why: 'a rule was used, and it failed all the same',
        last: { ...failed, recovered: true },
        before: [],
        retries: 0,
        next: 'failed',
      },
      {
        why: 'a rule skips the case: no more tries',
        last: { outcome: 'skipped', kind: 'page' },
        before: [],
        retries: 2,
        next: 'skipped',
      },
      {
        why: 'cancelled stays cancelled',
        last: { outcome: 'cancelled' },
        before: [failed],
        retries: 2,
        next: 'cancelled',
      },
    ],
  )('$why', ({ last, before, retries, on, next }) => {
    const decision = decide(last, before, { case: retries, ...(on && { on }) })
    expect(decision.next === 'again' ? 'again' : decision.outcome).toBe(next)
  })

  test('property: it always ends, after at most retries + losses + 1 attempts', () => {
    const ended = fc.constantFrom<Ended>(failed, lost, { outcome: 'errored', kind: 'target' })
    fc.assert(
      fc.property(fc.infiniteStream(ended), fc.integer({ min: 0, max: 2 }), (endings, retries) => {
        const before: Ended[] = []
        for (const last of endings) {
          const decision = decide(last, before, { case: retries })
          if (decision.next === 'ended') break
          before.push(last)
        }
        expect(before.length).toBeLessThanOrEqual(retries + AGENT_LOSSES_MOST - 1)
      }),
    )
  })
})

test('only a check that did not hold is a failure', () =>
  expect([outcomeOfFailure('check'), outcomeOfFailure('dialog')]).toEqual(['failed', 'errored']))

test('counts in words leave out what is zero', () => {
  expect(describeCounts({ ...NO_COUNTS, passed: 412, recovered: 9, failed: 17 })).toBe(
    '412 of 438 passed, 9 recovered, 17 failed',
  )
  expect(describeCounts({ ...NO_COUNTS, passed: 1, running: 1, waiting: 2 })).toBe('1 of 4 passed, 3 to go')
  expect(describeCounts(NO_COUNTS)).toBe('nothing to run')
})

const numbered = (events: AttemptEvent[]): NumberedEvent[] =>
  events.map((event, i) => ({ ...event, no: i + 1 }))
const start = (path: string, object: string, atMs = 0): AttemptEvent => ({
  type: 'step-started',
  path,
  atMs,
  words: { verb: 'click', object, detail: '' },
})
const end = (path: string, outcome: 'passed' | 'failed' | 'errored', extra: object = {}): AttemptEvent => ({
  type: 'step-ended',
  path,
  outcome,
  ms: 100,
  atMs: 100,
  ...extra,
})
const testCase: TestCase = {
  kind: 'case',
  key: 'c',
  title: 'Refund',
  tags: [],
  priority: 'normal',
  requires: [],
  parameters: {},
  uses: [],
  needs: [],
  entry: 'signed-out',
  steps: [
    { verb: 'use', routine: 'r', with: {} },
    { verb: 'check', of: { testId: 'total' }, subject: 'text', matcher: { equals: '1' }, soft: false },
    { verb: 'click', on: { text: 'Later' } },
  ],
  undo: [
    { verb: 'click', on: { text: 'First undo' } },
    { verb: 'click', on: { text: 'Second undo' } },
  ],
}
const routines = [
  {
    kind: 'routine' as const,
    key: 'r',
    title: 'R',
    parameters: {},
    undo: [],
    steps: [{ verb: 'click' as const, on: { text: 'Inner' } }],
  },
]

describe('the outline', () => {
  const failure = {
    kind: 'check' as const,
    message: 'The text is not what was expected',
    expected: '1',
    actual: '2',
  }
  const events = numbered([
    start('entry.0', 'Entry', 0),
    end('entry.0', 'passed'),
    start('main.0', 'r', 10),
    start('main.0.0', 'Inner', 12),
    { type: 'screen', path: 'main.0.0', phase: 'after', hash: 'h', width: 4, height: 3, atMs: 15 },
    { type: 'request', path: 'main.0.0', method: 'GET', url: '/x', status: 200, ms: 3, atMs: 14 },
    end('main.0.0', 'passed'),
    end('main.0', 'passed'),
    start('main.1', 'total', 50),
    end('main.1', 'failed', { failure }),
  ])
  test('shows what happened, and what was not reached', () => {
    const lines = outlineOf(testCase, routines, events)
    expect(lines.map(({ path, mark }) => `${path} ${mark}`)).toEqual([
      'entry.0 passed',
      'main.0 passed',
      'main.0.0 passed',
      'main.1 failed',
      'main.2 skipped',
      'undo.1 skipped',
      'undo.0 skipped',
    ])
    expect(lines[2]).toMatchObject({ depth: 1, after: { hash: 'h' }, requests: [{ url: '/x' }] })
    expect(lines.filter(({ failing }) => failing).map(({ path }) => path)).toEqual(['main.1'])
  })
  test('the order of arrival does not matter', () =>
    expect(outlineOf(testCase, routines, events.toReversed())).toEqual(outlineOf(testCase, routines, events)))
  test('while it runs, the rest waits', () =>
    expect(outlineOf(testCase, routines, events.slice(0, 4)).at(-1)!.mark).toBe('waiting'))
  test('a failure inside marks its parents as the way, not as the failure', () => {
    const lines = outlineOf(
      testCase,
      routines,
      numbered([
        start('main.0', 'r'),
        start('main.0.0', 'Inner'),
        end('main.0.0', 'errored', { failure: { kind: 'target', message: 'gone' } }),
        end('main.0', 'errored'),
      ]),
    )
    expect(lines.filter(({ onTheWay }) => onTheWay).map(({ path, failing }) => [path, failing])).toEqual([
      ['main.0', false],
      ['main.0.0', true],
    ])
  })
  test('property: paths are ordered totally, parents first', () => {
    const path = fc
      .tuple(fc.constantFrom('entry', 'main', 'undo'), fc.array(fc.nat(12), { minLength: 1, maxLength: 3 }))
      .map(([phase, numbers]) => [phase, ...numbers].join('.'))
    fc.assert(
      fc.property(path, path, path, (a, b, c) => {
        expect(Math.sign(comparePaths(a, b))).toBe(-Math.sign(comparePaths(b, a)) + 0)
        if (comparePaths(a, b) <= 0 && comparePaths(b, c) <= 0)
          expect(comparePaths(a, c)).toBeLessThanOrEqual(0)
        expect(comparePaths(a, `${a}.0`)).toBeLessThan(0)
      }),
    )
  })
  test('a defect is drafted from the failing check', () => {
    const draft = draftDefect({
      caseTitle: 'Refund',
      applications: ['desk'],
      environment: 'Chromium',
      build: '1',
      lines: outlineOf(testCase, routines, events),
    })
    expect(draft).toEqual({
      title: 'Refund: total is 2, expected 1',
      steps: '1. Click Entry\n2. Click Inner\n3. Click total',
      expected: 'Total: 1',
      actual: 'Total: 2',
    })
  })
  test('steps that only look, or let time pass, are left out of it, but for the one that failed', () => {
    const did = (path: string, verb: string, object: string, mark: 'passed' | 'failed') => ({
      ...outlineOf(testCase, routines, events)[0]!,
      path,
      startMs: 1,
      words: { verb, object, detail: '' },
      mark,
      failing: mark === 'failed',
    })
    const lines = [
      did('main.0', 'click', 'Find sailings', 'passed'),
      did('main.1', 'wait', 'the list', 'passed'),
      did('main.2', 'check', 'the first fare', 'passed'),
      did('main.3', 'check', 'the last fare', 'failed'),
      did('undo.0', 'click', 'Cancel', 'passed'),
    ]
    const about = { caseTitle: 'Fares', applications: [], environment: '', build: '' }
    expect(draftDefect({ ...about, lines }).steps).toBe('1. Click Find sailings\n2. Check the last fare')
  })
  test('a draft without a failure says so and stays short', () =>
    expect(
      draftDefect({ caseTitle: 'x'.repeat(300), applications: [], environment: '', build: '', lines: [] })
        .title,
    ).toHaveLength(120))
})

describe('randomness', () => {
  test('the same seed gives the same numbers, another gives others', () => {
    const take = (seed: number) => Array.from({ length: 5 }, randomFrom(seed))
    expect(take(7)).toEqual(take(7))
    expect(take(7)).not.toEqual(take(8))
  })
  test('numbers spread over [0, 1)', () => {
    const random = randomFrom(seedOf('spread'))
    const buckets = Array<number>(10).fill(0)
    for (let i = 0; i < 20_000; i++) buckets[Math.floor(random() * 10)]!++
    expect(Math.min(...buckets)).toBeGreaterThan(1800)
  })
})
