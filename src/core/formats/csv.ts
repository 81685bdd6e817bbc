/** Tables of data as CSV (RFC 4180): a header line, then one row a line. */
import Papa from 'papaparse'

export type Table = { columns: string[]; rows: Record<string, string>[] }
export type TableProblem = { line: number; message: string }

/** Reads a table. Quotes may hold commas, quotes (doubled) and line breaks; blank lines are passed over.
 * @returns the table, or the first thing wrong with its line (1-based) */
export function parseTable(text: string): Table | TableProblem {
  const records = recordsOf(text.replace(/^\uFEFF/, ''))
  if ('message' in records) return records
  const [header, ...body] = records
  if (!header) return { line: 1, message: 'the table is empty; its first line names the columns' }
  const columns = header.cells.map((cell) => cell.trim())
  const twice = columns.find((column, i) => columns.indexOf(column) !== i)
  if (twice !== undefined) return { line: header.line, message: `column “${twice}” is there twice` }
  for (const { cells, line } of body) {
    if (cells.length !== columns.length)
      return { line, message: `${cells.length} cells where the header has ${columns.length}` }
  }
  return {
    columns,
    rows: body.map(({ cells }) => Object.fromEntries(columns.map((column, i) => [column, cells[i]!]))),
  }
}

/** Records with the line each begins at: Papa counts rows, and a quoted cell may hold line breaks. */
function recordsOf(text: string): { cells: string[]; line: number }[] | TableProblem {
  const records: { cells: string[]; line: number }[] = []
  let problem: TableProblem | undefined
  let read = 0
  let line = 1
  Papa.parse<string[]>(text, {
    delimiter: ',',
    step: ({ data, errors, meta }, parser) => {
      if (errors[0]) {
        problem = {
          line,
          message: errors[0].type === 'Quotes' ? 'a quote is opened and never closed' : errors[0].message,
        }
        return parser.abort()
      }
      // "" alone is a row, a blank line is none
      if (data.length > 1 || text.slice(read, meta.cursor).trim() !== '') records.push({ cells: data, line })
      line += text.slice(read, meta.cursor).split('\n').length - 1
      read = meta.cursor
    },
  })
  return problem ?? records
}

/** Cells as spreadsheet programs copy them: lines and tabs, quotes around a cell that holds either. A quote
 * that is never closed is an ordinary sign. */
export function cellsOfClipboard(text: string): string[][] {
  const whole = text.replace(/\r\n?/g, '\n').replace(/\n$/, '')
  const { data, errors } = Papa.parse<string[]>(whole, { delimiter: '\t', newline: '\n' })
  return errors.length === 0 ? data : whole.split('\n').map((line) => line.split('\t'))
}

/** The text of a table, so that reading it gives the same table again. */
export function writeTable({ columns, rows }: Table): string {
  const data = rows.map((row) => columns.map((column) => row[column] ?? ''))
  // a line without anything would be no row
  const quotes = (value: unknown) => columns.length === 1 && value === ''
  return `${Papa.unparse({ fields: columns, data }, { newline: '\n', quotes })}\n`
}
