/** Many rows at once: given as one parameter, and taken apart by PostgreSQL. */
import { getTableColumns, sql } from 'drizzle-orm'
import type { PgTable } from 'drizzle-orm/pg-core'
import type { Conn } from './client'

/** Keeps each statement at some megabytes. */
const ROWS_A_STATEMENT = 2000

/** As `insert into … values`, for thousands of rows: that has a parameter for each value, and spends seconds
 * on them.
 * Not for columns whose default is an expression, unless no row gives them. */
export async function insertMany<T extends PgTable>(
  db: Conn,
  table: T,
  rows: readonly T['$inferInsert'][],
): Promise<void> {
  if (rows.length === 0) return
  const given = new Set(rows.flatMap((row) => Object.keys(row)))
  const columns = Object.entries(getTableColumns(table)).filter(([key]) => given.has(key))
  const names = sql.join(
    columns.map(([, { name }]) => sql.identifier(name)),
    sql`, `,
  )
  const types = sql.join(
    columns.map(([, column]) => sql`${sql.identifier(column.name)} ${sql.raw(column.getSQLType())}`),
    sql`, `,
  )
  for (let i = 0; i < rows.length; i += ROWS_A_STATEMENT) {
    const values = rows
      .slice(i, i + ROWS_A_STATEMENT)
      .map((row) =>
        Object.fromEntries(
          columns.map(([key, { name, default: usual }]) => [
            name,
            (row as Record<string, unknown>)[key] ?? usual ?? null,
          ]),
        ),
      )
    await db.execute(
      sql`insert into ${table} (${names}) select ${names}
        from jsonb_to_recordset(${JSON.stringify(values)}::jsonb) as given(${types})`,
    )
  }
}
