import {
  applicationsOf,
  handoffsOfCase,
  type DataSet,
  type Definition,
  type Library,
  type RecoveryPolicy,
  type Rotation,
  type Routine,
  type Suite,
  type TestCase,
} from '@/core/model'
import { definitionsMark, definitionStamps, stampedDocuments } from '@/db/definitions'
import type { Context } from '../context'

/** What is there, to be looked up; nobody changes what they get from it. */
export type Loaded = Library & {
  cases: Map<string, TestCase>
  suites: Map<string, Suite>
  routines: Map<string, Routine>
  tables: Map<string, DataSet>
  rotations: Map<string, Rotation>
  policies: Map<string, RecoveryPolicy>
}

type Kept = {
  mark: string
  documents: ReadonlyMap<string, { document: Definition; stamp: string }>
  library: Loaded
}
const kept = new WeakMap<Context['db'], Kept>()
const idOf = ({ kind, key }: { kind: string; key: string }) => `${kind}:${key}`

/** All definitions as they are now. Documents are kept between calls, and those that were written since are
 * read again:
 * with 5,000 cases a call takes a short query instead of all their JSON. The same object as long as nothing
 * changed. */
export async function loadLibrary({ db }: Pick<Context, 'db'>): Promise<Loaded> {
  const before = kept.get(db)
  const mark = await definitionsMark(db)
  if (before?.mark === mark) return before.library
  const stamps = await definitionStamps(db)
  const changed = stamps.filter((line) => before?.documents.get(idOf(line))?.stamp !== line.stamp)
  const read = new Map((await stampedDocuments(db, changed)).map((one) => [idOf(one.document), one]))
  const documents = new Map(
    stamps.flatMap((line) => {
      const one = read.get(idOf(line)) ?? before?.documents.get(idOf(line))
      return one ? [[idOf(line), one] as const] : [] // removed between the two queries
    }),
  )
  const library = libraryOf([...documents.values()].map(({ document }) => document))
  kept.set(db, { mark, documents, library })
  return library
}

export function libraryOf(documents: readonly Definition[]): Loaded {
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
