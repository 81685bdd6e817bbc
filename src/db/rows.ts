/** Rows of statements written as SQL. Such a statement says what each of its columns is; the type of a row
 * follows from it, and what comes is held against it. So a column that is not what its reader takes it for (a
 * `bigint` arrives as text, a moment too, `null` from an outer join) is an error with its name, where it is
 * read. */
import type { SQL } from 'drizzle-orm'
import type { Conn } from './client'

/** Reads a value as the driver gives it. @throws {NotOfKind} */
type Kind<T> = (value: unknown) => T
type Columns = Record<string, Kind<unknown>>
export type RowOf<C extends Columns> = { [Name in keyof C]: ReturnType<C[Name]> }

class NotOfKind extends Error {
  constructor(wanted: string, value: unknown) {
    super(`${wanted} was expected, and ${value === null ? 'null' : typeof value} came`)
  }
}

const kind =
  <T>(wanted: string, is: (value: unknown) => value is T): Kind<T> =>
  (value) => {
    if (!is(value)) throw new NotOfKind(wanted, value)
    return value
  }
const isText = (value: unknown): value is string => typeof value === 'string'
const isInteger = (value: unknown): value is number => Number.isSafeInteger(value)

/** A `timestamptz` comes as text: Drizzle leaves its reading to the columns of its tables. */
function moment(value: unknown): Date {
  const date = value instanceof Date ? value : new Date(isText(value) ? value : Number.NaN)
  if (Number.isNaN(date.getTime())) throw new NotOfKind('a moment', value)
  return date
}

/** What a column holds. */
export const col = {
  text: kind('text', isText),
  integer: kind('a whole number', isInteger),
  number: kind('a number', (value) => typeof value === 'number'),
  flag: kind('true or false', (value) => typeof value === 'boolean'),
  texts: kind('texts', (value): value is string[] => Array.isArray(value) && value.every(isText)),
  integers: kind(
    'whole numbers',
    (value): value is number[] => Array.isArray(value) && value.every(isInteger),
  ),
  moment,
  /** A moment as ISO 8601. */
  instant: (value: unknown): string => moment(value).toISOString(),
  /** Text of which only some are written to its column. */
  oneOf: <T extends string>(): Kind<T> => kind('text', isText as (value: unknown) => value is T),
  /** `jsonb` as it was written: an object or an array. */
  json: <T extends object>(): Kind<T> =>
    kind('an object', (value): value is T => typeof value === 'object' && value !== null),
  orNull:
    <T>(inner: Kind<T>): Kind<T | null> =>
    (value) =>
      value === null ? null : inner(value),
}

/** The rows of a statement. Columns that are not named are left out.
 * @throws {Error} naming the column that is not what it is said to be */
export async function rowsOf<C extends Columns>(db: Conn, columns: C, statement: SQL): Promise<RowOf<C>[]> {
  const { rows } = await db.execute<Record<string, unknown>>(statement)
  return rows.map((row) => readRow(columns, row))
}

function readRow<C extends Columns>(columns: C, row: Record<string, unknown>): RowOf<C> {
  const read: Record<string, unknown> = {}
  for (const [name, readColumn] of Object.entries(columns)) {
    try {
      read[name] = readColumn(row[name])
    } catch (error) {
      if (error instanceof NotOfKind) throw new Error(`column "${name}": ${error.message}`)
      throw error
    }
  }
  return read as RowOf<C>
}
