/** All definitions of a workspace, by kind and key. */
import type { Definition } from './definition'
import type { Library } from './flatten'
import { handoffsOfCase } from './row-and-handoffs'
import type { Rotation } from './rotation-types'
import { applicationsOf } from './meets'
import type { DataSet, RecoveryPolicy, Routine, Suite, TestCase } from './types'

export type WholeLibrary = Library & {
  cases: Map<string, TestCase>
  suites: Map<string, Suite>
  routines: Map<string, Routine>
  tables: Map<string, DataSet>
  rotations: Map<string, Rotation>
  policies: Map<string, RecoveryPolicy>
}

/** @param documents of the same kind and key only the last one counts */
export function libraryOf(documents: readonly Definition[]): WholeLibrary {
  const [cases, suites, routines, tables, rotations, policies] = [
    new Map<string, TestCase>(),
    new Map<string, Suite>(),
    new Map<string, Routine>(),
    new Map<string, DataSet>(),
    new Map<string, Rotation>(),
    new Map<string, RecoveryPolicy>(),
  ]
  for (const document of documents) {
    if (document.kind === 'case') cases.set(document.key, document)
    else if (document.kind === 'suite') suites.set(document.key, document)
    else if (document.kind === 'routine') routines.set(document.key, document)
    else if (document.kind === 'data') tables.set(document.key, document)
    else if (document.kind === 'policy') policies.set(document.key, document)
    else rotations.set(document.key, document)
  }
  const allCases = [...cases.values()]
  const stepsOf = (key: string) => routines.get(key)?.steps ?? []
  return {
    cases,
    suites,
    routines,
    tables,
    rotations,
    policies,
    case: (key) => cases.get(key),
    suite: (key) => suites.get(key),
    allCases: () => allCases,
    applications: (testCase) => applicationsOf(testCase, routines),
    table: (name) => tables.get(name),
    handsOn: (testCase) => handoffsOfCase(testCase, stepsOf),
  }
}

/** The same library, with some definitions as a text under edit has them. */
export function withDefinitions(
  { cases, suites, routines, tables, rotations, policies }: WholeLibrary,
  changed: readonly Definition[],
): WholeLibrary {
  const kept = [cases, suites, routines, tables, rotations, policies].flatMap((map): Definition[] => [
    ...map.values(),
  ])
  // of the same kind and key the last one counts
  return libraryOf([...kept, ...changed])
}
