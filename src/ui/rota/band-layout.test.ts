import type { RotaOccurrence } from '@/core/view-models'
import { layBand } from './band-layout'
import { spanOf } from './span'

const WEEK = spanOf('week', new Date(2026, 10, 23))
const BAND_PX = 1000
const start = (rotation: string, day: number, hour: number, more: Partial<RotaOccurrence> = {}) =>
  ({
    id: `${rotation}@${day}-${hour}`,
    rotation,
    title: rotation,
    at: new Date(2026, 10, day, hour).toISOString(),
    p50Ms: 180_000,
    p90Ms: 240_000,
    state: 'planned',
    endedAt: null,
    ...more,
  }) as RotaOccurrence
const hourly = (day: number, from = 0, to = 24) =>
  Array.from({ length: to - from }, (_, i) => start('hourly', day, from + i))
const told = (occurrences: RotaOccurrence[]) =>
  layBand(occurrences, WEEK, BAND_PX).blocks.map(
    ({ starts, row, namePx }) =>
      `${starts.length} ${starts[0]!.rotation} ${row}${namePx === undefined ? '' : ' named'}`,
  )

test('starts of one rotation that are too near to tell apart are one block, as long as they are', () => {
  const { blocks, rows } = layBand(hourly(24), WEEK, BAND_PX)
  expect(rows).toBe(1)
  expect(blocks).toHaveLength(1)
  expect(blocks[0]!.starts).toHaveLength(24)
  expect(blocks[0]!.left).toBeCloseTo(100 / 7)
  expect(blocks[0]!.solid).toBeCloseTo((23 / 24 + 3 / 1440) * (100 / 7))
})
test('those of a day with a pause between them are two', () =>
  expect(told([...hourly(24, 0, 6), ...hourly(24, 18, 24)])).toEqual([
    '6 hourly 0 named',
    '6 hourly 0 named',
  ]))
test('another rotation at the same time has a row of its own', () =>
  expect(told([...hourly(24), start('night', 24, 6)])).toEqual(['24 hourly 0 named', '1 night 1 named']))
test('what was and what is to come are not one block, nor what did not go', () => {
  const [a, b, c] = [
    start('hourly', 24, 1, { state: 'started', endedAt: new Date(2026, 10, 24, 1, 4).toISOString() }),
    start('hourly', 24, 2, { state: 'skipped' }),
    start('hourly', 24, 3),
  ]
  expect(
    layBand([a, b, c], WEEK, BAND_PX).blocks.map(({ starts }) => starts.map(({ state }) => state)),
  ).toEqual([['started'], ['skipped'], ['planned']])
})
test('a single one is as long as it took, and has no faint end any more', () => {
  const ended = start('night', 24, 1, { state: 'started', endedAt: new Date(2026, 10, 24, 4).toISOString() })
  const [block] = layBand([ended], WEEK, BAND_PX).blocks
  expect(block).toMatchObject({ faint: 0 })
  expect(block!.solid).toBeCloseTo(((3 / 24) * 100) / 7)
})
test('a name stands only where it has room before the next block of its row', () =>
  expect(told([start('a', 24, 0), start('b', 24, 5)])).toEqual(['1 a 0', '1 b 0 named']))
