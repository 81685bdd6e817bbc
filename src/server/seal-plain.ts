/** Seals what an earlier version kept as plain text: addresses of databases, and the secrets that sign
 * messages. */
import { sql } from 'drizzle-orm'
import { col, rowsOf } from '@/db/rows'
import type { Context } from './context'
import { isSealedColumn, sealColumn } from './sealing'

/** Table, its key, and the column that holds a secret. */
const COLUMNS = [
  ['databases', 'key', 'url'],
  ['hooks', 'id', 'secret'],
  ['repositories', 'id', 'webhook_secret'],
] as const

/** Safe to do again: what is sealed stays as it is. */
export async function sealWhatIsPlain(ctx: Pick<Context, 'db'>): Promise<void> {
  for (const [table, key, column] of COLUMNS) {
    const names = { table: sql.identifier(table), key: sql.identifier(key), column: sql.identifier(column) }
    const rows = await rowsOf(
      ctx.db,
      { id: col.text, text: col.text },
      sql`select ${names.key}::text as id, ${names.column} as text from ${names.table} where ${names.column} is not null`,
    )
    for (const { id, text } of rows.filter((row) => !isSealedColumn(row.text))) {
      await ctx.db.execute(
        sql`update ${names.table} set ${names.column} = ${sealColumn(text)} where ${names.key}::text = ${id}`,
      )
    }
  }
  const rows = await rowsOf(
    ctx.db,
    { name: col.text, value: col.text },
    sql`select name, value #>> '{}' as value from settings where name like 'webhook of %'`,
  )
  for (const { name, value } of rows.filter((row) => !isSealedColumn(row.value))) {
    await ctx.db.execute(
      sql`update settings set value = to_jsonb(${sealColumn(value)}::text) where name = ${name}`,
    )
  }
}
