import { and, desc, eq, sql } from 'drizzle-orm'
import type { DefinitionKind } from '@/core/model'
import type { Conn } from './client'
import { versions } from './schema'
import { col, rowsOf } from './rows'

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

type Named = { kind: DefinitionKind; key: string }

/** The number that the next version of each of these definitions has: one more than it ever had, as numbers
 * go on when a definition was removed and comes back. One query, however many.
 * @returns throws for a definition that was not asked for */
export async function nextNumbers(db: Conn, wanted: readonly Named[]): Promise<(one: Named) => number> {
  const rows = await rowsOf(
    db,
    { kind: col.text, key: col.text, next: col.integer },
    sql`
    select w.kind, w.key, coalesce(max(v.number), 0) + 1 as next
    from jsonb_to_recordset(${JSON.stringify(wanted.map(({ kind, key }) => ({ kind, key })))}::jsonb) as w(kind text, key text)
    left join versions v on v.kind = w.kind and v.key = w.key group by w.kind, w.key`,
  )
  const next = new Map(rows.map((row) => [`${row.kind} ${row.key}`, row.next]))
  return ({ kind, key }) => {
    const number = next.get(`${kind} ${key}`)
    if (number === undefined) throw new Error(`the next version of ${kind} “${key}” was not asked for`)
    return number
  }
}
