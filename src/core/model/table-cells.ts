/** Changes of a table of data, cell by cell: each gives a new table. */
import { cellsOfClipboard } from '../formats/csv'
import type { DataSet, Row } from './types'

export type Cells = Pick<DataSet, 'columns' | 'rows'>

const emptyRow = (columns: readonly string[]): Row => Object.fromEntries(columns.map((name) => [name, '']))

/** @param at 0-based row */
export const withCell = ({ columns, rows }: Cells, at: number, column: string, value: string): Cells => ({
  columns,
  rows: rows.map((row, i) => (i === at ? { ...row, [column]: value } : row)),
})

export const withRow = ({ columns, rows }: Cells): Cells => ({ columns, rows: [...rows, emptyRow(columns)] })

/** @param at 0-based row */
export const withoutRow = ({ columns, rows }: Cells, at: number): Cells => ({
  columns,
  rows: rows.filter((_, i) => i !== at),
})

/** @returns `undefined` when there is a column of that name */
export function withColumn({ columns, rows }: Cells, name: string): Cells | undefined {
  if (columns.includes(name)) return undefined
  return { columns: [...columns, name], rows: rows.map((row) => ({ ...row, [name]: '' })) }
}

export const withoutColumn = ({ columns, rows }: Cells, name: string): Cells => ({
  columns: columns.filter((one) => one !== name),
  rows: rows.map(({ [name]: _, ...row }) => row),
})

/** Copied cells over those of a table. Rows and columns are added as they are needed. A first line of
 * headings is told by the names of columns among them, or by a table that has no row yet: then cells go by
 * their names.
 * @param at 0-based row, `from` 0-based column of the first cell
 * @returns nothing for a single value: a field takes that itself; else the table, how many rows were written,
 * and the columns that are new */
export function pasteCells(
  { columns, rows }: Cells,
  at: number,
  from: number,
  text: string,
): { table: Cells; pasted: number; added: string[] } | undefined {
  const cells = cellsOfClipboard(text)
  const [first = []] = cells
  if (cells.length <= 1 && first.length <= 1) return undefined
  const hasHead = isHead(first, { columns, rows })
  const widest = Math.max(...cells.map((line) => line.length))
  const named = Array.from({ length: widest }, (_, j) =>
    hasHead ? (first[j]?.trim() ?? '') : (columns[from + j] ?? ''),
  )
  const known = hasHead && rows.length === 0 ? [] : columns
  const names = named.map((name, j) => name || freeName(from + j + 1, [...known, ...named]))
  const added = [...new Set(names)].filter((name) => !known.includes(name))
  const all = [...known, ...added]
  const next = rows.map((row) => ({ ...emptyRow(added), ...row }))
  const lines = hasHead ? cells.slice(1) : cells
  for (const [i, line] of lines.entries())
    next[at + i] = {
      ...(next[at + i] ?? emptyRow(all)),
      ...Object.fromEntries(line.map((cell, j) => [names[j]!, cell])),
    }
  return { table: { columns: all, rows: next }, pasted: lines.length, added }
}

/** Whether a line names columns: each cell a name of its own, and some of them known; where there is no row
 * yet, any names will do. */
function isHead(line: readonly string[], { columns, rows }: Cells): boolean {
  const names = line.map((cell) => cell.trim())
  const areNames = names.every((name, i) => COLUMN_NAME.test(name) && names.indexOf(name) === i)
  return areNames && (rows.length === 0 || names.some((name) => columns.includes(name)))
}
const COLUMN_NAME = /^\p{L}[\p{L}\p{N} _-]{0,59}$/u

/** "column 4", or the next that is free. */
function freeName(number: number, taken: readonly string[]): string {
  for (let n = number; ; n++) if (!taken.includes(`column ${n}`)) return `column ${n}`
}

const [CELL_CHARS_LEAST, CELL_CHARS_MOST] = [8, 32]

/** How wide each column is, in characters: as its widest cell, within limits. */
export const columnChars = ({ columns, rows }: Cells): number[] =>
  columns.map((name) => {
    const widest = rows.reduce((most, row) => Math.max(most, (row[name] ?? '').length + 2), name.length)
    return Math.min(CELL_CHARS_MOST, Math.max(CELL_CHARS_LEAST, widest))
  })
