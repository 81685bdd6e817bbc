import { NO_COUNTS } from '../execution'
import { briefing, greeting, gridOf, lanesOf, plural, type BriefingFacts, type CaseRunFacts } from '.'

const quiet: BriefingFacts = {
  running: [],
  agents: { alive: 2, all: 2, lost: [] },
  defectsWaiting: 0,
  suites: 3,
}
const say = (facts: Partial<BriefingFacts>) =>
  briefing({ ...quiet, ...facts })
    .map(({ text }) => text)
    .join('')
const last: NonNullable<BriefingFacts['last']> = {
  id: 5,
  title: 'Night Full 318',
  build: '3',
  endedAgoMs: 7_200_000,
  counts: { ...NO_COUNTS, passed: 8 },
  failingCases: 0,
  newFailing: [],
}

describe('the briefing', () => {
  test.each<{ why: string; facts: Partial<BriefingFacts>; says: string }>([
    {
      why: 'nothing at all',
      facts: { suites: 0, agents: { alive: 0, all: 0, lost: [] } },
      says:
        'There are no suites yet. Read a repository with case files to begin. No agent has registered ' +
        'yet. Add one.',
    },
    {
      why: 'suites, no runs',
      facts: {},
      says: 'Nothing ran in the last day. 3 suites are ready to start. All 2 agents are here. ',
    },
    {
      why: 'all good',
      facts: { last },
      says: 'Night Full 318 ended 2 h ago: 8 of 8 passed; nothing failed. All 2 agents are here. ',
    },
    {
      why: 'one agent says nothing of all',
      facts: { last, agents: { alive: 1, all: 1, lost: [] } },
      says: 'Night Full 318 ended 2 h ago: 8 of 8 passed; nothing failed. ',
    },
    {
      why: 'failures, new ones named, the rest counted',
      facts: {
        last: {
          ...last,
          counts: { ...NO_COUNTS, passed: 5, recovered: 1, failed: 2, errored: 2 },
          failingCases: 3,
          previousTitle: 'Night Full 317',
          newFailing: ['A', 'B', 'C'].map((title, i) => ({
            title,
            attemptId: title,
            environments: i + 1,
            ofEnvironments: 2,
          })),
        },
      },
      says:
        'Night Full 318 ended 2 h ago: 5 of 10 passed, 1 recovered, 2 failed and 2 errored in 3 cases. ' +
        'New since Night Full 317, with build 3: A on 1 of 2 environments, B on every environment and 1 ' +
        'more. All 2 agents are here. ',
    },
    {
      why: 'a lost agent and a waiting defect',
      facts: { last, agents: { alive: 1, all: 2, lost: ['quill-07'] }, defectsWaiting: 1 },
      says:
        'Night Full 318 ended 2 h ago: 8 of 8 passed; nothing failed. quill-07 is not heard from. 1 ' +
        'defect waits for the tracker.',
    },
    {
      why: 'what runs',
      facts: { running: [{ id: 1, title: 'Smoke', counts: { ...NO_COUNTS, passed: 2, waiting: 2 } }] },
      says: 'Smoke (2 of 4) is running. All 2 agents are here. ',
    },
  ])('$why', ({ facts, says }) => expect(say(facts)).toBe(says))
  test('a new failure leads to its log, or to its run where there is no log', () => {
    const newFailing = ['A', null].map((attemptId) => ({
      title: attemptId ?? 'from elsewhere',
      attemptId,
      environments: 1,
      ofEnvironments: 1,
    }))
    const counts = { ...NO_COUNTS, failed: 2 }
    const facts = { ...quiet, last: { ...last, counts, failingCases: 2, previousTitle: 'x', newFailing } }
    const hrefOf = (title: string) => briefing(facts).find(({ text }) => text === title)?.href
    expect(hrefOf('A')).toBe('/attempts/A')
    expect(hrefOf('from elsewhere')).toBe('/runs/5?only=failed')
  })
  test('every figure is a link to what it counts', () =>
    expect(
      briefing({
        ...quiet,
        last: { ...last, counts: { ...NO_COUNTS, passed: 1, failed: 1 }, failingCases: 1 },
      })
        .filter(({ href }) => href)
        .map(({ text, href }) => `${text} ${href}`),
    ).toEqual(['1 of 2 passed /runs/5', '1 failed in 1 case /runs/5?only=failed']))
  test.each([
    [3, 'night'],
    [9, 'morning'],
    [12, 'afternoon'],
    [18, 'evening'],
  ])('at %d it is %s', (hour, part) => expect(greeting('Monday', hour)).toBe(`Monday ${part}`))
  test('plural', () =>
    expect([plural(1, 'case'), plural(0, 'case'), plural(2, 'entry', 'entries')]).toEqual([
      '1 case',
      '0 cases',
      '2 entries',
    ]))
})

describe('the pictures of a run', () => {
  const run = (position: number, environment: string, extra: Partial<CaseRunFacts> = {}): CaseRunFacts => ({
    id: `${position}${environment}`,
    position,
    caseKey: `c${position}`,
    title: `C${position}`,
    groups: ['G'],
    environment,
    rowIndex: null,
    rowCount: null,
    mark: 'passed',
    attempts: 1,
    failureKind: null,
    failureMessage: null,
    durationMs: 1,
    estimateMs: 1,
    lastAttempt: null,
    screen: null,
    onlyAgent: '',
    agent: null,
    ...extra,
  })
  test('one row a position, one column an environment, gaps where nothing ran', () => {
    const groups = gridOf(
      [
        run(0, 'a'),
        run(0, 'b'),
        run(1, 'b', { rowIndex: 2, rowCount: 3 }),
        run(2, 'a', { groups: ['H', 'I'] }),
      ],
      ['a', 'b'],
    )
    expect(
      groups.map(({ title, rows }) => [
        title,
        rows.map(({ title: row, row: number, cells }) => [row, number, cells.map((cell) => cell?.id ?? '-')]),
      ]),
    ).toEqual([
      [
        'G',
        [
          ['C0', null, ['0a', '0b']],
          ['C1', '2 of 3', ['-', '1b']],
        ],
      ],
      ['H · I', [['C2', null, ['2a', '-']]]],
    ])
  })
  test('an environment that is no column is left out, and nothing breaks', () =>
    expect(gridOf([run(0, 'z')], ['a'])[0]!.rows[0]!.cells).toEqual([null]))
  test('lanes by seat', () => {
    const bar = (agent: string, seat: number, from: string) => ({
      agent,
      seat,
      simulated: false,
      attemptId: from,
      title: '',
      environment: '',
      mark: 'passed' as const,
      number: 1,
      from,
      to: null,
      estimateMs: 1,
    })
    expect(
      lanesOf([bar('b', 1, '1'), bar('a', 2, '2'), bar('a', 1, '3'), bar('b', 1, '4')]).map(
        ({ agent, seat, bars }) => [agent, seat, bars.length],
      ),
    ).toEqual([
      ['a', 1, 1],
      ['a', 2, 1],
      ['b', 1, 2],
    ])
  })
})
