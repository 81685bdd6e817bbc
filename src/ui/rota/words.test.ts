import type { RotaClash, RotaOccurrence } from '@/core/view-models'
import { percentOf, spanOf, spanWords } from './span'
import { clashWhat, clashWhen, dayWords, grouped, fixWords } from './words'

const NOW = new Date(2026, 10, 28, 12, 0)
const at = (day: number, hour: number, minute = 0) => new Date(2026, 10, day, hour, minute).toISOString()
const start = (id: string, title: string, day: number, hour: number) =>
  ({ id, rotation: title, title, at: at(day, hour), state: 'planned' }) as unknown as RotaOccurrence
const clash = (ids: string[], day: number, hour: number): RotaClash =>
  ({
    ids,
    from: at(day, hour),
    to: at(day, hour, 50),
    pool: 'Handsets',
    need: 9,
    have: 6,
    likelihood: 0.62,
  }) as unknown as RotaClash

test.each([
  [at(28, 0), 'today', 'the first minute of the day is still today'],
  [at(28, 23, 59), 'today', 'and the last one'],
  [at(29, 0), 'tomorrow', 'midnight is tomorrow'],
  [at(30, 9), 'Monday 30 Nov', 'later by its name'],
  [at(27, 23, 59), 'Friday 27 Nov', 'yesterday by its name too'],
])('%s is %s: %s', (moment, words) => expect(dayWords(moment, NOW)).toBe(words))

describe('clashes', () => {
  const starts = [
    start('a1', 'Night Full', 28, 22),
    start('b1', 'Weekly Devices', 28, 22),
    start('a2', 'Night Full', 29, 22),
    start('b2', 'Weekly Devices', 29, 22),
    start('c', 'Hourly Smoke', 29, 22),
  ]
  test('of the same rotations are told once, with how many more there are; of others apart', () => {
    const groups = grouped(
      [clash(['a1', 'b1'], 28, 22), clash(['b2', 'a2'], 29, 22), clash(['a2', 'c'], 29, 22)],
      starts,
    )
    expect(groups.map(({ more, starts: named }) => [named.map(({ title }) => title), more.length])).toEqual([
      [['Night Full', 'Weekly Devices'], 1],
      [['Night Full', 'Hourly Smoke'], 0],
    ])
    expect(clashWhen(groups[0]!.clash, NOW)).toBe('Today 22:00 to 22:50')
    expect(clashWhat(groups[0]!)).toBe(
      'Night Full (22:00) and Weekly Devices (22:00) want 9 of the 6 seats of Handsets, 62% likely, ' +
        'and 1 time more like it.',
    )
  })
  test.each([
    [
      'on the same day: only the time',
      { do: 'move', id: 'a1', at: at(28, 23, 15) },
      'Start Night Full at 23:15',
    ],
    [
      'on another day: the day too',
      { do: 'move', id: 'a1', at: at(29, 1) },
      'Start Night Full tomorrow 01:00',
    ],
    ['to another pool', { do: 'pool', id: 'b1', pool: 'Shore' }, 'Use pool Shore for Weekly Devices'],
  ])('mended %s', (_, fix, words) =>
    expect(fixWords(fix as Parameters<typeof fixWords>[0], starts, NOW)).toBe(words),
  )
})

test('a span holds the whole day, the whole week from Monday, or four of them; and says so', () => {
  const [day, week, month] = [spanOf('day', NOW), spanOf('week', NOW), spanOf('month', NOW)]
  expect(
    [day, week, month].map(({ from, to }) => [
      from.getDate(),
      Math.round((to.getTime() - from.getTime()) / 86_400_000),
    ]),
  ).toEqual([
    [28, 1],
    [23, 7],
    [23, 28],
  ])
  expect([day, week, month].map(spanWords)).toEqual([
    'Saturday 28 November',
    '23 to 29 November',
    '23 November to 20 December',
  ])
  expect(percentOf(day, NOW.getTime())).toBe(50)
})
