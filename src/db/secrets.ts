import { and, asc, eq, inArray, sql } from 'drizzle-orm'
import type { Conn } from './client'
import { agents, secrets } from './schema'

export type SecretScope = { applications: string[]; pools: string[] }

export const secretLines = async (db: Conn) =>
  await db
    .select({
      name: secrets.name,
      applications: secrets.applications,
      pools: secrets.pools,
      setBy: secrets.setBy,
      setAt: secrets.setAt,
    })
    .from(secrets)
    .orderBy(asc(secrets.name))

export const listDefinedSecrets = async (db: Conn): Promise<string[]> =>
  (await db.select({ name: secrets.name }).from(secrets)).map(({ name }) => name)

/** Those of the names that an agent's pool may have. */
export async function sealedSecrets(db: Conn, names: string[], agentId: string) {
  if (names.length === 0) return []
  return await db
    .select({ name: secrets.name, sealed: secrets.sealed, applications: secrets.applications })
    .from(secrets)
    .innerJoin(agents, eq(agents.id, agentId))
    .where(
      and(
        inArray(secrets.name, names),
        sql`(cardinality(${secrets.pools}) = 0 or ${agents.pool} = any(${secrets.pools}))`,
      ),
    )
}

/** What is not said of where it may be used stays as it is. */
export async function putSecret(
  db: Conn,
  row: { name: string; sealed: string; setBy: string } & Partial<SecretScope>,
): Promise<void> {
  await db
    .insert(secrets)
    .values(row)
    .onConflictDoUpdate({ target: secrets.name, set: { ...row, setAt: sql`now()` } })
}
export const dropSecret = async (db: Conn, name: string): Promise<boolean> =>
  (await db.delete(secrets).where(eq(secrets.name, name))).rowCount === 1
