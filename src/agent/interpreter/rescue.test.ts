import type { Routine, Step } from '@/core/model'
import { attempt, check, click, rule, storm } from './testing/words-page'

const goes = (there: Set<string>) => ({ Understood: () => void there.delete('storm') })

test('a dialog is put away in the same browser, and the step done again', async () => {
  const there = ['storm', 'Understood']
  const { result, done, uses, lines, failing } = await attempt([click('Go')], [storm], {
    there,
    effects: (on: Set<string>) => ({
      Understood: () => {
        on.delete('storm')
        on.add('Go')
      },
    }),
  })
  expect([result.outcome, uses]).toEqual(['passed', ['p/storm worked']])
  expect(done).toEqual(['Go', 'Understood', 'Go'])
  expect([lines, failing]).toEqual([
    ['main.0~1 errored', 'main.0!1 recovered', 'main.0!1.0 passed', 'main.0 passed'],
    [],
  ])
})

test('what no rule fits stays a failure, and nothing was recovered', async () => {
  const { result, uses, lines, failing } = await attempt([click('Go')], [storm], { there: [] })
  expect(result).toMatchObject({ outcome: 'errored', failure: { kind: 'target', path: 'main.0' } })
  expect(uses).toEqual([])
  expect([lines, failing]).toEqual([['main.0 errored'], ['main.0']])
})

test('a rule whose steps fail hands on to the next; both are in the log, after the step that failed', async () => {
  const { result, uses, lines, failing } = await attempt(
    [click('Go'), click('On')],
    [rule('first', { do: [click('Nowhere')] }), rule('second', { do: [click('Also nowhere')] })],
    { there: ['On'] },
  )
  expect([result.outcome, uses]).toEqual(['errored', ['p/first failed', 'p/second failed']])
  expect([lines, failing]).toEqual([
    [
      'main.0 errored',
      'main.0!1 errored',
      'main.0!1.0 errored',
      'main.0!2 errored',
      'main.0!2.0 errored',
      'main.1 skipped',
    ],
    ['main.0'],
  ])
})

test('no more often than the rule says, earlier attempts included', async () => {
  const helps = rule('again', { do: [{ verb: 'note', text: 'look again' }], most: 3 })
  const { done, lines, failing } = await attempt([click('Go')], [helps], {
    there: [],
    recovery: { history: [{ rule: 'p/again', result: 'worked' }] },
  })
  expect(done).toEqual(['Go', 'Go', 'Go'])
  expect([lines, failing]).toEqual([
    [
      'main.0~1 errored',
      'main.0!1 recovered',
      'main.0!1.0 passed',
      'main.0~2 errored',
      'main.0!2 recovered',
      'main.0!2.0 passed',
      'main.0 errored',
    ],
    ['main.0'],
  ])
})

test('waiting grows, and is not taken off the case’s own time', async () => {
  const { result, events } = await attempt(
    [click('Go')],
    [rule('wait', { waitMs: 50_000, grow: 2, most: 2, do: [{ verb: 'note', text: 'n' }] })],
    { there: [], recovery: { budgetMs: 200_000 } },
  )
  expect(events.flatMap((event) => (event.type === 'recovery-ended' ? [event.ms] : []))).toEqual([
    50_000, 100_000,
  ])
  expect(result.failure).toMatchObject({ kind: 'target' }) // and not the time limit of 60 s
})

test('a failure inside routines and blocks is looked at where it is, once', async () => {
  const routine: Routine = {
    kind: 'routine',
    key: 'r',
    title: 'R',
    parameters: {},
    steps: [click('Ready'), click('Go')],
    undo: [],
  }
  const { result, done, lines } = await attempt(
    [{ verb: 'block', title: 'B', steps: [{ verb: 'use', routine: 'r', with: {} }] }],
    [storm],
    {
      there: ['Ready', 'storm', 'Understood'],
      effects: (on: Set<string>) => ({
        Understood: () => {
          on.delete('storm')
          on.add('Go')
        },
      }),
      routines: [routine],
    },
  )
  expect(result.outcome).toBe('passed')
  expect(done).toEqual(['Ready', 'Go', 'Understood', 'Go'])
  expect(lines.filter((line) => line.includes('0.0.1'))).toEqual([
    'main.0.0.1~1 errored',
    'main.0.0.1!1 recovered',
    'main.0.0.1!1.0 passed',
    'main.0.0.1 passed',
  ])
})

test('conditions see the tag of the step or of what it stands in, the application and the environment', async () => {
  const only = rule('only', {
    when: { step: 'pay', application: 'desk', environment: { browser: ['Firefox'] } },
    do: [click('Understood')],
  })
  const block = (tag?: string): Step => ({
    verb: 'block',
    title: 'Pay',
    steps: [click('Go')],
    ...(tag && { tag }),
  })
  const page = {
    there: ['Understood'],
    effects: (on: Set<string>) => ({ Understood: () => void on.add('Go') }),
  }
  const open: Step = { verb: 'open', address: 'desk:/' }
  expect((await attempt([open, block('pay')], [only], page)).result.outcome).toBe('passed')
  expect((await attempt([open, block()], [only], page)).result.outcome).toBe('errored')
  expect((await attempt([block('pay')], [only], page)).result.outcome).toBe('errored')
})

describe('where it goes on', () => {
  test('at the next check, of these steps or of those around', async () => {
    const { result, done, lines } = await attempt(
      [
        { verb: 'block', title: 'B', steps: [click('Gone'), click('Passed over')] },
        click('Passed over too'),
        check('Total'),
        click('Go'),
      ],
      [rule('r', { resume: 'check', do: [click('Go')] })],
      { there: ['Go', 'Total'] },
    )
    expect(result.outcome).toBe('passed')
    expect(done).toEqual(['Gone', 'Go', 'Go'])
    expect(lines).toEqual([
      'main.0 skipped',
      'main.0.0 errored',
      'main.0.0!1 recovered',
      'main.0.0!1.0 passed',
      'main.0.1 skipped',
      'main.1 skipped',
      'main.2 passed',
      'main.3 passed',
    ])
  })
  test('a check that failed is looked at again', async () =>
    expect(
      (
        await attempt([check('Total')], [rule('r', { resume: 'check', do: [click('Go')] })], {
          effects: (on: Set<string>) => ({ Go: () => void on.add('Total') }),
        })
      ).result.outcome,
    ).toBe('passed'))
  test('no check follows: the failure stands', async () =>
    expect(
      (await attempt([click('Gone'), click('Go')], [rule('r', { resume: 'check', do: [click('Go')] })]))
        .result,
    ).toMatchObject({ outcome: 'errored', failure: { message: 'Gone is not on the page' } }))
  test('from the beginning, what was done undone before', async () => {
    const { result, done, lines } = await attempt(
      [click('Go'), click('Later')],
      [rule('r', { resume: 'case', most: 1, do: [click('Understood')] })],
      {
        there: ['Go', 'Understood', 'Back'],
        effects: (on: Set<string>) => ({ Understood: () => void on.add('Later') }),
        testCase: { undo: [click('Back')] },
      },
    )
    expect(result.outcome).toBe('passed')
    expect(done).toEqual(['Go', 'Later', 'Understood', 'Back', 'Go', 'Later', 'Back'])
    expect(lines).toEqual([
      'main~1.0 passed',
      'main~1.1 errored',
      'main~1.1!1 recovered',
      'main~1.1!1.0 passed',
      'undo~1.0 passed',
      'main.0 passed',
      'main.1 passed',
      'undo.0 passed',
    ])
  })
  test('not at all: the case is skipped, and says why', async () =>
    expect((await attempt([click('Gone')], [rule('r', { resume: 'skip-case' })])).result).toMatchObject({
      outcome: 'skipped',
      failure: { message: 'Skipped, the recovery rule p/r says so: Gone is not on the page' },
    }))
  test('nothing of the run any more', async () =>
    expect((await attempt([click('Gone')], [rule('r', { resume: 'stop-run' })])).result).toMatchObject({
      outcome: 'errored',
      stopRun: 'C: Gone is not on the page; the recovery rule p/r says so',
    }))
})

test('soft checks and undo ask no rules', async () => {
  const { done } = await attempt(
    [
      {
        verb: 'check',
        of: { text: 'Total' },
        subject: 'text',
        matcher: { equals: '5' },
        soft: true,
        limitMs: 100,
      },
      click('Go'),
    ],
    [rule('r', { do: [click('Rescue')] })],
    { there: ['Total', 'Go'], testCase: { undo: [click('Nowhere')] } },
  )
  expect(done).toEqual(['Go', 'Nowhere'])
})

test('the page stays as it was: the storm is gone for good', async () => {
  const { result } = await attempt([click('Go'), click('Go')], [{ ...storm, most: 1 }], {
    there: ['storm', 'Understood'],
    effects: (on: Set<string>) => ({
      ...goes(on),
      Understood: () => {
        on.delete('storm')
        on.add('Go')
      },
    }),
  })
  expect(result.outcome).toBe('passed')
})
