import { measuresOf, WEEK_MS, type MeasuresInput } from './measures'

const UNTIL = '2026-12-01T12:00:00.000Z'
const ago = (ms: number) => new Date(Date.parse(UNTIL) - ms).toISOString()
const HOUR = 3_600_000
const decision = (
  agoMs: number,
  afterMs: number | null,
  more: Partial<MeasuresInput['decisions'][number]> = {},
) => ({
  at: ago(agoMs),
  by: 'Wren',
  as: 'test-fault' as const,
  signature: 's',
  runEndedAt: afterMs === null ? null : ago(agoMs + afterMs),
  ...more,
})
const NOTHING: MeasuresInput = {
  until: UNTIL,
  weeks: 2,
  decisions: [],
  found: [],
  defects: { logged: [], reopened: [] },
  runs: [],
}

test('nothing happened', () =>
  expect(measuresOf(NOTHING)).toEqual({
    weeks: [1, 2].map((week) => ({
      from: ago(week * WEEK_MS),
      failures: 0,
      causes: 0,
      decisions: 0,
      together: 0,
      afterMs: null,
      logged: 0,
      reopened: 0,
    })),
    rotations: [],
  }))

test.each([
  ['one', [decision(HOUR, 2 * HOUR)], 2 * HOUR],
  ['the middle one of three', [decision(5, HOUR), decision(6, 9 * HOUR), decision(7, 2 * HOUR)], 2 * HOUR],
  ['between the middle two of four', [1, 2, 4, 50].map((n) => decision(n, n * HOUR)), 3 * HOUR],
  ['none of a run that goes on', [decision(5, -HOUR)], null],
  ['none of no run', [decision(5, null)], null],
])('how soon it was decided: %s', (_, decisions, afterMs) =>
  expect(measuresOf({ ...NOTHING, decisions }).weeks[0]!.afterMs).toBe(afterMs),
)

test('what one person decided at one moment was decided together', () => {
  const decisions = [decision(5, 1), decision(5, 1), decision(5, 1, { by: 'Priya' }), decision(6, 1)]
  expect(measuresOf({ ...NOTHING, decisions }).weeks[0]).toMatchObject({ decisions: 4, together: 2 })
})

test('each counts in its week; a cause that comes again counts once a week', () => {
  const found = [
    { at: UNTIL, signature: 's', failures: 3, rotation: null },
    { at: ago(HOUR), signature: 's', failures: 4, rotation: null },
    { at: ago(WEEK_MS), signature: 't', failures: 5, rotation: null },
    { at: ago(WEEK_MS + 1), signature: 't', failures: 6, rotation: null },
    { at: ago(2 * WEEK_MS + 1), signature: 't', failures: 100, rotation: null },
  ]
  expect(measuresOf({ ...NOTHING, found }).weeks.map(({ failures, causes }) => [failures, causes])).toEqual([
    [12, 2],
    [6, 1],
  ])
})

test('a rotation with what it found and took', () => {
  const run = { rotation: 'night', caseRuns: 10, failures: 2, seatMs: 1000 }
  const cause = (signature: string, rotation = 'night') => ({ at: ago(5), signature, failures: 1, rotation })
  const { rotations } = measuresOf({
    ...NOTHING,
    runs: [run, { ...run, failures: 0 }, { ...run, rotation: 'smoke', seatMs: 5000 }],
    found: [cause('s'), cause('s'), cause('t'), cause('s', 'smoke')],
    decisions: [decision(1, 1, { as: 'product-defect' }), decision(2, 1, { signature: 't' })],
  })
  expect(rotations).toEqual([
    { rotation: 'smoke', runs: 1, caseRuns: 10, failures: 2, seatMs: 5000, causes: 1, defects: 1 },
    { rotation: 'night', runs: 2, caseRuns: 20, failures: 2, seatMs: 2000, causes: 2, defects: 1 },
  ])
})

test('defects that were logged and opened again count in their week', () => {
  const defects = { logged: [ago(HOUR), ago(2 * HOUR), ago(WEEK_MS + HOUR)], reopened: [ago(WEEK_MS + 1)] }
  expect(measuresOf({ ...NOTHING, defects }).weeks).toMatchObject([
    { logged: 2, reopened: 0 },
    { logged: 1, reopened: 1 },
  ])
})
