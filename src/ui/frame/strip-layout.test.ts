import fc from 'fast-check'
import { layStrip, type Bar } from './strip-layout'

const bar = (left: number, width: number, title = 'Night Full'): Bar => ({ left, width, title })
const STRIP_PX = 1100
const px = (percent: number) => (percent / 100) * STRIP_PX
const told = (bars: Bar[], now = -1) =>
  layStrip(bars, now, STRIP_PX).map(({ row, labelPx }) => [
    row,
    labelPx === undefined ? 0 : Math.round(labelPx),
  ])

test.each<[string, Bar[], number, [number, number][]]>([
  ['one alone has its name', [bar(10, 2)], -1, [[0, 150]]],
  [
    'two beside each other share the room',
    [bar(10, 2), bar(20, 2)],
    -1,
    [
      [0, 104],
      [0, 150],
    ],
  ],
  [
    'two that are near: the first has no room',
    [bar(10, 2), bar(13, 2)],
    -1,
    [
      [0, 0],
      [0, 150],
    ],
  ],
  [
    'two at the same time take both rows, and no name lies on a bar',
    [bar(10, 5), bar(11, 5)],
    -1,
    [
      [0, 0],
      [1, 0],
    ],
  ],
  ['the line of the present ends a name', [bar(40, 2)], 50, [[0, 104]]],
  ['and takes it away where it is near', [bar(48, 2)], 50, [[0, 0]]],
  ['also where both stand in the same pixel', [bar(5e-324, 2)], 0, [[0, 0]]],
  ['one that began before the strip has none', [bar(-3, 6)], -1, [[0, 0]]],
  ['nor has one at its end', [bar(98, 1)], -1, [[0, 0]]],
  ['a short name needs little room', [bar(47, 1, 'Sum')], 50, [[0, 27]]],
])('%s', (_, bars, now, rows) => expect(told(bars, now)).toEqual(rows))

test('whatever runs when, no name lies on another, on a bar, or on the line of the present', () => {
  const bars = fc.array(
    fc.record({
      left: fc.double({ min: -5, max: 100, noNaN: true }),
      width: fc.double({ min: 0, max: 30, noNaN: true }),
      title: fc.string({ minLength: 1, maxLength: 30 }),
    }),
    { maxLength: 25 },
  )
  fc.assert(
    fc.property(bars, fc.double({ min: -10, max: 110, noNaN: true }), (given, now) => {
      const laid = layStrip(given, now, STRIP_PX)
      const labels = laid.flatMap(({ left, labelPx }) =>
        labelPx === undefined ? [] : [{ from: px(left), to: px(left) + labelPx }],
      )
      labels.forEach(({ from, to }, i) => {
        expect(to).toBeLessThanOrEqual(STRIP_PX)
        expect(px(now) >= from && px(now) < to).toBe(false)
        for (const other of labels.slice(i + 1)) expect(other.from >= to || other.to <= from).toBe(true)
        for (const one of laid.filter(({ row }) => row === 1))
          expect(px(one.left) >= to || px(one.left + one.width) <= from).toBe(true)
      })
    }),
  )
})
