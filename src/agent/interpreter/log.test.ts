import { AttemptLog, type Piece } from './log'
import { maskerOf } from './secrets'
import { attempt, click, seen } from './testing/scripted'
import type { NumberedEvent } from '@/core/execution'
import { virtualPace, type BrowserDriver, type LogEntry } from '../driver/port'

test('where a step led is said once, with what the page calls itself', async () => {
  const { events } = await attempt([{ verb: 'open', address: 'app:/start' }, click('Go'), click('Go')], {
    Go: seen(''),
  })
  expect(events.filter(({ type }) => type === 'page')).toMatchObject([
    { path: 'main.0', url: 'http://app/done', title: 'Done' },
  ])
})

const ENTRIES: LogEntry[] = [
  { type: 'request', atMs: 3, method: 'POST', url: 'http://app/fares', status: 500, ms: 2 },
  {
    type: 'exchange',
    atMs: 9,
    url: 'http://app/fares',
    askedAtMs: 3,
    text: 'POST /fares\n\npassword=low-tide',
  },
]
function logOf(network: 'always' | 'on-failure' | 'never') {
  const events: NumberedEvent[] = []
  const pieces: Piece[] = []
  const sink = {
    event: (event: NumberedEvent) => events.push(event),
    evidence: (one: Piece) => pieces.push(one),
  }
  const log = new AttemptLog(sink, virtualPace(), maskerOf(['low-tide']), { console: 'always', network })
  log.gather({ takeLog: () => ENTRIES } as unknown as BrowserDriver, 'main.0')
  return { log, events, pieces }
}

test('headers and bodies are a piece of text, in which secrets are masked', () => {
  const { events, pieces } = logOf('always')
  expect(events.map(({ type }) => type)).toEqual(['request', 'exchange'])
  expect(pieces).toHaveLength(1)
  expect(Buffer.from(pieces[0]!.bytes).toString()).toBe('POST /fares\n\npassword=••••')
  expect(events[1]).toMatchObject({ askedAtMs: 3, hash: pieces[0]!.hash, path: 'main.0' })
})

test('they are kept when the requests are: after a failure, or not at all', () => {
  const held = logOf('on-failure')
  expect([held.events, held.pieces]).toEqual([[], []])
  held.log.release()
  expect(held.events.map(({ type }) => type)).toEqual(['request', 'exchange'])
  expect(held.pieces).toHaveLength(1)
  expect(logOf('never').pieces).toEqual([])
})
