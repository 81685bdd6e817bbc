import fc from 'fast-check'
import { cellsOfClipboard } from '../formats/csv'
import {
  columnChars,
  pasteCells,
  withCell,
  withColumn,
  withoutColumn,
  withoutRow,
  withRow,
  type Cells,
} from './table-cells'

const FARES: Cells = {
  columns: ['from', 'to', 'fare'],
  rows: [
    { from: 'Skerry', to: 'Ternholm', fare: '12.50' },
    { from: 'Ternholm', to: 'Skerry', fare: '11.00' },
  ],
}
const COPY = structuredClone(FARES)
afterEach(() => expect(FARES).toEqual(COPY)) // nothing is changed in place

test('a cell, a row, a column come and go', () => {
  expect(withCell(FARES, 1, 'fare', '9.00').rows[1]).toEqual({ from: 'Ternholm', to: 'Skerry', fare: '9.00' })
  expect(withRow(FARES).rows[2]).toEqual({ from: '', to: '', fare: '' })
  expect(withoutRow(FARES, 0).rows).toEqual([FARES.rows[1]])
  expect(withColumn(FARES, 'child')?.rows[0]).toEqual({ ...FARES.rows[0], child: '' })
  expect(withColumn(FARES, 'fare')).toBeUndefined()
  expect(withoutColumn(FARES, 'to')).toEqual({
    columns: ['from', 'fare'],
    rows: [
      { from: 'Skerry', fare: '12.50' },
      { from: 'Ternholm', fare: '11.00' },
    ],
  })
})

describe('pasted', () => {
  test('cells go over those that are there; rows and columns are added as they are needed', () => {
    const done = pasteCells(FARES, 1, 1, 'Auk\t7.50\tx\nRock\t8.00')!
    expect(done).toMatchObject({ pasted: 2, added: ['column 4'] })
    expect(done.table.columns).toEqual(['from', 'to', 'fare', 'column 4'])
    expect(done.table.rows).toEqual([
      { ...FARES.rows[0], 'column 4': '' },
      { from: 'Ternholm', to: 'Auk', fare: '7.50', 'column 4': 'x' },
      { from: '', to: 'Rock', fare: '8.00', 'column 4': '' },
    ])
  })

  test('a first line of headings puts cells by their names, and makes the columns that are new', () => {
    const done = pasteCells(FARES, 1, 0, 'fare\tvessel\n9.00\tAuk\n9.50\tRock')!
    expect(done).toMatchObject({ pasted: 2, added: ['vessel'] })
    expect(done.table.rows.slice(1)).toEqual([
      { from: 'Ternholm', to: FARES.rows[1]!.to, fare: '9.00', vessel: 'Auk' },
      { from: '', to: '', fare: '9.50', vessel: 'Rock' },
    ])
  })

  test('into a table without rows, any headings make its columns; values do not', () => {
    const empty = { columns: ['name'], rows: [] }
    expect(pasteCells(empty, 0, 0, 'port\tfare\nTolva\t7.50')!.table).toEqual({
      columns: ['port', 'fare'],
      rows: [{ port: 'Tolva', fare: '7.50' }],
    })
    expect(pasteCells(empty, 0, 0, '7.50\t8.00\n9.00\t9.50')!.table).toEqual({
      columns: ['name', 'column 2'],
      rows: [
        { name: '7.50', 'column 2': '8.00' },
        { name: '9.00', 'column 2': '9.50' },
      ],
    })
  })

  test.each(['12.50', '12.50\n', '', '\n'])('a single value %j is left to its field', (text) => {
    expect(pasteCells(FARES, 0, 0, text)).toBeUndefined()
  })

  test('as many rows as were copied, each cell in its place', () => {
    const sign = fc.constantFrom('a', 'é', ' ', '7', ',', '\n', '\t', '"')
    const word = fc.string({ unit: sign, maxLength: 6 })
    const grid = fc
      .integer({ min: 2, max: 4 })
      .chain((width) =>
        fc.array(fc.array(word, { minLength: width, maxLength: width }), { minLength: 1, maxLength: 4 }),
      )
    // As spreadsheet programs write it: a cell with a quote, a tab or a line break is put in quotes.
    const quoted = (cell: string) => (/["\t\n]/.test(cell) ? `"${cell.replaceAll('"', '""')}"` : cell)
    fc.assert(
      fc.property(grid, (cells) => {
        const text = `${cells.map((line) => line.map(quoted).join('\t')).join('\r\n')}\r\n`
        const columns = cells[0]!.map((_, i) => `c${i}`)
        const filled = { columns, rows: [Object.fromEntries(columns.map((name) => [name, '']))] }
        const done = pasteCells(filled, 0, 0, text)!
        expect(done.table.rows.map((row) => columns.map((name) => row[name]))).toEqual(cells)
        expect(done.added).toEqual([])
      }),
    )
  })
})

describe('copied cells', () => {
  test.each<[string, string, string[][]]>([
    ['lines and tabs', 'a\tb\nc\td', [['a', 'b'], ['c', 'd']]], // prettier-ignore
    ['lines of an old system', 'a\rb\r', [['a'], ['b']]],
    ['a cell of two lines', '"two\nlines"\tx', [['two\nlines', 'x']]],
    ['a quote in a cell', '"5"" pipe"\tx', [['5" pipe', 'x']]],
    ['a quote that is never closed', '"pipe\tx\ny', [['"pipe', 'x'], ['y']]], // prettier-ignore
    ['an empty line between', 'a\n\nb', [['a'], [''], ['b']]],
  ])('%s', (_, text, cells) => {
    expect(cellsOfClipboard(text)).toEqual(cells)
  })
})

test('a column is as wide as its widest cell, within limits', () => {
  const rows = [{ code: 'x', title: 'a crossing with a title of its own', note: 'twelve signs' }]
  expect(columnChars({ columns: ['code', 'title', 'note', 'a-name-of-14-c'], rows })).toEqual([8, 32, 14, 14])
})
