import { BadInput } from '../compute/fault'
import { randomFrom, type Random } from './random'
import { FAILURE_KINDS, RESUMES } from '../model'
import { recover, whyUnfit, type RecoverInput, type RuleLimits } from './recover'

const rule = (id: string, more: Partial<RuleLimits> = {}): RuleLimits => ({
  id,
  when: {},
  resume: 'step',
  most: 3,
  ...more,
})
const ask = (
  rules: RuleLimits[],
  more: Partial<RecoverInput> = {},
  policy: Partial<RecoverInput['policy']> = {},
) =>
  recover({
    policy: { rules, retries: { case: 0 }, ...policy },
    failure: { kind: 'dialog', message: 'a storm notice' },
    history: [],
    ...more,
  })
const worked = (id: string | null) => ({ rule: id, result: 'worked' as const })
const failed = (id: string | null) => ({ rule: id, result: 'failed' as const })

test.each([
  { when: {}, fits: true, why: 'no condition fits everything' },
  { when: { kinds: ['dialog', 'page'] as const }, fits: true, why: 'one of the kinds' },
  { when: { kinds: ['page'] as const }, fits: false, why: 'none of the kinds' },
  { when: { message: 'storm' }, fits: true, why: 'found anywhere' },
  { when: { message: '^storm' }, fits: false, why: 'anchors hold' },
  { when: { message: 'STORM' }, fits: false, why: 'case counts' },
  { when: { step: 'pay' }, fits: true, why: 'the tag of the step' },
  { when: { step: 'pa' }, fits: false, why: 'a tag is not a part of one' },
  { when: { environment: { browser: 'Firefox' } }, fits: true, why: 'a value of the environment' },
  {
    when: { environment: { browser: ['Chromium', 'Firefox'], os: 'Debian 12' } },
    fits: true,
    why: 'of a list one, and every name',
  },
  {
    when: { environment: { browser: 'Firefox', locale: 'de-DE' } },
    fits: false,
    why: 'what is not known does not hold',
  },
  { when: { application: ['desk', 'gate'] }, fits: true, why: 'one of the applications' },
  { when: { application: 'booking' }, fits: false, why: 'another application' },
  { when: { kinds: ['dialog'] as const, message: 'sun' }, fits: false, why: 'all have to hold' },
])('$when fits: $fits ($why)', ({ when, fits }) => {
  const failure = {
    kind: 'dialog' as const,
    message: 'a storm notice',
    step: 'pay',
    environment: { browser: 'Firefox', os: 'Debian 12' },
    application: 'desk',
  }
  expect(whyUnfit(when as RuleLimits['when'], failure) === undefined).toBe(fits)
  expect(ask([rule('a', { when: when as RuleLimits['when'] })], { failure }).decision).toBe(
    fits ? 'recover' : 'fail',
  )
})

test('a failure without a tag or application does not meet a condition on them', () => {
  expect(
    ask([rule('a', { when: { step: 'pay' } }), rule('b', { when: { application: 'desk' } })]).decision,
  ).toBe('fail')
})

describe('which rule', () => {
  test('the first that fits', () =>
    expect(ask([rule('a', { when: { message: 'sun' } }), rule('b'), rule('c')])).toMatchObject({
      decision: 'recover',
      rule: 'b',
      resume: 'step',
    }))
  test('one whose steps failed hands on to the next', () =>
    expect(ask([rule('a'), rule('b')], { history: [failed('a')] })).toMatchObject({ rule: 'b' }))
  test('both failed: nothing is left', () =>
    expect(ask([rule('a'), rule('b')], { history: [failed('a'), failed('b')] })).toMatchObject({
      decision: 'fail',
      because: 'a: its steps failed; b: its steps failed; there is no second try',
    }))
  test('the next one worked: a later failure begins again at the first', () =>
    expect(ask([rule('a'), rule('b')], { history: [failed('a'), worked('b')] })).toMatchObject({ rule: 'a' }))
  test('a new try begins again at the first', () =>
    expect(ask([rule('a'), rule('b')], { history: [failed('a'), failed('b'), failed(null)] })).toMatchObject({
      rule: 'a',
    }))
  test('used up: the next that fits', () =>
    expect(ask([rule('a', { most: 2 }), rule('b')], { history: [worked('a'), worked('a')] })).toMatchObject({
      rule: 'b',
    }))
  test('uses whose steps failed count, and those before a new try', () =>
    expect(
      ask([rule('a', { most: 2 })], { history: [failed('a'), worked(null), worked('a')] }),
    ).toMatchObject({ decision: 'fail' }))
  test('used up in the run', () =>
    expect(ask([rule('a', { mostInRun: 5 })], { usedInRun: { a: 5 } })).toMatchObject({
      decision: 'fail',
      because: 'a: it was used 5 of 5 times in the run; there is no second try',
    }))
  test('most 0 is never', () => expect(ask([rule('a', { most: 0 })]).decision).toBe('fail'))
  test.each(['skip-case', 'stop-run'] as const)('%s is a recovery too', (resume) =>
    expect(ask([rule('a', { resume })])).toMatchObject({ decision: 'recover', resume }),
  )
})

describe('waiting and the budget', () => {
  test.each([
    [0, 100],
    [1, 200],
    [2, 400],
  ])('after %s uses it waits %s ms', (uses, waitMs) =>
    expect(
      ask([rule('a', { waitMs: 100, grow: 2 })], {
        history: Array.from({ length: uses }, () => worked('a')),
      }),
    ).toMatchObject({ waitMs }),
  )
  test('without grow it stays', () =>
    expect(ask([rule('a', { waitMs: 100 })], { history: [worked('a'), worked('a')] })).toMatchObject({
      waitMs: 100,
    }))
  test('a wait has a number, however it grows', () =>
    expect(
      ask([rule('a', { waitMs: 1000, grow: 1000, most: 1e6 })], {
        history: Array.from({ length: 200 }, () => worked('a')),
      }),
    ).toMatchObject({ waitMs: Number.MAX_SAFE_INTEGER }))
  test('spent: neither a rule nor a try', () =>
    expect(ask([rule('a')], { usedMs: 1000 }, { budgetMs: 1000, retries: { case: 2 } })).toMatchObject({
      decision: 'fail',
    }))
  test('a wait that does not fit is passed over', () =>
    expect(
      ask([rule('a', { waitMs: 300 }), rule('b', { waitMs: 200 })], { usedMs: 800 }, { budgetMs: 1000 }),
    ).toMatchObject({ rule: 'b' }))
})

describe('another try', () => {
  test('when no rule fits', () =>
    expect(ask([], {}, { retries: { case: 1 } })).toEqual({
      decision: 'retry',
      because: 'no rule fits; try 1 of 1 more',
    }))
  test('only on the kinds that are named', () =>
    expect([
      ask([], {}, { retries: { case: 1, on: ['page'] } }).decision,
      ask([], {}, { retries: { case: 1, on: ['dialog'] } }).decision,
    ]).toEqual(['fail', 'retry']))
  test('no more than said; uses of rules are no tries', () =>
    expect([
      ask([rule('a', { most: 1 })], { history: [worked('a'), worked(null)] }, { retries: { case: 2 } })
        .decision,
      ask(
        [rule('a', { most: 1 })],
        { history: [worked('a'), worked(null), failed(null)] },
        { retries: { case: 2 } },
      ).decision,
    ]).toEqual(['retry', 'fail']))
})

test('what makes no sense is told with its place, all of it', () => {
  expect(() => ask([rule('a', { when: { message: '(' } }), rule('a')], { history: [worked('b')] })).toThrow(
    new BadInput([
      {
        path: 'policy/rules/0/when/message',
        message: 'the expression /(/ cannot be used: a bracket is opened and not closed',
      },
      { path: 'policy/rules/1/id', message: '“a” is the id of another rule' },
      { path: 'history/0/rule', message: '“b” is no rule of the policy' },
    ]),
  )
})

test('whatever happens, it ends, and no bound is passed', () => {
  for (let seed = 0; seed < 400; seed++) {
    const random = randomFrom(seed)
    const policy = anyPolicy(random)
    const most = policy.rules.reduce((sum, { most: n }) => sum + n, 0) + policy.retries.case
    const history: RecoverInput['history'] = []
    const usedInRun: Record<string, number> = {}
    let usedMs = 0
    for (let step = 0; ; step++) {
      expect(step).toBeLessThanOrEqual(most) // it always ends
      const input = {
        policy,
        failure: {
          kind: FAILURE_KINDS[Math.floor(random() * FAILURE_KINDS.length)]!,
          message: random() < 0.5 ? 'storm' : 'sun',
        },
        history,
        usedMs,
        usedInRun,
      }
      const before = JSON.stringify(input)
      const found = recover(input)
      expect(JSON.stringify(input)).toBe(before)
      expect(recover(input)).toEqual(found)
      if (found.decision === 'fail') break
      if (policy.budgetMs !== undefined) expect(usedMs).toBeLessThan(policy.budgetMs)
      if (found.decision === 'retry') {
        history.push({ rule: null, result: 'worked' })
        continue
      }
      usedMs += found.waitMs
      if (policy.budgetMs !== undefined) expect(usedMs).toBeLessThanOrEqual(policy.budgetMs)
      usedMs += 10
      usedInRun[found.rule] = (usedInRun[found.rule] ?? 0) + 1
      history.push({ rule: found.rule, result: random() < 0.5 ? 'worked' : 'failed' })
    }
    for (const { id, most: n, mostInRun } of policy.rules) {
      expect(history.filter((use) => use.rule === id).length).toBeLessThanOrEqual(
        Math.min(n, mostInRun ?? Infinity),
      )
    }
    expect(history.filter((use) => use.rule === null).length).toBeLessThanOrEqual(policy.retries.case)
  }
})

function anyPolicy(random: Random): RecoverInput['policy'] {
  const upTo = (n: number) => Math.floor(random() * n)
  return {
    rules: Array.from({ length: upTo(5) }, (_, i) =>
      rule(`r${i}`, {
        when: {
          ...(random() < 0.4 && { kinds: [FAILURE_KINDS[upTo(8)]!] }),
          ...(random() < 0.4 && { message: 'storm' }),
        },
        resume: RESUMES[upTo(5)]!,
        most: upTo(4),
        ...(random() < 0.3 && { mostInRun: upTo(4) }),
        ...(random() < 0.5 && { waitMs: upTo(50), grow: 1 + upTo(3) }),
      }),
    ),
    retries: { case: upTo(3), ...(random() < 0.5 && { on: FAILURE_KINDS.filter(() => random() < 0.5) }) },
    ...(random() < 0.5 && { budgetMs: upTo(200) }),
  }
}
