import fc from 'fast-check'
import { boxOf, changeMarks, describeMark, noMarks, pinNumber, type MarkAction, type Marks } from './marks'

const after = (...actions: MarkAction[]): Marks => actions.reduce(changeMarks, noMarks(800, 600))
const at = (x: number, y: number) => ({ x, y })
const draw = (
  tool: 'arrow' | 'box' | 'blur' | 'pin' | 'text' | 'crop',
  ...of: [number, number, number, number]
) => ({ do: 'draw', tool, from: at(of[0], of[1]), to: at(of[2], of[3]) }) as const

test('what is drawn is selected; a slip of the hand draws nothing, where it needs a size', () => {
  expect(after(draw('box', 10, 10, 60, 40))).toMatchObject({ selected: 1, marks: [{ kind: 'box' }] })
  for (const tool of ['arrow', 'box', 'blur'] as const)
    expect(after(draw(tool, 10, 10, 12, 12)).marks).toEqual([])
  expect(after(draw('crop', 10, 10, 12, 40)).crop).toBeNull()
  for (const tool of ['pin', 'text'] as const) expect(after(draw(tool, 10, 10, 10, 10)).marks).toHaveLength(1)
})

test('a part of the picture is kept, and the whole again', () => {
  const cropped = after(draw('crop', 300, 200, 100, 50))
  expect(cropped.crop).toEqual({ x: 100, y: 50, w: 200, h: 150 })
  expect(changeMarks(cropped, { do: 'whole' }).crop).toBeNull()
})

test('pins count on from those that are left', () => {
  const three = after(draw('pin', 1, 1, 1, 1), draw('pin', 2, 2, 2, 2), draw('pin', 3, 3, 3, 3))
  expect(three.marks.map(({ id }) => pinNumber(three.marks, id))).toEqual([1, 2, 3])
  const two = changeMarks(three, { do: 'remove', id: 2 })
  expect(two.marks.map((mark) => describeMark(mark, two.marks))).toEqual(['Pin 1 at 1, 1', 'Pin 2 at 3, 3'])
})

test('a mark is moved as a whole up to the edge, and drawn out at its end', () => {
  const start = after(draw('box', 10, 20, 110, 70))
  const moved = changeMarks(start, { do: 'move', id: 1, by: at(-50, 1000) })
  expect(boxOf(moved.marks[0]!.from, moved.marks[0]!.to)).toEqual({ x: 0, y: 550, w: 100, h: 50 })
  const longer = changeMarks(start, { do: 'reach', id: 1, by: at(5, -10) })
  expect(boxOf(longer.marks[0]!.from, longer.marks[0]!.to)).toEqual({ x: 10, y: 20, w: 105, h: 40 })
})

test('each change is taken back and done again; a new one ends what could be done again', () => {
  const two = after(draw('box', 0, 0, 50, 50), draw('text', 9, 9, 9, 9))
  const written = changeMarks(two, { do: 'write', id: 2, text: 'No fare here' })
  const undone = [{ do: 'undo' }, { do: 'undo' }] as const
  const back = undone.reduce<Marks>(changeMarks, written)
  expect(back.marks.map(({ kind }) => kind)).toEqual(['box'])
  expect(changeMarks(changeMarks(back, { do: 'redo' }), { do: 'redo' }).marks.at(-1)?.text).toBe(
    'No fare here',
  )
  const other = changeMarks(back, draw('pin', 5, 5, 5, 5))
  expect(changeMarks(other, { do: 'redo' })).toBe(other)
  expect(changeMarks(noMarks(9, 9), { do: 'undo' }).marks).toEqual([])
})

test('whatever is done, marks stay on the picture, and taking all back leaves it bare', () => {
  const point = fc.record({
    x: fc.integer({ min: -2000, max: 2000 }),
    y: fc.integer({ min: -2000, max: 2000 }),
  })
  const id = fc.integer({ min: 1, max: 6 })
  const action: fc.Arbitrary<MarkAction> = fc.oneof(
    fc.record({
      do: fc.constant('draw' as const),
      tool: fc.constantFrom(
        'arrow' as const,
        'box' as const,
        'blur' as const,
        'pin' as const,
        'crop' as const,
      ),
      from: point,
      to: point,
    }),
    fc.record({ do: fc.constantFrom('move' as const, 'reach' as const), id, by: point }),
    fc.record({ do: fc.constant('remove' as const), id }),
    fc.record({ do: fc.constantFrom('undo' as const, 'redo' as const, 'whole' as const) }),
  )
  fc.assert(
    fc.property(fc.array(action, { maxLength: 30 }), (actions) => {
      let now = after(...actions)
      const inside = ({ x, y }: { x: number; y: number }) => x >= 0 && x <= 800 && y >= 0 && y <= 600
      expect(now.marks.every(({ from, to }) => inside(from) && inside(to))).toBe(true)
      while (now.past.length > 0) now = changeMarks(now, { do: 'undo' })
      expect(now).toMatchObject({ marks: [], crop: null })
    }),
  )
})
