import Papa from 'papaparse'
import type { RunViewModel } from '../view-models'
import { Ajv2020 } from 'ajv/dist/2020.js'
import { csvOf, htmlOf, junitOf, RUN_REPORT_SCHEMA, runReport } from '.'

const cell = (environment: string, more: object = {}) => ({
  id: environment,
  environment,
  mark: 'passed',
  attempts: 1,
  durationMs: 4200,
  estimateMs: 4000,
  attemptId: 'a1',
  failure: null,
  failureKind: null,
  agent: 'tolva-01',
  screen: null,
  ...more,
})
const VIEW = {
  run: {
    id: 7,
    title: 'Night Full',
    build: '2026.11.4',
    state: 'ended',
    startedAt: '2026-11-29T22:00:00.000Z',
    endedAt: '2026-11-29T23:10:00.000Z',
    counts: { passed: 1, failed: 1, errored: 0, recovered: 0, skipped: 0, cancelled: 0, waiting: 1 },
  },
  environments: [
    { key: 'wide', title: 'Wide, Debian' },
    { key: 'narrow', title: 'Narrow' },
  ],
  groups: [
    {
      title: 'Booking',
      rows: [
        {
          position: 0,
          caseKey: 'single',
          title: 'A <b>single</b>',
          row: 'port=Tolva',
          cells: [
            cell('wide'),
            cell('narrow', {
              mark: 'failed',
              attempts: 2,
              attemptId: 'a2',
              failure: '<script>alert(1)</script> is not what was expected',
              failureKind: 'check',
              screen: 'hash',
            }),
          ],
        },
        {
          position: 1,
          caseKey: 'return',
          title: '=SUM(A1)',
          row: null,
          cells: [null, cell('narrow', { mark: 'waiting' })],
        },
      ],
    },
  ],
  leftOut: [{ title: 'Group fare', why: 'switched off' }],
} as unknown as RunViewModel
const REPORT = runReport(VIEW, [{ attemptId: 'a2', expected: '45.00', actual: '"47.50"' }])

test('a report has a line for each case run, with what was expected', () => {
  expect(REPORT.cases.map(({ case: key, environment, mark }) => [key, environment, mark])).toEqual([
    ['single', 'wide', 'passed'],
    ['single', 'narrow', 'failed'],
    ['return', 'narrow', 'waiting'],
  ])
  expect(REPORT.cases[1]).toMatchObject({ expected: '45.00', actual: '"47.50"', attempts: 2 })
})

test('HTML says it as text, loads nothing, and no script in it runs', () => {
  const text = htmlOf(REPORT, {
    screens: new Map([['hash', 'data:image/png;base64,AA==']]),
    address: 'https://oak.fennel-sound.invalid',
  })
  expect(text).toContain('&lt;script&gt;alert(1)&lt;/script&gt; is not what was expected')
  expect(text).toContain('A &lt;b&gt;single&lt;/b&gt;, port=Tolva')
  expect(text).not.toMatch(/<script|<b>|\son\w+=|javascript:/)
  expect(text).toMatch(/http-equiv="Content-Security-Policy"\s+content="default-src &#39;none&#39;/)
  for (const words of [
    'Night Full',
    '2026-11-29 22:00 UTC',
    '45.00',
    '&quot;47.50&quot;',
    'Group fare: switched off',
  ])
    expect(text).toContain(words)
  expect(text).toContain('src="data:image/png;base64,AA=="')
  expect(text).toContain('https://oak.fennel-sound.invalid/attempts/a2')
  expect(htmlOf({ ...REPORT, cases: [], leftOut: [] })).not.toContain('What failed')
})

test('CSV is read back as it was, and a formula is text', () => {
  const { data, errors } = Papa.parse<Record<string, string>>(csvOf(REPORT), { header: true })
  expect(errors).toEqual([])
  expect(data).toHaveLength(3)
  expect(data[1]).toMatchObject({ case: 'single', environment: 'narrow', mark: 'failed', actual: '"47.50"' })
  expect(data[2]!.title).toBe("'=SUM(A1)")
})

test('JUnit XML has what ended, a suite for each environment', () => {
  const xml = junitOf(REPORT)
  expect(xml).toContain('<testsuite name="Narrow" tests="1" failures="1"')
  expect(xml).toContain('expected: 45.00')
  expect(xml).not.toContain('SUM')
})

test('as JSON it is what its schema says, with a failure and without a run that began', () => {
  const ajv = new Ajv2020({ strict: true, allowUnionTypes: true, allErrors: true })
  ajv.addFormat('date-time', (written) => !Number.isNaN(Date.parse(written)))
  const validate = ajv.compile(RUN_REPORT_SCHEMA)
  const report = REPORT
  const early = { ...report, startedAt: null, endedAt: null, cases: [] }
  for (const one of [report, early]) expect([validate(one), validate.errors]).toEqual([true, null])
  expect(validate({ ...report, more: 1 })).toBe(false)
  expect(validate({ ...report, cases: [{ ...report.cases[0], mark: 'fine' }] })).toBe(false)
})
