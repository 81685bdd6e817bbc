import { readRequirements, requirementChanges, writeRequirements, type Requirement } from '.'

const LIST = `id,title,parent,importance,owner
FSF-R1,Booking,,must,Landing crew
FSF-R2,"A crossing, found by quays",FSF-R1,,
FSF-R3,Seats by the window,FSF-R1,Could,
`
const READ: Requirement[] = [
  { key: 'FSF-R1', title: 'Booking', parent: null, importance: 'must' },
  { key: 'FSF-R2', title: 'A crossing, found by quays', parent: 'FSF-R1', importance: 'must' },
  { key: 'FSF-R3', title: 'Seats by the window', parent: 'FSF-R1', importance: 'could' },
]

test('a list is read, and written so that it is read the same', () => {
  expect(readRequirements(LIST)).toEqual(READ)
  expect(readRequirements(writeRequirements(READ))).toEqual(READ)
  const formula = [{ ...READ[0]!, title: '=1+1\nand' }]
  expect(writeRequirements(formula)).toContain(`"'=1+1`)
  expect(readRequirements(writeRequirements(formula))).toEqual(formula)
  expect(readRequirements('Title,ID\nBooking,R1')).toEqual([
    { key: 'R1', title: 'Booking', parent: null, importance: 'must' },
  ])
})

test.each([
  ['nothing', '', 1, 'the table is empty'],
  ['no column of ids', 'title\nBooking', 1, 'no column “id”'],
  ['an id that is none', 'id,title\nR 1,Booking', 2, 'is no id'],
  ['an id twice', 'id,title\nR1,Booking\nR1,Boarding', 3, 'stands in row 2 already'],
  ['no title', 'id,title\nR1, ', 2, 'has no title'],
  ['an importance nobody knows', 'id,title,importance\nR1,Booking,soon', 2, '“soon” is no importance'],
  ['a parent that is not there', 'id,title,parent\nR1,Booking,R0', 2, '“R0”, is not in the list'],
  ['a part of itself', 'id,title,parent\nR1,Booking,R2\nR2,Boarding,R1', 2, 'is a part of itself'],
  ['its own parent', 'id,title,parent\nR1,Booking,R1', 2, 'is a part of itself'],
  ['a quote that stays open', 'id,title\nR1,"Booking', 2, 'a quote is opened'],
])('refused with its row: %s', (_, text, row, words) => {
  const read = readRequirements(text)
  expect(read).toHaveProperty('problems.0.row', row)
  expect((read as { problems: { message: string }[] }).problems[0]!.message).toContain(words)
})

test('parts of what is a part of itself are not said to be so, and no list keeps one waiting', () => {
  const list = 'id,title,parent\nR1,a,R2\nR2,b,R1\nR3,c,R1'
  expect((readRequirements(list) as { problems: { row: number }[] }).problems.map(({ row }) => row)).toEqual([
    2, 3,
  ])
})

test('what a list changes', () => {
  const [one, two, three] = READ as [Requirement, Requirement, Requirement]
  const after = [{ ...two, title: 'Found' }, one, { ...three, key: 'FSF-R4' }]
  expect(requirementChanges(READ, after)).toEqual({
    added: ['FSF-R4'],
    changed: ['FSF-R2'],
    removed: ['FSF-R3'],
  })
  expect(requirementChanges(READ, READ.toReversed())).toEqual({ added: [], changed: [], removed: [] })
})
