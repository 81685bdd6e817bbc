import { and, desc, eq, inArray, max } from 'drizzle-orm'
import type { DefinitionKind } from '@/core/model'
import type { Conn } from './client'
import { versions } from './schema'

export type VersionRow = typeof versions.$inferSelect
export type NewVersion = Omit<typeof versions.$inferInsert, 'at'>

const ROWS_A_STATEMENT = 2000

export async function addVersions(db: Conn, rows: NewVersion[]): Promise<void> {
  for (let i = 0; i < rows.length; i += ROWS_A_STATEMENT)
    await db.insert(versions).values(rows.slice(i, i + ROWS_A_STATEMENT))
}

/** Versions of one definition, newest first, without their texts. */
export const versionLines = async (db: Conn, kind: DefinitionKind, key: string, most: number) =>
  await db
    .select({
      number: versions.number,
      at: versions.at,
      who: versions.who,
      how: versions.how,
      changes: versions.changes,
    })
    .from(versions)
    .where(and(eq(versions.kind, kind), eq(versions.key, key)))
    .orderBy(desc(versions.number))
    .limit(most)

export const versionRow = async (
  db: Conn,
  kind: DefinitionKind,
  key: string,
  number: number,
): Promise<VersionRow | undefined> =>
  (
    await db
      .select()
      .from(versions)
      .where(and(eq(versions.kind, kind), eq(versions.key, key), eq(versions.number, number)))
  )[0]

/** The newest number each of these keys ever had: numbers go on when a definition was removed and comes
 * back. */
export async function lastNumbers(
  db: Conn,
  kind: DefinitionKind,
  keys: string[],
): Promise<Map<string, number>> {
  if (keys.length === 0) return new Map()
  const rows = await db
    .select({ key: versions.key, last: max(versions.number) })
    .from(versions)
    .where(and(eq(versions.kind, kind), inArray(versions.key, keys)))
    .groupBy(versions.key)
  return new Map(rows.map(({ key, last }) => [key, last ?? 0]))
}
