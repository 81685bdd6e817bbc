import { csvOfCells, markdownOfCells, unescapedCell } from './write-cells'

test.each([
  ['=1+1', `"'=1+1"`],
  ['=1+1\nand more', `"'=1+1\nand more"`],
  ['=1,\r\n2', `"'=1,\r\n2"`],
  ['@fare', `"'@fare"`],
  ['-2', `"'-2"`],
  ['a=b', 'a=b'],
  ['two\n=lines', '"two\n=lines"'],
])('no cell of CSV is a formula: %j', (cell, written) => {
  expect(csvOfCells([['name'], [cell]])).toBe(`name\r\n${written}`)
  expect(unescapedCell(csvOfCells([[cell]]).replace(/^"|"$/g, ''))).toBe(cell)
})

test('numbers and what is absent', () => expect(csvOfCells([[1, null, undefined, true]])).toBe('1,,,true'))

test('no cell of Markdown breaks out of its place', () =>
  expect(
    markdownOfCells([
      ['a', 'b'],
      ['x | <b>\r\n\r\ny', null],
    ]),
  ).toBe('| a | b |\n| --- | --- |\n| x \\| \\<b\\> y |  |\n'))
