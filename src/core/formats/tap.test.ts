import fc from 'fast-check'
import { read, refusal } from './testing/reading'

describe('TAP', () => {
  const tap = (...lines: string[]) => lines.join('\n')
  test('points, directives, times', () => {
    const { summary, cases } = read(
      tap(
        'TAP version 14',
        '1..6',
        'ok 1 - search # time=12.5ms',
        'not ok 2 - pay',
        '  ---',
        '  message: "41.50 is not 43.20"',
        '  duration_ms: 250',
        '  ...',
        'ok 3 - later # SKIP no card',
        'not ok 4 # TODO later',
        'ok 5 - done already # TODO',
        'ok 6 - a \\# b',
        '# [[ATTACHMENT|x.png]]',
      ),
    )
    expect(summary).toEqual({
      format: 'tap',
      suites: 1,
      cases: 6,
      outcomes: { passed: 3, recovered: 0, failed: 1, errored: 0, skipped: 2, cancelled: 0 },
      ms: 263,
      attachments: 1,
      problems: [],
    })
    expect(cases.map(({ name }) => name)).toEqual([
      'search',
      'pay',
      'later',
      'case 4',
      'done already',
      'a # b',
    ])
    expect(cases[1]!.message).toBe('41.50 is not 43.20')
  })
  test('announced, but missing', () => {
    const { summary } = read(tap('1..4', 'ok 1', 'ok 3'))
    expect(summary).toMatchObject({
      cases: 4,
      outcomes: { passed: 2, errored: 2 },
      problems: [{ line: 3, what: '1..4 announced, missing: 2, 4' }],
    })
  })
  test('after Bail out the rest is cancelled', () => {
    const { summary } = read(tap('1..3', 'ok 1', 'Bail out! the sea is rough', 'ok 2'))
    expect(summary).toMatchObject({
      cases: 3,
      outcomes: { passed: 1, cancelled: 2 },
      problems: [{ line: 3, what: 'Bail out: the sea is rough; 2 cancelled' }],
    })
  })
  test('subtests are suites, and what sums them up is no case', () => {
    const { summary, cases } = read(
      tap(
        '1..2',
        '# Subtest: gate',
        '    ok 1 - board',
        '    # Subtest: deep',
        '        not ok 1 - count',
        '        1..1',
        '    not ok 2 - deep',
        '    1..2',
        'not ok 1 - gate',
        'ok 2 - after',
      ),
    )
    expect(summary).toMatchObject({ suites: 3, cases: 3, outcomes: { passed: 2, failed: 1 }, problems: [] })
    expect(cases.map(({ suites, name }) => [...suites, name].join('/'))).toEqual([
      'gate/board',
      'gate/deep/count',
      'after',
    ])
  })
  const nested = (comments: 'above' | 'beside') => {
    const lines = ['1..1']
    const at = (depth: number, text: string) => lines.push(`${' '.repeat(depth * 4)}${text}`)
    const names = ['quay', 'gate', 'deck']
    names.forEach((name, i) => at(comments === 'above' ? i : i + 1, `# Subtest: ${name}`))
    at(3, 'ok 1 - board')
    at(3, 'not ok 2 - count')
    at(3, '1..2')
    for (const depth of [2, 1]) {
      at(depth, `not ok 1 - ${names[depth]}`)
      at(depth, '1..1')
    }
    at(0, 'not ok 1 - quay')
    return lines.join('\n')
  }
  test.each(['above', 'beside'] as const)('subtests three deep, with their comments %s them', (comments) => {
    const { summary, cases } = read(nested(comments))
    expect(summary).toMatchObject({
      suites: 4,
      cases: 2,
      outcomes: { passed: 1, failed: 1 },
      problems: [],
    })
    expect(cases.map(({ suites, name }) => [...suites, name].join('/'))).toEqual([
      'quay/gate/deck/board',
      'quay/gate/deck/count',
    ])
  })
  test('no plan, a number twice, more than announced', () => {
    expect(read('ok\nok\n').summary.problems).toEqual([
      { line: 2, what: 'there is no plan, so nobody knows whether all came' },
    ])
    expect(read(tap('1..1', 'ok 1', 'ok 1', 'ok 2')).summary.problems).toEqual([
      { line: 3, what: 'number 1 was given before' },
      { line: 4, what: 'more than 1..1 announced: 2' },
    ])
  })
  test('nothing to run is no fault', () =>
    expect(read('1..0 # SKIP no agents').summary).toMatchObject({
      cases: 0,
      problems: [{ line: 1, what: 'nothing was run: no agents' }],
    }))
  test('a block that is never closed is a file cut off', () =>
    expect(refusal(tap('1..1', 'not ok 1 - a', '  ---', '  message: x'))).toBe(
      '4: it is cut off: the block of “a” (line 3) is not closed',
    ))
  test('programs may talk before they begin', () =>
    expect(read('starting up\nready\n1..1\nok 1\n').summary.cases).toBe(1))
  test('a plan beyond reason is refused', () =>
    expect(refusal('1..99999999\n')).toContain('it announces 99999999 cases'))
  test('property: pieces do not matter, and every announced case is counted once', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 12 }),
        fc.uniqueArray(fc.integer({ min: 1, max: 12 })),
        fc.boolean(),
        fc.nat(40),
        (count, numbers, bail, cut) => {
          const text = tap(
            `1..${count}`,
            ...numbers.map((n) => `${n % 3 ? 'ok' : 'not ok'} ${n} - n${n}`),
            ...(bail ? ['Bail out!'] : []),
            '',
          )
          const { summary } = read(text, [text.slice(0, cut), text.slice(cut)])
          expect(summary.cases).toBe(
            new Set([...numbers, ...Array.from({ length: count }, (_, i) => i + 1)]).size,
          )
          expect(Object.values(summary.outcomes).reduce((a, b) => a + b)).toBe(summary.cases)
        },
      ),
    )
  })
})
