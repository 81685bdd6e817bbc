/** Logs of attempts as a thread reads them: built from their events once, and kept for whoever reads on. What
 * was read longest ago is forgotten, and is given anew when it is asked for. */
import {
  align,
  differs,
  LogReading,
  outlineOf,
  rowOf,
  type AlignedRow,
  type HitsAnswer,
  type LineAnswer,
  type Narrowing,
  type NumberedEvent,
  type OutlineHead,
  type OutlineLine,
  type OutlineWindow,
} from '@/core/execution'
import type { Routine, TestCase } from '@/core/model'
import type { BesideAnswer } from '@/core/view-models'
import { readLogAtOnce, type LogBytes } from '@/db/log-piece'

/** `key`: of the attempt, and of how far its log had come. */
export type LogGiven = {
  testCase: TestCase
  routines: readonly Routine[]
  log: LogBytes
}
export type LogHead = OutlineHead & {
  ms: number
  facts: Record<string, string>
  notes: { atMs: number; text: string }[]
  video: { hash: string; startMs: number } | null
  source: string | null
  display: string | null
}
export type LogAsk =
  | { ask: 'head' }
  | { ask: 'all' }
  | ({ ask: 'window'; find: string; from: number; count: number } & Narrowing)
  | ({ ask: 'line'; path: string } & Narrowing)
  | ({ ask: 'hits'; find: string; selected?: string } & Narrowing)
  | { ask: 'path-at'; ms: number }
  | { ask: 'path-of-screen'; hash: string }
  | ({ ask: 'text' } & Narrowing)
  | { ask: 'entries'; path: string; from: number; count: number }
/** What each question is answered with. */
export type LogAnswers = {
  head: LogHead
  all: OutlineLine[]
  window: OutlineWindow
  line: LineAnswer | undefined
  hits: HitsAnswer
  'path-at': string | undefined
  'path-of-screen': string | undefined
  text: string
  entries: Pick<OutlineLine, 'console' | 'requests'>
}
export type LogQuestion = { key: string; log?: LogGiven; ask: LogAsk }
/** `missing`: it has to be given with the question. */
export type LogReply = { answer: unknown } | { missing: true }

export type BesideAsk = {
  from: number
  count: number
  /** The line of now whose other is wanted whole. */
  path?: string
}
export type BesideQuestion = { keys: [string, string]; logs?: [LogGiven?, LogGiven?]; ask: BesideAsk }
export type BesideReply = { answer: BesideAnswer } | { missing: [boolean, boolean] }

type Kept = { lines: OutlineLine[]; reading: LogReading; head: LogHead }

/** Lines of all logs that are kept, and how many logs. */
const LINES_MOST = 200_000
const LOGS_MOST = 40
const NOTES_MOST = 500
const kept = new Map<string, Kept>()
const aligned = new Map<string, AlignedRow[]>()
const ALIGNED_MOST = 4
const ALL: Narrowing = { fold: false, only: null }

export function readLog({ key, log, ask }: LogQuestion): LogReply {
  const one = keep(key, log)
  return one ? { answer: answerOf(one, ask) } : { missing: true }
}

function keep(key: string, log: LogGiven | undefined): Kept | undefined {
  const one = kept.get(key) ?? (log && keptOf(log))
  if (!one) return undefined
  kept.delete(key)
  kept.set(key, one) // what was read last is forgotten last
  let lines = [...kept.values()].reduce((sum, other) => sum + other.lines.length, 0)
  for (const [oldest, { lines: its }] of kept) {
    if (kept.size <= 1 || (lines <= LINES_MOST && kept.size <= LOGS_MOST)) break
    kept.delete(oldest)
    lines -= its.length
  }
  return one
}

function keptOf({ testCase, routines, log }: LogGiven): Kept {
  const events = readLogAtOnce(log)
  const lines = outlineOf(testCase, routines, events)
  const started = events.find((event) => event.type === 'started')
  const piece = (kind: 'video' | 'page-source' | 'display') =>
    events.find((event) => event.type === 'evidence' && event.kind === kind) as
      Extract<NumberedEvent, { type: 'evidence' }> | undefined
  const [video, source, display] = [piece('video'), piece('page-source'), piece('display')]
  const notes = events.flatMap((event) =>
    event.type === 'note' ? [{ atMs: event.atMs, text: event.text }] : [],
  )
  const reading = new LogReading(lines)
  const ms = events.reduce((most, { atMs }) => Math.max(most, atMs), 1)
  const head: LogHead = {
    ...reading.head(ms),
    ms,
    facts: started?.type === 'started' ? started.facts : {},
    notes: notes.slice(0, NOTES_MOST),
    video: video ? { hash: video.hash, startMs: video.startMs ?? 0 } : null,
    source: source?.hash ?? null,
    display: display?.hash ?? null,
  }
  return { lines, reading, head }
}

function answerOf({ lines, reading, head }: Kept, ask: LogAsk): LogAnswers[LogAsk['ask']] {
  switch (ask.ask) {
    case 'head':
      return head
    case 'all':
      return lines
    case 'window':
      return reading.window(ask, ask.find, ask.from, ask.count)
    case 'line':
      return reading.line(ask.path, ask)
    case 'hits':
      return reading.hits(ask, ask.find, ask.selected)
    case 'path-at':
      return reading.pathAt(ask.ms)
    case 'path-of-screen':
      return reading.pathOfScreen(ask.hash)
    case 'text':
      return reading.text(ask)
    case 'entries':
      return reading.entries(ask.path, ask.from, ask.count)
  }
}

/** Two attempts step beside step. */
export function besideLogs({ keys, logs = [], ask }: BesideQuestion): BesideReply {
  const [then, now] = [keep(keys[0], logs[0]), keep(keys[1], logs[1])]
  if (!then || !now) return { missing: [!then, !now] }
  const pair = keys.join(' ')
  const rows = aligned.get(pair) ?? align(then.lines, now.lines)
  aligned.delete(pair)
  aligned.set(pair, rows)
  if (aligned.size > ALIGNED_MOST) aligned.delete(aligned.keys().next().value!)
  return { answer: besideAnswer(then, now, rows, ask) }
}

function besideAnswer(then: Kept, now: Kept, rows: readonly AlignedRow[], ask: BesideAsk): BesideAnswer {
  const isOther = (row: AlignedRow) => differs(row, then.lines, now.lines)
  const pathOf = (row: AlignedRow | undefined) =>
    row?.now === undefined ? undefined : now.lines[row.now]!.path
  const index = ask.path === undefined ? -1 : rows.findIndex((row) => pathOf(row) === ask.path)
  const others = rows.filter(isOther)
  const first = pathOf(others.find((row) => row.now !== undefined))
  /** The next line of now; what was only then has none to select. */
  const near = (by: 1 | -1) => {
    for (let i = index + by; i >= 0 && i < rows.length; i += by) {
      const path = pathOf(rows[i])
      if (path !== undefined) return path
    }
    return undefined
  }
  const [previous, next] = [near(-1), near(1)]
  const good = rows[index]?.good
  const other = good === undefined ? undefined : then.reading.line(then.lines[good]!.path, ALL)
  return {
    total: rows.length,
    differing: others.length,
    from: ask.from,
    rows: rows.slice(ask.from, ask.from + ask.count).map(({ good: g, now: n, ...row }) => ({
      ...row,
      differs: isOther({ ...row, ...(g !== undefined && { good: g }), ...(n !== undefined && { now: n }) }),
      ...(g !== undefined && { then: rowOf(then.lines[g]!) }),
      ...(n !== undefined && { now: rowOf(now.lines[n]!) }),
    })),
    index,
    ...(first !== undefined && { first }),
    ...(previous !== undefined && { previous }),
    ...(next !== undefined && { next }),
    ...(other && { other }),
  }
}
