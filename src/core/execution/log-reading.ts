/** Reads the outline of an attempt part by part: whoever shows it holds a window of it, at any length. */
import { byPage, isPageLine } from './by-page'
import { filmOf, type Film } from './film'
import { linesOfKind, linesWith, verbsIn } from './find-lines'
import type { OutlineLine, Screen } from './outline'
import { outlineText } from './outline-text'

/** Which lines are looked at: those that lead to failures, those of a kind (`linesOfKind`). `byPage`: ordered
 * by the pages they were done on. */
export type Narrowing = { fold: boolean; only: string | null; byPage?: boolean }

/** A line as a list shows it. */
export type LineRow = Pick<
  OutlineLine,
  'path' | 'no' | 'depth' | 'words' | 'mark' | 'startMs' | 'ms' | 'onTheWay' | 'failing' | 'recovery'
>
export type OutlineHead = {
  /** How many lines there are, and how many lead to a failure. */
  lines: number
  onTheWay: number
  /** Paths of the failing lines, the first ones of very many. */
  failing: string[]
  verbs: string[]
  /** The line to begin at; `null`: there is none at all. */
  start: string | null
  film: Film
}
export type OutlineWindow = { total: number; from: number; rows: (LineRow & { isHit: boolean })[] }
/** Console lines and requests of a step, by time; the first ones of very many. */
export type LineAnswer = {
  line: OutlineLine
  /** What there was more of its console lines and requests. */
  more: number
  /** Its place among those that are looked at; -1: it is none of them. */
  index: number
  /** The newest screen at its end, and one that is another and earlier. */
  shown: { this?: Screen; earlier?: Screen }
  /** When the next line began; absent: none did. */
  untilMs?: number
  /** Paths of the lines before and after it, among those that are looked at. */
  previous?: string
  next?: string
}
/** Lines that have a text: how many, which of them a line is (-1: none), and the ones before and after it,
 * round and round. */
export type HitsAnswer = { count: number; at: number; previous?: string; next?: string }

const FAILING_MOST = 1000
const WORDS_MOST = 300
/** Console lines and requests of a step that come with it. */
const ENTRIES_FIRST = 300
/** Narrowings, and texts looked for, that are known without counting again. */
const KNOWN_MOST = 8

export class LogReading {
  private readonly at: ReadonlyMap<string, number>
  private readonly narrowed = new Map<string, OutlineLine[]>()
  private readonly found = new Map<string, OutlineLine[]>()
  /** By start: whatever time it is, the line that was at work is found by halving. */
  private readonly begun: OutlineLine[]

  constructor(private readonly lines: readonly OutlineLine[]) {
    this.at = new Map(lines.map(({ path }, i) => [path, i]))
    this.begun = lines
      .filter(({ startMs }) => startMs !== undefined)
      .sort((a, b) => a.startMs! - b.startMs! || (a.no ?? 0) - (b.no ?? 0))
  }

  head(ms: number): OutlineHead {
    const failing = this.lines.filter((line) => line.failing)
    const start =
      failing[0] ??
      this.lines.find(({ recovery }) => recovery === 'put-right') ??
      this.lines.findLast(({ mark }) => mark === 'running') ??
      this.lines[0]
    return {
      lines: this.lines.length,
      onTheWay: this.lines.filter(({ onTheWay }) => onTheWay).length,
      failing: failing.slice(0, FAILING_MOST).map(({ path }) => path),
      verbs: verbsIn(this.lines),
      start: start?.path ?? null,
      film: filmOf(this.lines, ms),
    }
  }

  window(narrowing: Narrowing, find: string, from: number, count: number): OutlineWindow {
    const lines = this.of(narrowing)
    const hits = new Set(this.hitsOf(narrowing, find))
    const rows = lines.slice(from, from + count).map((line) => ({ ...rowOf(line), isHit: hits.has(line) }))
    return { total: lines.length, from, rows }
  }

  /** @returns nothing when there is no such line */
  line(path: string, narrowing: Narrowing): LineAnswer | undefined {
    const line = this.lines[this.at.get(path) ?? -1]
    if (!line) return undefined
    const lines = this.of(narrowing)
    const index = lines.findIndex((one) => one.path === path)
    const near = (by: 1 | -1) => {
      if (index < 0) return undefined
      const next = lines[index + by]
      return next && isPageLine(next) ? lines[index + 2 * by]?.path : next?.path
    }
    const [previous, next] = [near(-1), near(1)]
    const place = this.begun.indexOf(line)
    const following = place < 0 ? undefined : this.begun[place + 1]
    return {
      ...firstEntries(line),
      index,
      shown: { ...this.shown(line, 'this'), ...this.shown(line, 'earlier') },
      ...(following && { untilMs: following.startMs! }),
      ...(previous !== undefined && { previous }),
      ...(next !== undefined && { next }),
    }
  }

  hits(narrowing: Narrowing, find: string, selected: string | undefined): HitsAnswer {
    const hits = this.hitsOf(narrowing, find)
    const at = hits.findIndex(({ path }) => path === selected)
    const { length } = hits
    const [previous, next] =
      at < 0
        ? [hits.at(-1)?.path, hits[0]?.path]
        : [hits[(at + length - 1) % length]?.path, hits[(at + 1) % length]?.path]
    return {
      count: length,
      at,
      ...(previous !== undefined && { previous }),
      ...(next !== undefined && { next }),
    }
  }

  /** Path of the line that was at work at a time; absent: none had begun. */
  pathAt(ms: number): string | undefined {
    let [low, high] = [0, this.begun.length]
    while (low < high) {
      const middle = (low + high) >> 1
      if (this.begun[middle]!.startMs! <= ms) low = middle + 1
      else high = middle
    }
    return this.begun[low - 1]?.path
  }

  /** Path of the first line that shows this screen. */
  pathOfScreen = (hash: string): string | undefined =>
    (
      this.begun.find(({ after }) => after?.hash === hash) ??
      this.begun.find(({ before }) => before?.hash === hash)
    )?.path

  text = (narrowing: Narrowing): string => outlineText(this.of(narrowing))

  /** Console lines and requests of a step, from one on. */
  entries(path: string, from: number, count: number): Pick<OutlineLine, 'console' | 'requests'> {
    const line = this.lines[this.at.get(path) ?? -1]
    return line ? entriesOf(line, from, count) : { console: [], requests: [] }
  }

  private of(narrowing: Narrowing): OutlineLine[] {
    const { fold, only, byPage: isByPage } = narrowing
    return known(this.narrowed, keyOf(narrowing), () => {
      const lines = linesOfKind(fold ? this.lines.filter(({ onTheWay }) => onTheWay) : this.lines, only)
      return isByPage ? byPage(lines) : lines
    })
  }

  private hitsOf(narrowing: Narrowing, find: string): OutlineLine[] {
    if (find.trim() === '') return []
    return known(this.found, `${keyOf(narrowing)} ${find}`, () =>
      linesWith(
        this.of(narrowing).filter((line) => !isPageLine(line)),
        find,
      ),
    )
  }

  /** The screen of a line; a step without its own (a call, a block) shows the newest before it ended. */
  private shown(line: OutlineLine, which: 'this' | 'earlier'): { this?: Screen; earlier?: Screen } {
    const earlier = line.before?.hash === line.after?.hash ? undefined : line.before
    const own = which === 'this' ? (line.after ?? line.before) : earlier
    if (own) return { [which]: own }
    const start = line.startMs ?? 0
    const until = which === 'this' ? start + (line.ms ?? 0) : start
    const skip = which === 'earlier' ? (line.after ?? line.before)?.hash : undefined
    const newest = this.screens().findLast(({ atMs, hash }) => atMs <= until && hash !== skip)
    return newest ? { [which]: newest } : {}
  }

  private sorted: Screen[] | undefined
  private screens = (): Screen[] =>
    (this.sorted ??= this.lines
      .flatMap(({ before, after }) => [before, after].filter((screen) => screen !== undefined))
      .sort((a, b) => a.atMs - b.atMs))
}

const keyOf = ({ fold, only, byPage: isByPage = false }: Narrowing) => `${fold} ${isByPage} ${only ?? ''}`

function known<T>(cache: Map<string, T>, key: string, make: () => T): T {
  const made = cache.get(key) ?? make()
  cache.delete(key)
  cache.set(key, made) // the one asked for last is forgotten last
  if (cache.size > KNOWN_MOST) cache.delete(cache.keys().next().value!)
  return made
}

/** What a list shows of a line. */
export function rowOf({
  path,
  no,
  depth,
  words,
  mark,
  startMs,
  ms,
  onTheWay,
  failing,
  recovery,
}: OutlineLine): LineRow {
  const clip = (text: string) => (text.length > WORDS_MOST ? `${text.slice(0, WORDS_MOST)}…` : text)
  return {
    path,
    depth,
    mark,
    onTheWay,
    failing,
    words: { verb: words.verb, object: clip(words.object), detail: clip(words.detail) },
    ...(no !== undefined && { no }),
    ...(startMs !== undefined && { startMs }),
    ...(ms !== undefined && { ms }),
    ...(recovery && { recovery }),
  }
}

function firstEntries(line: OutlineLine): Pick<LineAnswer, 'line' | 'more'> {
  const first = entriesOf(line, 0, ENTRIES_FIRST)
  const count = (one: Pick<OutlineLine, 'console' | 'requests'>) => one.console.length + one.requests.length
  return { line: { ...line, ...first }, more: count(line) - count(first) }
}

function entriesOf(
  line: OutlineLine,
  from: number,
  count: number,
): Pick<OutlineLine, 'console' | 'requests'> {
  const all = [
    ...line.console.map((said) => ({ atMs: said.atMs, said })),
    ...line.requests.map((asked) => ({ atMs: asked.atMs, asked })),
  ].sort((a, b) => a.atMs - b.atMs)
  const chosen = all.slice(from, from + count)
  return {
    console: chosen.flatMap((one) => ('said' in one ? [one.said] : [])),
    requests: chosen.flatMap((one) => ('asked' in one ? [one.asked] : [])),
  }
}
