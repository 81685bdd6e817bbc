/** Cases and suites in memory. */
import {
  applicationsOf,
  handoffsOfCase,
  type Library,
  type Row,
  type Suite,
  type SuiteEntry,
  type TestCase,
} from '..'

export const testCase = (key: string, extra: Partial<TestCase> = {}): TestCase => ({
  kind: 'case',
  key,
  title: key.toUpperCase(),
  tags: [],
  priority: 'normal',
  requires: [],
  parameters: {},
  uses: [],
  needs: [],
  steps: [],
  undo: [],
  ...extra,
})
export const entry = (given: Partial<SuiteEntry>): SuiteEntry => ({
  off: false,
  repeat: 1,
  with: {},
  after: [],
  entries: [],
  ...given,
})
export const suite = (key: string, entries: SuiteEntry[]): Suite => ({
  kind: 'suite',
  key,
  title: `Suite ${key}`,
  entries,
})

export function library(
  cases: TestCase[],
  suites: Suite[] = [],
  tables: Record<string, Row[]> = {},
): Library {
  return {
    case: (key) => cases.find((one) => one.key === key),
    suite: (key) => suites.find((one) => one.key === key),
    allCases: () => cases,
    applications: (one) => applicationsOf(one, new Map()),
    table: (name) => tables[name] && { columns: Object.keys(tables[name][0] ?? {}), rows: tables[name] },
    handsOn: (one) => handoffsOfCase(one, () => []),
  }
}
