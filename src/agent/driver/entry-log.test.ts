import { ENTRY_TEXT_CHARS, EntryLog } from './entry-log'
import { EXCHANGES_MOST } from './exchange'
import type { LogEntry } from './port'

const line = (text: string): LogEntry => ({ type: 'console', atMs: 0, level: 'log', text })
const request = (url: string): LogEntry => ({
  type: 'request',
  atMs: 0,
  method: 'GET',
  url,
  status: 200,
  ms: 1,
})
const exchange = (url: string): LogEntry => ({ type: 'exchange', atMs: 0, url, askedAtMs: 0, text: '' })
const times = (count: number, entry: LogEntry) => Array.from({ length: count }, () => entry)

test('of 12,000 requests 10,000 are kept and 2,000 counted, however often they are taken away', () => {
  const log = new EntryLog()
  for (const entry of times(6000, request('/a'))) log.push(entry)
  const first = log.take()
  for (const entry of times(6000, request('/b'))) log.push(entry)
  const second = log.take()
  expect([first.length, second.length]).toEqual([6000, 4000])
  expect(log.lost).toEqual({ console: 0, request: 2000 })
  expect(log.take()).toEqual([])
})

test('many of one kind leave room for the others, in the order in which they came', () => {
  const log = new EntryLog()
  const all = [...times(10_001, line('said')), request('/one'), ...times(EXCHANGES_MOST + 5, exchange('/x'))]
  for (const entry of [...all, line('too late'), request('/two')]) log.push(entry)
  const kept = log.take()
  expect(log.lost).toEqual({ console: 2, request: 0 })
  expect(kept).toHaveLength(10_000 + 1 + EXCHANGES_MOST + 1)
  expect([kept[9999], kept[10_000], kept.at(-1)]).toEqual([line('said'), request('/one'), request('/two')])
})

test('long texts and addresses are cut', () => {
  const log = new EntryLog()
  const long = 'x'.repeat(ENTRY_TEXT_CHARS + 1)
  for (const entry of [line(long), request(long), exchange(long)]) log.push(entry)
  expect(log.take().map((entry) => (entry.type === 'console' ? entry.text : entry.url).length)).toEqual(
    times(3, line('')).map(() => ENTRY_TEXT_CHARS),
  )
})
