import type { Library, Routine, Row, Suite, TestCase } from '@/core/model'
import { allDataSets, definitionsOf } from '@/db/definitions'
import type { Context } from '../context'

export type Loaded = Library & { cases: Map<string, TestCase>; suites: Map<string, Suite>; routines: Map<string, Routine> }

/** All definitions at once: three queries, whatever a suite then needs of them. */
export async function loadLibrary({ db }: Pick<Context, 'db'>): Promise<Loaded> {
  const [cases, suites, routines, tables] = await Promise.all([definitionsOf(db, 'case'), definitionsOf(db, 'suite'), definitionsOf(db, 'routine'), allDataSets(db)])
  const byKey = <T extends { key: string }>(list: T[]) => new Map(list.map((item) => [item.key, item]))
  const [caseMap, suiteMap] = [byKey(cases), byKey(suites)]
  return {
    cases: caseMap,
    suites: suiteMap,
    routines: byKey(routines),
    case: (key) => caseMap.get(key),
    suite: (key) => suiteMap.get(key),
    rows: (testCase): Row[] | undefined => (testCase.data ? tables.get(testCase.data)?.rows : undefined),
  }
}
