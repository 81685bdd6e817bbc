/** What a rotation was over its last runs: each run with its counts, and each case with its mark in each. */
import type { Mark, Outcome } from '../execution'
import { csvOfCells, writeJUnit } from '../formats'
import { CELL_CHARS } from './run-report'

export type RotationRun = {
  id: number
  title: string
  build: string
  startedAt: string | null
  endedAt: string | null
  counts: Partial<Record<Mark, number>>
}
/** How a case run of one of them ended. */
export type RotationOutcome = {
  runId: number
  case: string
  title: string
  /** Of its table of data, from 1; `null`: it has none. */
  row: number | null
  environment: string
  mark: Outcome
  durationMs: number | null
}
export type RotationCase = Omit<RotationOutcome, 'runId' | 'mark' | 'durationMs'> & {
  /** One for each run, in their order; `null`: it was not in it. */
  marks: (Outcome | null)[]
  failures: number
  /** How often it went from passing to failing or back. */
  turns: number
  /** Middle of what it took when it passed. */
  medianMs: number | null
}
export type RotationReport = {
  rotation: string
  title: string
  /** The oldest first. */
  runs: RotationRun[]
  /** Those that failed most first. */
  cases: RotationCase[]
}

const PASSED: ReadonlySet<Outcome | null> = new Set(['passed', 'recovered'] as const)
const FAILED: ReadonlySet<Outcome | null> = new Set(['failed', 'errored'] as const)

export function rotationReport(
  rotation: { key: string; title: string },
  runs: readonly RotationRun[],
  outcomes: readonly RotationOutcome[],
): RotationReport {
  const at = new Map(runs.map(({ id }, i) => [id, i]))
  const all = new Map<string, RotationOutcome[]>()
  for (const one of outcomes) {
    const key = JSON.stringify([one.case, one.row, one.environment])
    const known = all.get(key)
    if (known) known.push(one)
    else all.set(key, [one])
  }
  const cases = [...all.values()].map((ofCase) => caseOf(ofCase, runs.length, at))
  return {
    rotation: rotation.key,
    title: rotation.title,
    runs: [...runs],
    cases: cases.sort(
      (a, b) =>
        b.failures - a.failures ||
        b.turns - a.turns ||
        a.title.localeCompare(b.title) ||
        (a.row ?? 0) - (b.row ?? 0) ||
        a.environment.localeCompare(b.environment),
    ),
  }
}

function caseOf(
  outcomes: readonly RotationOutcome[],
  runs: number,
  at: ReadonlyMap<number, number>,
): RotationCase {
  const marks = Array<Outcome | null>(runs).fill(null)
  let newest = outcomes[0]!
  for (const one of outcomes) {
    const place = at.get(one.runId)
    if (place === undefined) continue
    // of several in one run, one that failed counts
    if (!FAILED.has(marks[place] ?? null)) marks[place] = one.mark
    if (place >= (at.get(newest.runId) ?? -1)) newest = one
  }
  const decided = marks.filter((mark) => PASSED.has(mark) || FAILED.has(mark))
  const took = outcomes.flatMap(({ mark, durationMs }) => (PASSED.has(mark) ? (durationMs ?? []) : []))
  return {
    case: newest.case,
    title: newest.title, // as it is called now
    row: newest.row,
    environment: newest.environment,
    marks,
    failures: decided.filter((mark) => FAILED.has(mark)).length,
    turns: decided.filter((mark, i) => i > 0 && FAILED.has(mark) !== FAILED.has(decided[i - 1] ?? null))
      .length,
    medianMs: medianOf(took),
  }
}

function medianOf(values: readonly number[]): number | null {
  if (values.length === 0) return null
  const sorted = [...values].sort((a, b) => a - b)
  const half = sorted.length >> 1
  return sorted.length % 2 === 1 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2
}

const runName = ({ title, build }: RotationRun) => `${title}, build ${build}`
const nameOf = ({ title, row }: Pick<RotationCase, 'title' | 'row'>) =>
  row === null ? title : `${title}, row ${row}`

/** As CSV (RFC 4180): a line a case, a column a run. */
export const rotationCsv = ({ runs, cases }: RotationReport): string =>
  csvOfCells([
    ['case', 'title', 'row', 'environment', 'failures', 'turns', 'medianMs', ...runs.map(runName)],
    ...cases.map((one) => [
      one.case,
      one.title,
      one.row,
      one.environment,
      one.failures,
      one.turns,
      one.medianMs,
      ...one.marks,
    ]),
  ])

/** As sheets of a workbook: the runs, and a row for each case with a column for each run. */
export function rotationSheets({
  runs,
  cases,
}: RotationReport): { name: string; rows: (string | number | null)[][] }[] {
  const marks = [...new Set(runs.flatMap(({ counts }) => Object.keys(counts)))].sort() as Mark[]
  return [
    {
      name: 'Runs',
      rows: [
        ['run', 'title', 'build', 'started', 'ended', ...marks],
        ...runs.map(({ id, title, build, startedAt, endedAt, counts }) => [
          id,
          title,
          build,
          startedAt,
          endedAt,
          ...marks.map((mark) => counts[mark] ?? 0),
        ]),
      ],
    },
    {
      name: 'Cases',
      rows: [
        ['case', 'title', 'row', 'environment', 'failures', 'turns', 'median ms', ...runs.map(runName)],
        ...cases.map((one) => [
          one.case,
          one.title.slice(0, CELL_CHARS),
          one.row,
          one.environment,
          one.failures,
          one.turns,
          one.medianMs,
          ...one.marks,
        ]),
      ],
    },
  ]
}

/** As JUnit XML: a suite for each run. */
export const rotationJUnit = ({ title, runs, cases }: RotationReport): string =>
  writeJUnit(
    title,
    runs.flatMap((run, i) =>
      cases.flatMap((one) => {
        const mark = one.marks[i]
        if (!mark) return []
        const suite = `${runName(run)}, no. ${run.id}`
        return [
          { suite, className: one.case, name: `${nameOf(one)}, ${one.environment}`, ms: 0, outcome: mark },
        ]
      }),
    ),
  )
