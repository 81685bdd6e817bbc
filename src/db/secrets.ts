import { asc, eq, inArray, sql } from 'drizzle-orm'
import type { Conn } from './client'
import { secrets } from './schema'

export const secretLines = async (db: Conn) => await db.select({ name: secrets.name, setBy: secrets.setBy, setAt: secrets.setAt }).from(secrets).orderBy(asc(secrets.name))
export const sealedSecrets = async (db: Conn, names: string[]) => (names.length === 0 ? [] : await db.select({ name: secrets.name, sealed: secrets.sealed }).from(secrets).where(inArray(secrets.name, names)))
export async function putSecret(db: Conn, row: { name: string; sealed: string; setBy: string }): Promise<void> {
  await db.insert(secrets).values(row).onConflictDoUpdate({ target: secrets.name, set: { ...row, setAt: sql`now()` } })
}
export const dropSecret = async (db: Conn, name: string): Promise<boolean> => (await db.delete(secrets).where(eq(secrets.name, name))).rowCount === 1
