import {
  canRehearse,
  rehearsalRequest,
  servedEnvironments,
  usualRehearsal,
  whereRehearsalIsRead,
  type RunViewModel,
  type StartOptions,
} from '.'

const environment = (key: string, seats: number, simulated = false) => ({ key, title: key, seats, simulated })
const OPTIONS: StartOptions = {
  suites: [],
  environments: [
    environment('chromium-windows', 4, true),
    environment('firefox-debian', 0),
    environment('chromium-debian', 2),
  ],
  cases: [],
  builds: ['2031.3.2', '2031.3.1'],
  stages: [],
  people: [],
}
const CHOICE = { environment: 'chromium-debian', build: ' 2031.3.2 ', row: 1, given: {} } as const

describe('it begins with', () => {
  test('a real browser that is there, the newest build, the first row', () => {
    expect(usualRehearsal(OPTIONS)).toEqual({
      environment: 'chromium-debian',
      build: '2031.3.2',
      row: 1,
      given: {},
    })
  })

  test('a simulated browser where there is no other', () => {
    const environments = OPTIONS.environments.filter(({ key }) => key !== 'chromium-debian')
    expect(usualRehearsal({ ...OPTIONS, environments }).environment).toBe('chromium-windows')
  })

  test('nothing, where nobody is there to carry it out: it cannot start', () => {
    const options = { ...OPTIONS, environments: [environment('firefox-debian', 0)] }
    expect(servedEnvironments(options)).toEqual([])
    expect(canRehearse(usualRehearsal(options))).toBe(false)
  })
})

describe('a live session', () => {
  test('only where a browser can be steered', () => {
    expect(servedEnvironments(OPTIONS, true).map(({ key }) => key)).toEqual(['chromium-debian'])
  })
  test('begins as it is wished, where that can be', () => {
    const usual = { environment: 'chromium-debian', build: '2031.3.1', row: 2 }
    expect(usualRehearsal(OPTIONS, { live: true, usual })).toEqual({ ...usual, given: {} })
    const elsewhere = { ...usual, environment: 'chromium-windows' }
    expect(usualRehearsal(OPTIONS, { live: true, usual: elsewhere }).environment).toBe('chromium-debian')
  })
  test('is one, and has longer than a rehearsal', () => {
    const body = rehearsalRequest({ title: 'Board', cases: ['board'], live: true }, CHOICE)
    expect(body).toMatchObject({ live: true, rehearsal: true, limitMs: 20 * 60_000 })
  })
})

test.each([
  ['a build is missing', { build: '  ' }, false],
  ['an environment is missing', { environment: '' }, false],
  ['all is there', {}, true],
])('%s', (_, change, can) => {
  expect(canRehearse({ ...CHOICE, ...change })).toBe(can)
})

describe('what is asked', () => {
  const usual = { environments: ['chromium-debian'], build: '2031.3.2', retries: 0, rehearsal: true }

  test('a case of several rows: the row that was chosen, or all', () => {
    const what = { title: 'Board', cases: ['board'], rows: 3 }
    expect(rehearsalRequest(what, { ...CHOICE, row: 2 })).toMatchObject({
      ...usual,
      cases: ['board'],
      row: 2,
    })
    expect(rehearsalRequest(what, { ...CHOICE, row: 'all' })).not.toHaveProperty('row')
  })

  test('a case without rows has none to choose', () => {
    expect(rehearsalRequest({ title: 'Board', cases: ['board'] }, CHOICE)).not.toHaveProperty('row')
  })

  test('a suite, and no cases', () => {
    const request = rehearsalRequest({ title: 'Gate', suite: 'gate' }, CHOICE)
    expect(request).toMatchObject({ ...usual, suite: 'gate' })
    expect(request).not.toHaveProperty('cases')
  })

  test('values of parameters, where some were given', () => {
    const what = { title: 'Board', cases: ['board'], parameters: { party: '2' } }
    expect(rehearsalRequest(what, CHOICE)).not.toHaveProperty('with')
    expect(rehearsalRequest(what, { ...CHOICE, given: { party: '7' } })).toHaveProperty('with', {
      party: '7',
    })
  })
})

describe('it is read', () => {
  const run = (...attempts: (string | null)[]) =>
    ({
      run: { id: 5 },
      groups: [
        {
          title: '',
          rows: [
            {
              title: 'Board',
              row: null,
              caseKey: 'board',
              cells: attempts.map((attemptId) => ({ attemptId })),
            },
          ],
        },
      ],
    }) as unknown as RunViewModel

  test.each<[string, RunViewModel, boolean, string | undefined]>([
    ['a single case: in its log', run('a1'), true, '/attempts/a1'],
    ['a single case before a seat has it: not yet', run(null), true, undefined],
    ['a single case before it is laid out: not yet', run(), true, undefined],
    ['a case of several rows: in the run', run('a1', null), true, '/runs/5'],
    ['a suite: in the run', run(null), false, '/runs/5'],
  ])('%s', (_, viewModel, isSingle, path) => {
    expect(whereRehearsalIsRead(viewModel, { cases: isSingle ? ['board'] : ['board', 'pay'] })).toBe(path)
  })

  test('a live session: its browser, brought to a step', () => {
    const what = { cases: ['board'], live: true }
    expect(whereRehearsalIsRead(run('a1'), what)).toBe('/live/a1')
    expect(whereRehearsalIsRead(run('a1'), { ...what, before: 'main.3' })).toBe('/live/a1?before=main.3')
    expect(whereRehearsalIsRead(run('a1'), { ...what, guided: 'g1' })).toBe('/live/a1?guided=g1')
  })
})
