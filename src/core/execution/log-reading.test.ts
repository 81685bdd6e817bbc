import fc from 'fast-check'
import { LogReading, type LineRow, type OutlineLine } from '.'

const line = (path: string, more: Partial<OutlineLine> = {}): OutlineLine => ({
  path,
  depth: path.split('.').length - 2,
  words: { verb: 'click', object: path, detail: '' },
  mark: 'passed',
  values: {},
  console: [],
  requests: [],
  onTheWay: false,
  failing: false,
  ...more,
})
const screen = (hash: string, atMs: number) => ({ hash, atMs, width: 8, height: 6 })
const LINES = [
  line('main.0', { startMs: 0, ms: 10, no: 1, after: screen('a', 9) }),
  line('main.1', { startMs: 12, ms: 30, no: 2, onTheWay: true, mark: 'failed' }),
  line('main.1.0', { startMs: 13, ms: 5, no: 3, words: { verb: 'check', object: 'fare', detail: '' } }),
  line('main.1.1', {
    startMs: 20,
    ms: 20,
    no: 4,
    onTheWay: true,
    failing: true,
    mark: 'failed',
    before: screen('b', 20),
    after: screen('c', 39),
  }),
  line('main.2', { mark: 'skipped' }),
]
const ALL = { fold: false, only: null }
const reading = new LogReading(LINES)
const paths = (rows: readonly LineRow[]) => rows.map(({ path }) => path)

test('it begins at the failing line; without one where it was put right, or is at work, or begins', () => {
  expect(reading.head(50)).toMatchObject({ lines: 5, onTheWay: 2, failing: ['main.1.1'], start: 'main.1.1' })
  const start = (...lines: OutlineLine[]) => new LogReading(lines).head(50).start
  expect(start(line('a.0'), line('a.1', { recovery: 'put-right' }))).toBe('a.1')
  expect(start(line('a.0'), line('a.1', { mark: 'running' }))).toBe('a.1')
  expect(start(line('a.0'), line('a.1'))).toBe('a.0')
  expect(start()).toBeNull()
})

test('windows have the lines that are looked at, and say which of them have the text', () => {
  expect(paths(reading.window(ALL, '', 1, 2).rows)).toEqual(['main.1', 'main.1.0'])
  expect(reading.window({ ...ALL, fold: true }, '', 0, 9)).toMatchObject({ total: 2 })
  expect(reading.window({ ...ALL, only: 'checks' }, 'fare', 0, 9).rows).toMatchObject([
    { path: 'main.1.0', isHit: true },
  ])
  expect(reading.window(ALL, '', 9, 9)).toEqual({ total: 5, from: 9, rows: [] })
})

test('a line comes with its neighbours, its screens, and when the next began', () => {
  expect(reading.line('main.1.0', ALL)).toMatchObject({
    index: 2,
    previous: 'main.1',
    next: 'main.1.1',
    untilMs: 20,
    shown: { this: { hash: 'a' }, earlier: { hash: 'a' } },
  })
  expect(reading.line('main.1.1', ALL)!.shown).toMatchObject({ this: { hash: 'c' }, earlier: { hash: 'b' } })
  expect(reading.line('main.1.0', { ...ALL, fold: true })).toMatchObject({ index: -1 })
  expect(reading.line('main.9', ALL)).toBeUndefined()
})

test('hits are walked round and round', () => {
  const walk = (selected?: string) => reading.hits(ALL, 'MAIN.1', selected)
  expect(walk()).toEqual({ count: 2, at: -1, previous: 'main.1.1', next: 'main.1' })
  expect(walk('main.1')).toEqual({ count: 2, at: 0, previous: 'main.1.1', next: 'main.1.1' })
  expect(reading.hits(ALL, 'nothing', 'main.0')).toEqual({ count: 0, at: -1 })
  expect(reading.hits(ALL, ' ', 'main.0')).toEqual({ count: 0, at: -1 })
})

test('at any time the line that began last is at work', () => {
  expect([0, 11, 12.5, 19, 20, 99].map((ms) => reading.pathAt(ms))).toEqual([
    'main.0',
    'main.0',
    'main.1',
    'main.1.0',
    'main.1.1',
    'main.1.1',
  ])
  expect(reading.pathAt(-1)).toBeUndefined()
})

test('of very many console lines and requests the first come with the line, the others in parts', () => {
  const said = Array.from({ length: 400 }, (_, i) => ({ atMs: i * 2, level: 'log', text: `${i}` }))
  const asked = [{ atMs: 3, method: 'GET', url: '/', status: 200, ms: 1 }]
  const busy = new LogReading([line('main.0', { console: said, requests: asked })])
  const first = busy.line('main.0', ALL)!
  expect([first.line.console.length, first.line.requests.length, first.more]).toEqual([299, 1, 101])
  expect(busy.entries('main.0', 300, 200).console.map(({ text }) => text)).toEqual(
    said.slice(299).map(({ text }) => text),
  )
  expect(busy.entries('main.1', 0, 9)).toEqual({ console: [], requests: [] })
})

test('the film has a screen for each stretch, ticks apart, and failures where they were', () => {
  const { film } = reading.head(40)
  expect(film.frames).toHaveLength(14)
  expect(film.frames.map((frame) => frame?.screen.hash).join('')).toBe('aaaaaaabbbbbbb')
  expect(film.ticks.map(({ path }) => path)).toEqual(['main.0', 'main.1', 'main.1.0'])
  expect(film.failures).toEqual([{ path: 'main.1.1', atMs: 40, message: '' }])
  const many = new LogReading(Array.from({ length: 50_000 }, (_, i) => line(`main.${i}`, { startMs: i })))
  expect(many.head(50_000).film.ticks.length).toBeLessThanOrEqual(401)
})

test('windows put together are all lines, whatever is looked at', () => {
  const anyLine = fc.record({ verb: fc.constantFrom('click', 'check'), onTheWay: fc.boolean() })
  fc.assert(
    fc.property(
      fc.array(anyLine, { maxLength: 60 }),
      fc.boolean(),
      fc.integer({ min: 1, max: 9 }),
      (kinds, fold, size) => {
        const lines = kinds.map(({ verb, onTheWay }, i) =>
          line(`main.${i}`, { onTheWay, words: { verb, object: '', detail: '' } }),
        )
        const read = new LogReading(lines)
        for (const only of [null, 'checks']) {
          const narrowing = { fold, only }
          const { total } = read.window(narrowing, '', 0, 0)
          const rows: LineRow[] = []
          for (let from = 0; from < total; from += size)
            rows.push(...read.window(narrowing, '', from, size).rows)
          const wanted = lines.filter(
            ({ words, onTheWay }) => (!fold || onTheWay) && (only === null || words.verb === 'check'),
          )
          expect(paths(rows)).toEqual(paths(wanted))
          for (const [i, { path }] of rows.entries())
            expect(read.line(path, narrowing)).toMatchObject({
              index: i,
              ...(i > 0 && { previous: rows[i - 1]!.path }),
            })
        }
      },
    ),
  )
})
