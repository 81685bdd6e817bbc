/** Data sets: tables of text, kept as CSV or as a JSON list of flat objects. */
import { parseTable, writeTable } from '../formats/csv'
import type { DataSet, FileProblem, Row } from './types'

export type ParsedTable =
  { definition: DataSet; problems: [] } | { definition?: undefined; problems: FileProblem[] }

const nameOf = (file: string) => file.slice(file.lastIndexOf('/') + 1)

/** Reads a table by the ending of its file. */
export function parseDataSet(file: string, text: string): ParsedTable {
  const broken = (line: number, message: string): ParsedTable => ({
    problems: [{ file, line, column: 1, field: '', message }],
  })
  const key = nameOf(file)
  if (file.endsWith('.csv')) {
    const table = parseTable(text)
    return 'message' in table
      ? broken(table.line, table.message)
      : { definition: { kind: 'data', key, title: key, ...table }, problems: [] }
  }
  let json: unknown
  try {
    json = JSON.parse(text)
  } catch (error) {
    return broken(1, `not JSON: ${(error as Error).message}`)
  }
  const table = tableOf(json)
  return typeof table === 'string'
    ? broken(1, table)
    : { definition: { kind: 'data', key, title: key, ...table }, problems: [] }
}

function tableOf(json: unknown): { columns: string[]; rows: Row[] } | string {
  if (!Array.isArray(json)) return 'a table is a list of rows: [{ "column": "value" }, …]'
  const columns: string[] = []
  for (const [i, row] of json.entries()) {
    if (row === null || typeof row !== 'object' || Array.isArray(row)) return `row ${i + 1} is not an object`
    for (const [column, value] of Object.entries(row as Record<string, unknown>)) {
      if (value !== null && typeof value === 'object')
        return `row ${i + 1}: “${column}” is not a text, a number or yes and no`
      if (!columns.includes(column)) columns.push(column)
    }
  }
  const text = (value: unknown) => (value === null || value === undefined ? '' : String(value))
  return {
    columns,
    rows: (json as Record<string, unknown>[]).map((row) =>
      Object.fromEntries(columns.map((column) => [column, text(row[column])])),
    ),
  }
}

/** The text of a table, for a file of that name: CSV, or JSON where the name says so. */
export const writeDataSet = (table: Pick<DataSet, 'key' | 'columns' | 'rows'>): string =>
  table.key.endsWith('.json') ? `${JSON.stringify(table.rows, null, 2)}\n` : writeTable(table)

/** Names of JSON tables that a file refers to. */
export const tablesNamedIn = (source: string): string[] =>
  [...source.matchAll(/\bdata:[ \t]{0,20}["']?([^\s"',}]{1,200}\.json)\b/g)].map(([, name]) => name!)
