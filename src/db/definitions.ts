import { and, asc, eq, inArray, sql } from 'drizzle-orm'
import type { Definition, DefinitionKind, FileProblem, Routine, Suite, TestCase } from '@/core/model'
import type { Conn } from './client'
import { applications, builds, dataSets, definitions, environments, repositories } from './schema'

export type DefinitionRow = typeof definitions.$inferSelect
export type RepositoryRow = typeof repositories.$inferSelect
type OfKind = { case: TestCase; routine: Routine; suite: Suite }

export async function definitionsOf<K extends DefinitionKind>(db: Conn, kind: K): Promise<OfKind[K][]> {
  const rows = await db.select({ document: definitions.document }).from(definitions).where(eq(definitions.kind, kind)).orderBy(asc(definitions.key))
  return rows.map((row) => row.document as OfKind[K])
}

export const definitionRow = async (db: Conn, kind: DefinitionKind, key: string): Promise<DefinitionRow | undefined> =>
  (await db.select().from(definitions).where(and(eq(definitions.kind, kind), eq(definitions.key, key))))[0]

/** What was read from a repository, without the documents themselves. */
export const filesOf = async (db: Conn, repositoryId: number) =>
  await db.select({ file: definitions.file, hash: definitions.hash, kind: definitions.kind, key: definitions.key }).from(definitions).where(eq(definitions.repositoryId, repositoryId))

export async function putDefinition(db: Conn, row: { repositoryId: number; file: string; hash: string; source: string; document: Definition }): Promise<void> {
  const { kind, key, title } = row.document
  const values = { ...row, kind, key, title }
  await db.insert(definitions).values(values).onConflictDoUpdate({ target: [definitions.kind, definitions.key], set: { ...values, changedAt: sql`now()` } })
}

export async function dropDefinitions(db: Conn, repositoryId: number, files: string[]): Promise<void> {
  if (files.length > 0) await db.delete(definitions).where(and(eq(definitions.repositoryId, repositoryId), inArray(definitions.file, files)))
}

export async function replaceDataSets(db: Conn, repositoryId: number, tables: Omit<typeof dataSets.$inferInsert, 'repositoryId'>[]): Promise<void> {
  await db.delete(dataSets).where(eq(dataSets.repositoryId, repositoryId))
  if (tables.length > 0) await db.insert(dataSets).values(tables.map((table) => ({ ...table, repositoryId })))
}

/** Rows by file name. Names are unique over repositories in this version. */
export const allDataSets = async (db: Conn) => new Map((await db.select().from(dataSets)).map((row) => [row.file, row]))

export const listRepositories = async (db: Conn): Promise<RepositoryRow[]> => await db.select().from(repositories).orderBy(asc(repositories.id))
export const repositoryById = async (db: Conn, id: number): Promise<RepositoryRow | undefined> => (await db.select().from(repositories).where(eq(repositories.id, id)))[0]

export async function addRepository(db: Conn, repository: { name: string; location: string; branch: string; folder?: string }): Promise<number> {
  const [row] = await db.insert(repositories).values(repository).onConflictDoUpdate({ target: repositories.name, set: repository }).returning({ id: repositories.id })
  return row!.id
}

export async function dropRepository(db: Conn, id: number): Promise<void> {
  await db.delete(repositories).where(eq(repositories.id, id))
}

export async function noteRead(db: Conn, id: number, commit: string, problems: FileProblem[]): Promise<void> {
  await db.update(repositories).set({ commit, problems, readAt: sql`now()` }).where(eq(repositories.id, id))
}

export const listApplications = async (db: Conn) => await db.select().from(applications).orderBy(asc(applications.key))
export const listBuilds = async (db: Conn) => await db.select().from(builds).orderBy(sql`${builds.createdAt} desc`, sql`${builds.label} desc`)
export const listEnvironments = async (db: Conn) => await db.select().from(environments).orderBy(asc(environments.position))

/** Names this database already knows stay as they are, but for what is given. */
export async function putWorkspace(db: Conn, given: { applications: (typeof applications.$inferInsert)[]; environments: (typeof environments.$inferInsert)[]; builds: (typeof builds.$inferInsert)[] }): Promise<void> {
  for (const row of given.applications) await db.insert(applications).values(row).onConflictDoUpdate({ target: applications.key, set: row })
  for (const row of given.environments) await db.insert(environments).values(row).onConflictDoUpdate({ target: environments.key, set: row })
  for (const row of given.builds) await db.insert(builds).values(row).onConflictDoNothing()
}
