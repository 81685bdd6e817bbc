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

/** Copied cells over those of a table: rows are added as they are needed, columns are not.
 * @param at 0-based row, `from` 0-based column of the first cell
 * @returns nothing for a single value: a field takes that itself; else the table, how many rows were written,
 * and how many columns did not fit */
export function pasteCells(
  { columns, rows }: Cells,
  at: number,
  from: number,
  text: string,
): { table: Cells; pasted: number; beyond: number } | undefined {
  const cells = cellsOfClipboard(text)
  if (cells.length <= 1 && (cells[0]?.length ?? 0) <= 1) return undefined
  const next = [...rows]
  for (const [i, line] of cells.entries()) {
    const named = columns.slice(from, from + line.length).map((name, j) => [name, line[j]!] as const)
    next[at + i] = { ...(rows[at + i] ?? emptyRow(columns)), ...Object.fromEntries(named) }
  }
  const widest = Math.max(...cells.map((line) => line.length))
  return {
    table: { columns, rows: next },
    pasted: cells.length,
    beyond: Math.max(0, widest - (columns.length - from)),
  }
}

const [CELL_CHARS_LEAST, CELL_CHARS_MOST] = [8, 32]

/** How wide each column is, in characters: as its widest cell, within limits. */
export const columnChars = ({ columns, rows }: Cells): number[] =>
  columns.map((name) => {
    const widest = rows.reduce((most, row) => Math.max(most, (row[name] ?? '').length + 2), name.length)
    return Math.min(CELL_CHARS_MOST, Math.max(CELL_CHARS_LEAST, widest))
  })
