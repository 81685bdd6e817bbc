import { libraryOf, type Definition, type WholeLibrary } from '@/core/model'
import { definitionsMark, definitionStamps, stampedDocuments } from '@/db/definitions'
import type { Context } from '../context'

/** All definitions, for lookups. Callers must not change what they get from it. */
export type Loaded = WholeLibrary

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
