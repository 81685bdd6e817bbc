/** What a report says of a run: one line a case run, whatever it is written as. */
import type { Mark } from '../execution'
import { csvOfCells, writeJUnit, type WrittenCase } from '../formats'
import type { Comparison, RunViewModel } from '../view-models'

export type ReportedCase = {
  group: string
  case: string
  title: string
  /** Of its table. */
  row: string | null
  environment: string
  mark: Mark
  attempts: number
  durationMs: number | null
  agent: string | null
  attemptId: string | null
  failure: string | null
  failureKind: string | null
  expected: string | null
  actual: string | null
  /** Hash of its last screen. */
  screen: string | null
}
export type RunReport = Pick<RunViewModel['run'], 'id' | 'title' | 'build' | 'state' | 'counts'> & {
  startedAt: string | null
  endedAt: string | null
  environments: { key: string; title: string }[]
  cases: ReportedCase[]
  leftOut: { title: string; why: string }[]
}

export function runReport(
  {
    run,
    groups,
    environments,
    leftOut = [],
  }: Pick<RunViewModel, 'run' | 'groups' | 'environments' | 'leftOut'>,
  compared: readonly Comparison[] = [],
): RunReport {
  const comparisons = new Map(compared.map((one) => [one.attemptId, one]))
  const { id, title, build, state, counts, startedAt, endedAt } = run
  return {
    id,
    title,
    build,
    state,
    counts,
    startedAt,
    endedAt,
    environments: environments.map((one) => ({ key: one.key, title: one.title })),
    cases: groups.flatMap((group) =>
      group.rows.flatMap((row) =>
        row.cells.flatMap((cell): ReportedCase[] => {
          if (!cell) return []
          const { mark, attempts, durationMs, agent, attemptId, failure, failureKind, screen } = cell
          const { expected = null, actual = null } = comparisons.get(attemptId ?? '') ?? {}
          return [
            {
              group: group.title,
              case: row.caseKey,
              title: row.title,
              row: row.row,
              environment: cell.environment,
              ...{
                mark,
                attempts,
                durationMs,
                agent,
                attemptId,
                failure,
                failureKind,
                expected,
                actual,
                screen,
              },
            },
          ]
        }),
      ),
    ),
    leftOut: leftOut.map((one) => ({ title: one.title, why: one.why })),
  }
}

type Reported = Pick<RunViewModel, 'run' | 'groups' | 'environments' | 'leftOut'>

/** A run of which only one case run is reported: its counts are those of this one. */
export function onlyCaseRun({ run, groups, environments }: Reported, caseRunId: string): Reported {
  const rows = groups.flatMap((group) =>
    group.rows.map((row) => ({ group, row, cells: row.cells.filter((cell) => cell?.id === caseRunId) })),
  )
  const found = rows.filter(({ cells }) => cells.length > 0)
  const cell = found[0]?.cells[0]
  const counts = Object.fromEntries(
    Object.keys(run.counts).map((mark) => [mark, mark === cell?.mark ? 1 : 0]),
  ) as typeof run.counts
  return {
    run: { ...run, counts },
    groups: found.map(({ group, row, cells }) => ({ ...group, rows: [{ ...row, cells }] })),
    environments: environments.filter(({ key }) => key === cell?.environment),
    leftOut: [],
  }
}

/** As JUnit XML: a suite for each environment; the case's key is the class. What has not ended is left out.
 * */
export function junitOf({ title, cases, environments }: RunReport): string {
  const titles = new Map(environments.map((one) => [one.key, one.title]))
  return writeJUnit(
    title,
    cases.flatMap(({ mark, ...one }): WrittenCase[] =>
      isOver(mark)
        ? [
            {
              suite: titles.get(one.environment) ?? one.environment,
              className: one.case,
              name: one.row ? `${one.title}, ${one.row}` : one.title,
              ms: one.durationMs ?? 0,
              outcome: mark,
              ...(one.failure !== null && { message: one.failure }),
              ...(one.failureKind !== null && { kind: one.failureKind }),
              ...(one.expected !== null && { expected: one.expected }),
              ...(one.actual !== null && { actual: one.actual }),
            },
          ]
        : [],
    ),
  )
}

const isOver = (mark: Mark): mark is WrittenCase['outcome'] =>
  !['waiting', 'claimed', 'running', 'paused'].includes(mark)

const COLUMNS = [
  'group',
  'case',
  'title',
  'row',
  'environment',
  'mark',
  'attempts',
  'durationMs',
  'agent',
  'failureKind',
  'failure',
  'expected',
  'actual',
  'attemptId',
] as const satisfies readonly (keyof ReportedCase)[]

/** As CSV (RFC 4180), a line a case run. What a spreadsheet would take for a formula is text. */
export const csvOf = ({ cases }: RunReport): string =>
  csvOfCells([COLUMNS, ...cases.map((one) => COLUMNS.map((column) => one[column]))])

/** Characters that a cell of a workbook holds at the most (ECMA-376). */
export const CELL_CHARS = 32_767

/** As sheets of a workbook: the run itself, what was left out, and a row for each case run. The first row of
 * each names its columns. */
export function sheetsOf(report: RunReport): { name: string; rows: (string | number | null)[][] }[] {
  const { title, build, state, startedAt, endedAt, environments, counts, cases, leftOut } = report
  const facts: [string, string | number | null][] = [
    ['Run', title],
    ['Build', build],
    ['State', state],
    ['Started', startedAt],
    ['Ended', endedAt],
    ['Environments', environments.map((one) => one.title).join(', ')],
    ...Object.entries(counts),
  ]
  const clip = (value: string | number | null) =>
    typeof value === 'string' && value.length > CELL_CHARS ? value.slice(0, CELL_CHARS) : value
  return [
    {
      name: 'Case runs',
      rows: [[...COLUMNS], ...cases.map((one) => COLUMNS.map((name) => clip(one[name])))],
    },
    { name: 'Run', rows: [['', 'Value'], ...facts] },
    { name: 'Left out', rows: [['Title', 'Why'], ...leftOut.map((one) => [clip(one.title), clip(one.why)])] },
  ]
}
