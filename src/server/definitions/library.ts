import { applicationsOf, handoffsOf, type DataSet, type Library, type Routine, type Suite, type TestCase } from '@/core/model'
import { definitionsOf } from '@/db/definitions'
import type { Context } from '../context'

export type Loaded = Library & { cases: Map<string, TestCase>; suites: Map<string, Suite>; routines: Map<string, Routine>; tables: Map<string, DataSet> }

/** All definitions at once: four queries, whatever a suite then needs of them. */
export async function loadLibrary({ db }: Pick<Context, 'db'>): Promise<Loaded> {
  const [cases, suites, routines, tables] = await Promise.all([definitionsOf(db, 'case'), definitionsOf(db, 'suite'), definitionsOf(db, 'routine'), definitionsOf(db, 'data')])
  return libraryOf({ cases, suites, routines, tables })
}

export function libraryOf(given: { cases: TestCase[]; suites: Suite[]; routines: Routine[]; tables: DataSet[] }): Loaded {
  const byKey = <T extends { key: string }>(list: T[]) => new Map(list.map((item) => [item.key, item]))
  const [cases, suites, routines, tables] = [byKey(given.cases), byKey(given.suites), byKey(given.routines), byKey(given.tables)]
  const stepsOf = (key: string) => routines.get(key)?.steps ?? []
  return {
    cases, suites, routines, tables,
    case: (key) => cases.get(key),
    suite: (key) => suites.get(key),
    allCases: () => given.cases,
    applications: (testCase) => applicationsOf(testCase, routines),
    table: (name) => tables.get(name),
    handsOn: (testCase) => handoffsOf(testCase.steps, stepsOf),
  }
}
