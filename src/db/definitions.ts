/** Cases, routines, suites and tables, with the repositories they come from. */
import { and, asc, count, eq, inArray, isNull, or, sql } from 'drizzle-orm'
import type { Definition, DefinitionKind, FileProblem } from '@/core/model'
import type { Conn, Tx } from './client'
import { definitions, repositories, type FoundFile } from './schema'

export type DefinitionRow = typeof definitions.$inferSelect
export type RepositoryRow = typeof repositories.$inferSelect
type OfKind<K extends DefinitionKind> = Extract<Definition, { kind: K }>

export async function definitionsOf<K extends DefinitionKind>(db: Conn, kind: K): Promise<OfKind<K>[]> {
  const rows = await db
    .select({ document: definitions.document })
    .from(definitions)
    .where(eq(definitions.kind, kind))
    .orderBy(asc(definitions.key))
  return rows.map((row) => row.document as OfKind<K>)
}

/** By key. */
export async function titlesOf(db: Conn, kind: DefinitionKind): Promise<Record<string, string>> {
  const rows = await db
    .select({ key: definitions.key, title: definitions.title })
    .from(definitions)
    .where(eq(definitions.kind, kind))
  return Object.fromEntries(rows.map(({ key, title }) => [key, title]))
}

/** Facts of every definition, without documents and sources: what lists and trees show. */
export const definitionLines = async (db: Conn) =>
  await db
    .select({
      kind: definitions.kind,
      key: definitions.key,
      title: definitions.title,
      edited: definitions.edited,
      conflict: sql<boolean>`${definitions.theirs} is not null`,
      repositoryId: definitions.repositoryId,
      file: definitions.file,
    })
    .from(definitions)
    .orderBy(asc(definitions.title))

/** A value that changes with any change of any definition. The newest `changed_at` would not do: of two
 * concurrent writers, the one with the earlier time may commit last. */
export const definitionsMark = async (db: Conn): Promise<string> =>
  (
    await db
      .select({
        mark: sql<string>`count(*) || ' ' || coalesce(sum(extract(epoch from ${definitions.changedAt})), 0)`,
      })
      .from(definitions)
  )[0]!.mark

/** When each definition was last written, in microseconds: a cache of documents finds the stale ones by it.
 */
export const definitionStamps = async (db: Conn) =>
  await db
    .select({
      kind: definitions.kind,
      key: definitions.key,
      stamp: sql<string>`extract(epoch from ${definitions.changedAt})`,
    })
    .from(definitions)
    .orderBy(asc(definitions.kind), asc(definitions.key))

/** Documents of these, each with the stamp it was read at. */
export async function stampedDocuments(
  db: Conn,
  wanted: readonly { kind: DefinitionKind; key: string }[],
): Promise<{ document: Definition; stamp: string }[]> {
  if (wanted.length === 0) return []
  const kinds = [...new Set(wanted.map(({ kind }) => kind))]
  const ofKind = kinds.map((kind) =>
    and(
      eq(definitions.kind, kind),
      sql`${definitions.key} = any(${sql.param(wanted.filter((one) => one.kind === kind).map(({ key }) => key))})`,
    ),
  )
  return await db
    .select({
      document: definitions.document,
      stamp: sql<string>`extract(epoch from ${definitions.changedAt})`,
    })
    .from(definitions)
    .where(or(...ofKind))
}

export const definitionRow = async (
  db: Conn,
  kind: DefinitionKind,
  key: string,
): Promise<DefinitionRow | undefined> =>
  (
    await db
      .select()
      .from(definitions)
      .where(and(eq(definitions.kind, kind), eq(definitions.key, key)))
  )[0]
/** Texts of these, with the versions they are in. */
export const definitionsTexts = async (
  db: Conn,
  wanted: readonly { kind: DefinitionKind; key: string }[],
): Promise<Pick<DefinitionRow, 'kind' | 'key' | 'version' | 'source'>[]> =>
  wanted.length === 0
    ? []
    : await db
        .select({
          kind: definitions.kind,
          key: definitions.key,
          version: definitions.version,
          source: definitions.source,
        })
        .from(definitions)
        .where(
          or(...wanted.map(({ kind, key }) => and(eq(definitions.kind, kind), eq(definitions.key, key)))),
        )
/** The row, locked: of two who save at once the second one sees what the first one did. */
export const lockDefinition = async (
  tx: Tx,
  kind: DefinitionKind,
  key: string,
): Promise<DefinitionRow | undefined> =>
  (
    await tx
      .select()
      .from(definitions)
      .where(and(eq(definitions.kind, kind), eq(definitions.key, key)))
      .for('update')
  )[0]

/** All of a repository, documents and texts included. */
export const rowsOfRepository = async (db: Conn, repositoryId: number): Promise<DefinitionRow[]> =>
  await db.select().from(definitions).where(eq(definitions.repositoryId, repositoryId))
export const allRows = async (db: Conn): Promise<DefinitionRow[]> =>
  await db.select().from(definitions).orderBy(asc(definitions.kind), asc(definitions.key))
export const allDocuments = async (db: Conn): Promise<Definition[]> =>
  (await db.select({ document: definitions.document }).from(definitions)).map(({ document }) => document)
/** Kind and key of what does not belong to a repository. */
export const keysElsewhere = async (db: Conn, repositoryId: number) =>
  await db
    .select({ kind: definitions.kind, key: definitions.key, repositoryId: definitions.repositoryId })
    .from(definitions)
    .where(or(isNull(definitions.repositoryId), sql`${definitions.repositoryId} <> ${repositoryId}`))
export const editedOf = async (db: Conn, repositoryId: number): Promise<DefinitionRow[]> =>
  await db
    .select()
    .from(definitions)
    .where(and(eq(definitions.repositoryId, repositoryId), eq(definitions.edited, true)))
    .orderBy(asc(definitions.file))

export type DefinitionValues = Omit<
  typeof definitions.$inferInsert,
  'kind' | 'key' | 'title' | 'changedAt'
> & { document: Definition }
/** A statement takes at most 65,535 parameters; a definition has about a dozen. */
const ROWS_A_STATEMENT = 500

/** Writes definitions whole, many with one statement. */
export async function putDefinitions(db: Conn, rows: DefinitionValues[]): Promise<void> {
  for (let i = 0; i < rows.length; i += ROWS_A_STATEMENT) {
    const values = rows
      .slice(i, i + ROWS_A_STATEMENT)
      .map((row) => ({ ...row, kind: row.document.kind, key: row.document.key, title: row.document.title }))
    const taken = (column: string) => sql.raw(`excluded.${column}`)
    await db
      .insert(definitions)
      .values(values)
      .onConflictDoUpdate({
        target: [definitions.kind, definitions.key],
        set: {
          title: taken('title'),
          repositoryId: taken('repository_id'),
          file: taken('file'),
          hash: taken('hash'),
          document: taken('document'),
          source: taken('source'),
          version: taken('version'),
          edited: taken('edited'),
          theirs: taken('theirs'),
          changedAt: sql`now()`,
        },
      })
  }
}
export const putDefinition = (db: Conn, row: DefinitionValues): Promise<void> => putDefinitions(db, [row])

export async function changeDefinition(
  db: Conn,
  kind: DefinitionKind,
  key: string,
  set: Partial<Pick<DefinitionRow, 'edited' | 'theirs' | 'hash' | 'file' | 'repositoryId' | 'committed'>>,
): Promise<void> {
  await db
    .update(definitions)
    .set(set)
    .where(and(eq(definitions.kind, kind), eq(definitions.key, key)))
}

/** What a reading of a repository changes in a definition whose text here stays: `settled` when it was edited
 * here and is the same there now. */
export type ReadChange = {
  kind: DefinitionKind
  key: string
  file?: string
  hash?: string
  theirs?: string
  settled?: boolean
}

/** One statement, however many there are. */
export async function changeDefinitions(db: Conn, changes: readonly ReadChange[]): Promise<void> {
  if (changes.length === 0) return
  await db.execute(sql`
    update definitions d set file = coalesce(x.file, d.file), hash = coalesce(x.hash, d.hash),
      edited = d.edited and x.settled is not true,
      theirs = case when x.settled then null else coalesce(x.theirs, d.theirs) end
    from jsonb_to_recordset(${JSON.stringify(changes)}::jsonb)
      as x(kind text, key text, file text, hash text, theirs text, settled boolean)
    where d.kind = x.kind and d.key = x.key`)
}

export async function dropDefinitions(
  db: Conn,
  keys: { kind: DefinitionKind; key: string }[],
): Promise<void> {
  for (const kind of new Set(keys.map((one) => one.kind))) {
    await db.delete(definitions).where(
      and(
        eq(definitions.kind, kind),
        inArray(
          definitions.key,
          keys.filter((one) => one.kind === kind).map(({ key }) => key),
        ),
      ),
    )
  }
}

export const listRepositories = async (db: Conn): Promise<RepositoryRow[]> =>
  await db.select().from(repositories).orderBy(asc(repositories.id))
/** How many definitions each repository has that were edited here and are not in it yet. */
export const editsByRepository = async (db: Conn): Promise<Map<number, number>> =>
  new Map(
    (
      await db
        .select({ id: definitions.repositoryId, n: count() })
        .from(definitions)
        .where(eq(definitions.edited, true))
        .groupBy(definitions.repositoryId)
    ).flatMap(({ id, n }) => (id === null ? [] : [[id, n] as const])),
  )
export const repositoryById = async (db: Conn, id: number): Promise<RepositoryRow | undefined> =>
  (await db.select().from(repositories).where(eq(repositories.id, id)))[0]

export type NewRepository = Pick<
  typeof repositories.$inferInsert,
  'name' | 'location' | 'branch' | 'folder' | 'everyMinutes' | 'webhookSecret' | 'credentials'
>
export async function addRepository(db: Conn, repository: NewRepository): Promise<number> {
  const [row] = await db
    .insert(repositories)
    .values(repository)
    .onConflictDoUpdate({ target: repositories.name, set: repository })
    .returning({ id: repositories.id })
  return row!.id
}
export async function changeRepository(db: Conn, id: number, set: Partial<NewRepository>): Promise<boolean> {
  return (await db.update(repositories).set(set).where(eq(repositories.id, id))).rowCount === 1
}
export async function dropRepository(db: Conn, id: number): Promise<void> {
  await db.delete(repositories).where(eq(repositories.id, id))
}
export async function noteRead(
  db: Conn,
  id: number,
  commit: string,
  problems: FileProblem[],
  found: FoundFile[],
): Promise<void> {
  await db
    .update(repositories)
    .set({ commit, problems, found, readAt: sql`now()` })
    .where(eq(repositories.id, id))
}
/** Repositories whose timer ran out. */
export const repositoriesDue = async (db: Conn): Promise<RepositoryRow[]> =>
  await db
    .select()
    .from(repositories)
    .where(
      and(
        sql`${repositories.everyMinutes} > 0`,
        or(
          isNull(repositories.readAt),
          sql`${repositories.readAt} < now() - ${repositories.everyMinutes} * interval '1 minute'`,
        ),
      ),
    )
