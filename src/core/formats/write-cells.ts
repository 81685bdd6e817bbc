/** Tables of cells as texts that people take along. The first row names the columns. */
import Papa from 'papaparse'

type Cells = readonly (readonly (string | number | boolean | null | undefined)[])[]

/** What spreadsheet programs take for the beginning of a formula; also where a line break follows later,
 * which Papa's own rule passes over. */
const FORMULA = /^[=+\-@\t\r]/
const ESCAPED = /^'(?=[=+\-@\t\r])/

/** As CSV (RFC 4180). A cell that a spreadsheet would take for a formula begins with an apostrophe. */
export const csvOfCells = (cells: Cells): string =>
  Papa.unparse(cells as unknown[][], { escapeFormulae: FORMULA, newline: '\r\n' })

/** What a cell was before it was written so. */
export const unescapedCell = (cell: string): string => cell.replace(ESCAPED, '')

/** As a table of Markdown (GitHub Flavored Markdown, tables). */
export function markdownOfCells([head = [], ...rows]: Cells): string {
  const text = (cell: Cells[number][number]) =>
    String(cell ?? '')
      .replace(/[\\|`*_<>[\]]/g, '\\$&')
      .replace(/\s*[\r\n]\s*/g, ' ')
  const line = (cells: Cells[number]) => `| ${cells.map(text).join(' | ')} |`
  return `${[line(head), `|${' --- |'.repeat(head.length)}`, ...rows.map(line)].join('\n')}\n`
}
