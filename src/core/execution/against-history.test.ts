import { againstHistory, type PastFailure } from './against-history'

const NOW = '2026-11-24T12:00:00.000Z'
let n = 0
const failure = (more: Partial<PastFailure> = {}): PastFailure => ({
  kind: 'dialog',
  message: 'a dialog “Storm notice” is open',
  environment: { key: 'wide' },
  attempt: `a${++n}`,
  caseRun: `c${n}`,
  title: 'Single',
  run: 'Night 1',
  path: 'main.0',
  at: '2026-11-24T11:00:00.000Z',
  outcome: 'recovered',
  ...more,
})
const use = (rule: string, result: 'worked' | 'failed' = 'worked') => ({ use: { rule, result, ms: 1000 } })
const storm = { id: 'p/storm', when: { kinds: ['dialog' as const], message: 'Storm' } }
const ask = (rules: Parameters<typeof againstHistory>[0], past: PastFailure[]) =>
  againstHistory(rules, past, { now: NOW, days: 30 })

test('what it would have matched, whoever dealt with it; what it did; what that cost', () => {
  const past = [
    failure(use('p/storm')),
    failure({ ...use('p/storm'), outcome: 'errored' }),
    failure({ ...use('p/storm', 'failed'), environment: { key: 'narrow' } }),
    failure({ outcome: 'errored' }),
    failure({ kind: 'page', message: 'Storm', outcome: 'errored' }),
  ]
  expect(ask([storm], past).rules).toEqual([
    {
      rule: 'p/storm',
      matched: 4,
      environments: 2,
      byDay: [...Array<number>(29).fill(0), 4],
      used: 3,
      helped: 1,
      costMs: 3000,
      sameCheck: { failed: 0, of: 3 },
      hides: false,
      notHelped: [past[1]!, past[2]!].map(({ attempt, title, run, message }) => ({
        attempt,
        title,
        run,
        message,
      })),
    },
  ])
})

test('by day, the newest last; what is older is not counted', () => {
  const { byDay, matched } = ask(
    [storm],
    [
      '2026-11-24T11:59:00.000Z',
      '2026-11-23T11:59:00.000Z',
      '2026-10-25T12:01:00.000Z',
      '2026-10-24T11:00:00.000Z',
    ].map((at) => failure({ at })),
  ).rules[0]!
  expect([
    byDay.length,
    byDay[29],
    byDay[28],
    byDay[0],
    byDay.reduce((sum, one) => sum + one, 0),
    matched,
  ]).toEqual([30, 1, 1, 1, 3, 4])
})

describe('a rule hides something', () => {
  const late = { id: 'p/late', when: { kinds: ['check' as const] } }
  const uses = (count: number, failing: number) =>
    Array.from({ length: count }, (_, i) => {
      const one = failure({
        kind: 'check',
        message: 'it is 3',
        ...use('p/late'),
        outcome: i < failing ? 'failed' : 'recovered',
      })
      return i < failing
        ? [
            one,
            failure({
              kind: 'check',
              message: 'it is 3',
              caseRun: one.caseRun,
              outcome: 'failed',
              at: '2026-11-24T11:00:05.000Z',
            }),
          ]
        : [one]
    }).flat()
  test('when the same check fails after half of its uses', () =>
    expect(ask([late], uses(6, 3)).rules[0]).toMatchObject({
      used: 6,
      sameCheck: { failed: 3, of: 6 },
      hides: true,
    }))
  test('not when it fails after few', () =>
    expect(ask([late], uses(6, 2)).rules[0]).toMatchObject({ sameCheck: { failed: 2, of: 6 }, hides: false }))
  test('not when there were too few to say', () =>
    expect(ask([late], uses(4, 4)).rules[0]).toMatchObject({ sameCheck: { failed: 4, of: 4 }, hides: false }))
  test('another check, or one before it, is another matter', () => {
    const past = uses(6, 0)
    for (const { caseRun } of [...past])
      past.push(
        failure({ kind: 'check', caseRun, path: 'main.9', at: '2026-11-24T11:00:05.000Z' }),
        failure({ kind: 'check', caseRun, at: '2026-11-24T10:00:00.000Z' }),
      )
    expect(ask([late], past).rules[0]).toMatchObject({ sameCheck: { failed: 0 }, hides: false })
  })
})

test('what no rule catches, alike together, the most frequent first', () => {
  const past = [
    failure(),
    ...['it took 31 s', 'it took 7 s'].map((message) => failure({ kind: 'page', message })),
    failure({ kind: 'target', message: '“Pay” is not there' }),
    failure({ kind: 'page', message: 'gone', ...use('p/storm') }),
  ]
  expect(ask([storm], past).uncaught).toEqual([
    { kind: 'page', message: 'it took 7 s', count: 2, attempt: past[2]!.attempt },
    { kind: 'target', message: '“Pay” is not there', count: 1, attempt: past[3]!.attempt },
  ])
})
