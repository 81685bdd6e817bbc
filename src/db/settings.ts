/** Settings that are one value each, by name. */
import { eq } from 'drizzle-orm'
import type { Conn } from './client'
import { settings } from './schema'

export async function setting<T>(db: Conn, name: string): Promise<T | undefined> {
  return (await db.select().from(settings).where(eq(settings.name, name)))[0]?.value as T | undefined
}

/** @returns false when there was none */
export const dropSetting = async (db: Conn, name: string): Promise<boolean> =>
  (await db.delete(settings).where(eq(settings.name, name))).rowCount === 1

export async function putSetting(db: Conn, name: string, value: unknown): Promise<void> {
  await db
    .insert(settings)
    .values({ name, value })
    .onConflictDoUpdate({ target: settings.name, set: { value } })
}
