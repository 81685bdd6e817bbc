import { Ajv2020 } from 'ajv/dist/2020.js'
import { rotationHtml } from './rotation-html'
import { ROTATION_REPORT_SCHEMA } from './rotation-report-schema'
import {
  rotationCsv,
  rotationJUnit,
  rotationReport,
  rotationSheets,
  type RotationOutcome,
} from './rotation-report'

const run = (id: number, build = `2026.11.${id}`) => ({
  id,
  title: 'Night Full',
  build,
  startedAt: `2026-11-2${id}T22:00:00.000Z`,
  endedAt: `2026-11-2${id}T23:30:00.000Z`,
  counts: { passed: 2, failed: 1 },
})
const outcome = (
  runId: number,
  mark: RotationOutcome['mark'],
  more: Partial<RotationOutcome> = {},
): RotationOutcome => ({
  runId,
  case: 'fare',
  title: 'A fare is shown',
  row: null,
  environment: 'wide',
  mark,
  durationMs: runId * 1000,
  ...more,
})
const report = (outcomes: RotationOutcome[], runs = [run(1), run(2), run(3), run(4)]) =>
  rotationReport({ key: 'night-full', title: 'Night Full' }, runs, outcomes)

test('a case has a mark for each run, counts of failures and turns, and the middle of what it took', () => {
  const { cases } = report([outcome(1, 'passed'), outcome(2, 'failed'), outcome(4, 'recovered')])
  expect(cases).toEqual([
    {
      case: 'fare',
      title: 'A fare is shown',
      row: null,
      environment: 'wide',
      marks: ['passed', 'failed', null, 'recovered'],
      failures: 1,
      turns: 2,
      medianMs: 2500,
    },
  ])
})

test('what was skipped or cancelled neither failed nor turned', () => {
  const [one] = report([
    outcome(1, 'passed'),
    outcome(2, 'skipped'),
    outcome(3, 'cancelled'),
    outcome(4, 'passed'),
  ]).cases
  expect([one!.failures, one!.turns]).toEqual([0, 0])
})

test('of several in one run one that failed counts, whatever their order; rows and environments stand apart', () => {
  for (const both of [
    [outcome(1, 'failed'), outcome(1, 'passed')],
    [outcome(1, 'passed'), outcome(1, 'failed')],
  ])
    expect(report(both).cases[0]!.marks[0]).toBe('failed')
  expect(
    report([
      outcome(1, 'passed'),
      outcome(1, 'passed', { row: 2 }),
      outcome(1, 'passed', { environment: 'narrow' }),
    ]).cases,
  ).toHaveLength(3)
})

test('the worst is first; a case is called as it is now; of runs that are not asked for nothing is told', () => {
  const { cases } = report([
    outcome(1, 'passed', { case: 'calm', title: 'Calm' }),
    outcome(1, 'failed', { title: 'Called otherwise once' }),
    outcome(2, 'failed'),
    outcome(9, 'failed'),
  ])
  expect(cases.map(({ title, failures }) => [title, failures])).toEqual([
    ['A fare is shown', 2],
    ['Calm', 0],
  ])
})

test('each way to write it says the same, and text stays text', () => {
  const made = report([
    outcome(1, 'passed', { title: '=cmd()|<b>fare</b>' }),
    outcome(2, 'failed', { title: '=cmd()|<b>fare</b>' }),
  ])
  const page = rotationHtml(made)
  expect(page).toContain('&lt;b&gt;fare&lt;/b&gt;')
  expect(page).not.toContain('<b>fare')
  expect(page).toMatch(/aria-label="Case runs of each run/)
  expect(rotationCsv(made)).toContain("'=cmd()")
  expect(rotationSheets(made).map(({ rows }) => rows.length)).toEqual([5, 2])
  expect(rotationJUnit(made).match(/<testcase/g)).toHaveLength(2)
  expect(rotationJUnit(made).match(/<testsuite /g)).toHaveLength(2)
})

test('a rotation that never ran', () => {
  const made = report([], [])
  expect(rotationHtml(made)).toContain('over 0 runs')
  expect(rotationCsv(made).trim().split('\n')).toHaveLength(1)
  expect(rotationSheets(made).map(({ rows }) => rows.length)).toEqual([1, 1])
})

test('its JSON is as the schema says it', () => {
  const ajv = new Ajv2020({ strict: true, allowUnionTypes: true, allErrors: true })
  ajv.addFormat('date-time', true)
  const validate = ajv.compile(ROTATION_REPORT_SCHEMA)
  const made = report([outcome(1, 'passed', { row: 2 }), outcome(2, 'failed')])
  expect([validate(made), validate.errors]).toEqual([true, null])
  expect(validate({ ...made, more: 1 })).toBe(false)
  expect(validate(report([], []))).toBe(true)
})
