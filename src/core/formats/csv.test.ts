import fc from 'fast-check'
import Papa from 'papaparse'
import { parseTable } from '.'
import { expectedMs, medianMs } from '../history'

test.each([
  { text: 'a,b\n1,2\n', table: { columns: ['a', 'b'], rows: [{ a: '1', b: '2' }] }, why: 'plain' },
  {
    text: '\uFEFFa\r\n"x ""y"""\r\n\r\n',
    table: { columns: ['a'], rows: [{ a: 'x "y"' }] },
    why: 'mark, CRLF, doubled quotes, blank line',
  },
  {
    text: 'a,b\n"1\n2",3',
    table: { columns: ['a', 'b'], rows: [{ a: '1\n2', b: '3' }] },
    why: 'a line break in a cell',
  },
  { text: 'a', table: { columns: ['a'], rows: [] }, why: 'a header alone has no rows' },
])('reads: $why', ({ text, table }) => expect(parseTable(text)).toEqual(table))

test.each([
  { text: '', line: 1, says: 'empty', why: 'nothing' },
  { text: 'a,a\n1,2', line: 1, says: 'there twice', why: 'a column twice' },
  {
    text: 'a,b\n"1\n2",3\n4',
    line: 4,
    says: '1 cells where the header has 2',
    why: 'the line counts breaks inside cells',
  },
  { text: 'a\n"open', line: 2, says: 'never closed', why: 'an open quote' },
])('refuses: $why', ({ text, line, says }) =>
  expect(parseTable(text)).toEqual({ line, message: expect.stringContaining(says) as string }),
)

test('property: what is written is read back', () => {
  const cell = fc
    .string({ minLength: 1, maxLength: 8 })
    .filter((text) => text.trim() !== '' && !text.includes('\uFEFF'))
  fc.assert(
    fc.property(fc.array(fc.tuple(cell, cell), { minLength: 1, maxLength: 6 }), (rows) => {
      expect(parseTable(Papa.unparse([['a', 'b'], ...rows], { newline: '\n' }))).toEqual({
        columns: ['a', 'b'],
        rows: rows.map(([a, b]) => ({ a, b })),
      })
    }),
  )
})

test.each([
  [[], undefined],
  [[5], 5],
  [[9, 1, 5], 5],
  [[4, 1, 3, 2], 2],
])('the median of %j is %s', (values, median) => expect(medianMs(values)).toBe(median))
test('a case never run is guessed by its steps, one that ran takes what it took', () => {
  const steps = [
    { verb: 'press' as const, key: 'Enter' },
    { verb: 'use' as const, routine: 'r', with: {} },
  ]
  const one = { steps }
  expect([expectedMs(undefined, one), expectedMs([], one), expectedMs([40, 20, 90], one)]).toEqual([
    3600, 3600, 40,
  ])
  const roles = { crew: { environment: {}, steps }, passenger: { environment: {}, steps: steps.slice(0, 1) } }
  expect(expectedMs([], { steps: [], roles })).toBe(3600)
})
