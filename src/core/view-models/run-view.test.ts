import fc from 'fast-check'
import { NO_COUNTS, OUTCOMES, type Mark } from '../execution'
import { cellsOf, isFailure, nextFailure, onlyRows, runActions, runFacts } from '.'
import type { GridCell, GridGroup, RunViewModel } from '.'

const cell = (id: string, mark: Mark, attemptId: string | null = null): GridCell => ({
  id,
  environment: 'chromium-debian',
  mark,
  attempts: 1,
  durationMs: 900,
  estimateMs: 1000,
  attemptId,
  failure: null,
  failureKind: null,
  agent: null,
  screen: null,
})
const row = (position: number, ...cells: (GridCell | null)[]) => ({
  position,
  caseKey: `case-${position}`,
  title: `Case ${position}`,
  row: null,
  cells,
})
const GROUPS: GridGroup[] = [
  {
    title: 'Gate',
    rows: [row(1, cell('a', 'passed'), null), row(2, cell('b', 'failed'), cell('c', 'running'))],
  },
  { title: 'Booking', rows: [row(3, cell('d', 'recovered'), cell('e', 'errored'))] },
  { title: 'Manifest', rows: [row(4, null, cell('f', 'waiting'))] },
]
const positions = (groups: GridGroup[]) => groups.flatMap(({ rows }) => rows.map(({ position }) => position))

test('cells come row by row, with the row they stand in', () => {
  expect(cellsOf(GROUPS).map(({ id, title }) => [id, title])).toEqual([
    ['a', 'Case 1'],
    ['b', 'Case 2'],
    ['c', 'Case 2'],
    ['d', 'Case 3'],
    ['e', 'Case 3'],
    ['f', 'Case 4'],
  ])
})

test.each([
  ['failed', [2, 3]],
  ['recovered', [3]],
  ['running', [2]],
  [null, [1, 2, 3, 4]],
  ['toString', [1, 2, 3, 4]], // of an address somebody wrote
])('only %s: rows %j', (only, expected) => {
  expect(positions(onlyRows(GROUPS, only))).toEqual(expected)
})

test('a group without a row that is let through is not there', () => {
  expect(onlyRows(GROUPS, 'recovered').map(({ title }) => title)).toEqual(['Booking'])
  expect(onlyRows([], 'failed')).toEqual([])
})

describe('from failure to failure', () => {
  const cells = cellsOf(GROUPS)
  test.each([
    [null, 1, 'b'],
    [null, -1, 'e'],
    ['b', 1, 'e'],
    ['e', -1, 'b'],
    ['e', 1, undefined],
    ['b', -1, undefined],
    ['a', 1, 'b'], // on no failure: from the beginning
    ['gone', -1, 'e'],
  ] as const)('from %s by %i to %s', (at, by, to) => {
    expect(nextFailure(cells, at, by)?.id).toBe(to)
  })

  test('each is come by once, in order, forward and back', () => {
    const marks = fc.array(fc.constantFrom<Mark>('passed', 'failed', 'errored', 'running'), { maxLength: 12 })
    fc.assert(
      fc.property(marks, (given) => {
        const all = given.map((mark, i) => cell(String(i), mark))
        const walk = (by: 1 | -1) => {
          const ids: string[] = []
          for (let at = nextFailure(all, null, by); at; at = nextFailure(all, at.id, by)) ids.push(at.id)
          return ids
        }
        const failures = all.filter(isFailure).map(({ id }) => id)
        expect(walk(1)).toEqual(failures)
        expect(walk(-1)).toEqual(failures.toReversed())
      }),
    )
  })
})

const RUN: RunViewModel['run'] = {
  id: 12,
  title: 'Night full',
  build: '2031.3.1',
  suiteKey: 'night',
  state: 'ended',
  paused: false,
  startedBy: 'Wren Adeyemi',
  createdAt: '2031-03-03T01:00:00Z',
  startedAt: '2031-03-03T01:00:02Z',
  endedAt: '2031-03-03T01:12:02Z',
  counts: { ...NO_COUNTS, passed: 10, failed: 2, errored: 1 },
  quarantined: 0,
  failingCases: 3,
  retries: 1,
  limitMs: 120_000,
  againOf: null,
  commit: null,
  kind: 'run',
  goneAt: null,
  rotationKey: null,
  endedWhy: null,
  stage: null,
} as RunViewModel['run']
const view = (change: Partial<RunViewModel['run']> = {}, more: Partial<RunViewModel> = {}) =>
  ({ run: { ...RUN, ...change }, suiteTitle: 'Night, all of it', leftOut: [], ...more }) as RunViewModel
const clock = (at: string) => at.slice(11, 16)

describe('the facts of a run', () => {
  test.each<[string, RunViewModel, string]>([
    [
      'ended',
      view(),
      'suite Night, all of it, build 2031.3.1, started by Wren Adeyemi 01:00, ended 01:12, 12 min. 10 ' +
        'of 13 passed, 2 failed, 1 errored',
    ],
    [
      'waiting, named as its suite',
      view(
        { startedAt: null, endedAt: null, counts: { ...NO_COUNTS, waiting: 4 } },
        { suiteTitle: 'night FULL' },
      ),
      'build 2031.3.1, by Wren Adeyemi, waits for a free seat. 0 of 4 passed, 4 to go',
    ],
    [
      'running and paused, with quarantine',
      view({ endedAt: null, paused: true, quarantined: 2 }),
      'suite Night, all of it, build 2031.3.1, started by Wren Adeyemi 01:00. 10 of 13 passed, 2 ' +
        'failed, 1 errored, 2 of the failures in quarantine; paused',
    ],
    [
      'a rehearsal that repeats, with something left out',
      view({ kind: 'rehearsal', againOf: 7 }, { leftOut: [{}] as RunViewModel['leftOut'] }),
      'a rehearsal, in no history and gone after a day; suite Night, all of it, build 2031.3.1, ' +
        'started by Wren Adeyemi 01:00, ended 01:12, 12 min; repeats the failures of run 7; 1 entry left ' +
        'out. 10 of 13 passed, 2 failed, 1 errored',
    ],
  ])('%s', (_, viewModel, words) => {
    expect(runFacts(viewModel, clock)).toBe(words)
  })
})

describe('what can be done with a run', () => {
  test.each<[string, Partial<RunViewModel['run']>, string[]]>([
    ['it ended with failures', {}, ['again']],
    ['it ended without', { counts: { ...NO_COUNTS, passed: 3 } }, []],
    ['it was taken in from a file', { kind: 'imported' }, []],
    ['it is a rehearsal that ended', { kind: 'rehearsal' }, ['again', 'keep']],
    ['it runs', { state: 'running' }, ['pause', 'stop']],
    ['it is being stopped', { state: 'cancelling' }, ['stop']],
  ])('%s', (_, change, expected) => {
    const names = ['pause', 'stop', 'again', 'keep'] as const
    const can = runActions({ ...RUN, ...change }, true)
    expect(names.filter((name) => can[name])).toEqual(expected)
    const may = runActions({ ...RUN, ...change }, false)
    expect(names.filter((name) => may[name])).toEqual([])
  })

  test('all that ended badly is counted', () => {
    const counts = { ...NO_COUNTS, ...Object.fromEntries(OUTCOMES.map((outcome) => [outcome, 1])) }
    expect(runActions({ ...RUN, counts }, true).bad).toBe(2)
  })
})
