/** What every run stands on: applications, builds, environments, databases. */
import { asc, desc, eq, notInArray, sql } from 'drizzle-orm'
import type { Conn, Tx } from './client'
import { applications, builds, databases, environments } from './schema'

export const listApplications = async (db: Conn) =>
  await db.select().from(applications).orderBy(asc(applications.key))
export async function putApplication(db: Conn, row: typeof applications.$inferInsert): Promise<void> {
  await db.insert(applications).values(row).onConflictDoUpdate({ target: applications.key, set: row })
}
export const dropApplication = async (db: Conn, key: string): Promise<boolean> =>
  (await db.delete(applications).where(eq(applications.key, key))).rowCount === 1

/** @returns false when it was known already */
export const addBuild = async (db: Conn, label: string): Promise<boolean> =>
  (await db.insert(builds).values({ label }).onConflictDoNothing()).rowCount === 1
/** The newest first, each with how many runs were of it. */
export const buildLines = async (db: Conn) =>
  await db
    .select({
      label: builds.label,
      createdAt: builds.createdAt,
      runs: sql<number>`(select count(*)::int from runs r where r.build = ${builds.label} and r.kind <> 'rehearsal')`,
    })
    .from(builds)
    .orderBy(sql`${builds.createdAt} desc`, sql`${builds.label} desc`)
    .limit(500)
export const dropBuild = async (db: Conn, label: string): Promise<boolean> =>
  (await db.delete(builds).where(eq(builds.label, label))).rowCount === 1
export const newestBuilds = async (db: Conn, most = 200) =>
  await db.select().from(builds).orderBy(desc(builds.createdAt)).limit(most)
export const listBuilds = async (db: Conn) =>
  await db
    .select()
    .from(builds)
    .orderBy(sql`${builds.createdAt} desc`, sql`${builds.label} desc`)
export const listEnvironments = async (db: Conn) =>
  await db.select().from(environments).orderBy(asc(environments.position))
export const listDatabases = async (db: Conn) => await db.select().from(databases).orderBy(asc(databases.key))

export async function putDatabase(db: Conn, row: typeof databases.$inferInsert): Promise<void> {
  await db.insert(databases).values(row).onConflictDoUpdate({ target: databases.key, set: row })
}
export const dropDatabase = async (db: Conn, key: string): Promise<boolean> =>
  (await db.delete(databases).where(eq(databases.key, key))).rowCount === 1

/** Names this database already knows stay as they are, but for what is given. */
export async function putWorkspace(
  db: Conn,
  given: {
    applications: (typeof applications.$inferInsert)[]
    environments: (typeof environments.$inferInsert)[]
    builds: (typeof builds.$inferInsert)[]
    databases?: (typeof databases.$inferInsert)[]
  },
): Promise<void> {
  for (const row of given.applications)
    await db.insert(applications).values(row).onConflictDoUpdate({ target: applications.key, set: row })
  for (const row of given.environments)
    await db.insert(environments).values(row).onConflictDoUpdate({ target: environments.key, set: row })
  for (const row of given.builds) await db.insert(builds).values(row).onConflictDoNothing()
  for (const row of given.databases ?? [])
    await db.insert(databases).values(row).onConflictDoUpdate({ target: databases.key, set: row })
}

/** All of them, in their order; what is not among them goes. */
export async function replaceEnvironments(tx: Tx, rows: (typeof environments.$inferInsert)[]): Promise<void> {
  await tx.delete(environments).where(
    notInArray(
      environments.key,
      rows.map(({ key }) => key),
    ),
  )
  await tx
    .insert(environments)
    .values(rows)
    .onConflictDoUpdate({
      target: environments.key,
      set: {
        title: sql`excluded.title`,
        position: sql`excluded.position`,
        simulated: sql`excluded.simulated`,
        facts: sql`excluded.facts`,
      },
    })
}
