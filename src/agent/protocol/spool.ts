/** What attempts produced and the server has not taken yet, on disk: so that it is delivered also when this
 * process ends in between. */
import {
  appendFileSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs'
import { basename, dirname, join } from 'node:path'
import type { AttemptResult, NumberedEvent } from '@/core/execution'
import type { Piece } from '../interpreter'

/** Which attempt, by whom, under which lease. */
export type SpoolHead = { agent: string; agentId: string; attemptId: string; lease: number }
type Line =
  | SpoolHead
  | { event: NumberedEvent }
  | { piece: string; mime: string }
  | { sent: number }
  | { result: AttemptResult }
export type Leftover = SpoolHead & {
  events: NumberedEvent[]
  pieces: Map<string, string>
  result?: AttemptResult
}

/** What is written by, so that a test can have a disk that is full. */
export type Disk = { append(file: string, text: string): void; write(file: string, bytes: Uint8Array): void }
const realDisk: Disk = { append: appendFileSync, write: writeFileSync }

/** One file an attempt, a line a thing; evidence beside it under its hash. A line cut off by a crash is
 * passed over. */
export class Spool {
  constructor(
    private readonly folder: string,
    private readonly say: (text: string) => void = () => {},
    private readonly disk: Disk = realDisk,
  ) {
    mkdirSync(join(folder, 'evidence'), { recursive: true })
  }

  begin(head: SpoolHead): AttemptSpool {
    return new AttemptSpool(this.fileOf(head.attemptId), this.pieceOf, head, this.disk, (error) =>
      this.say(
        `${head.agent}: what is not sent yet cannot be kept on disk (${error.message}). Attempt ` +
          `${head.attemptId} goes on and keeps it in memory: if this process ends now, the server gives ` +
          'the case to others',
      ),
    )
  }

  /** What an earlier process of this agent left behind, with what the server has not taken of it. */
  leftoversOf(agent: string): Leftover[] {
    return readdirSync(this.folder)
      .filter((name) => name.endsWith('.jsonl'))
      .flatMap((name) => {
        const found = readLeftover(join(this.folder, name))
        return found?.agent === agent ? [found] : []
      })
  }

  readPiece(hash: string): Buffer | undefined {
    return existsSync(this.pieceOf(hash)) ? readFileSync(this.pieceOf(hash)) : undefined
  }

  drop({ attemptId, pieces }: Pick<Leftover, 'attemptId' | 'pieces'>): void {
    for (const hash of pieces.keys()) rmSync(this.pieceOf(hash), { force: true })
    rmSync(this.fileOf(attemptId), { force: true })
  }

  /** Keeps it where it is not delivered again, for a person to look at. @returns where */
  setAside({ attemptId }: Pick<Leftover, 'attemptId'>): string {
    return moveAside(this.fileOf(attemptId))
  }

  private fileOf = (attemptId: string) => join(this.folder, `${attemptId}.jsonl`)
  private readonly pieceOf = (hash: string) => join(this.folder, 'evidence', hash)
}

/** A disk that takes no more ends it, and what it had written goes: half of a log is worth nothing to the
 * server. The attempt goes on. */
export class AttemptSpool {
  private readonly kept = new Set<string>()
  private broken = false

  constructor(
    private readonly file: string,
    private readonly pieceOf: (hash: string) => string,
    head: SpoolHead,
    private readonly disk: Disk,
    private readonly onBroken: (error: Error) => void,
  ) {
    this.add(head)
  }

  event(event: NumberedEvent): void {
    this.add({ event })
  }
  piece({ hash, mime, bytes }: Piece): void {
    if (this.kept.has(hash)) return
    this.kept.add(hash)
    this.tryTo(() => this.disk.write(this.pieceOf(hash), bytes))
    this.add({ piece: hash, mime })
  }
  /** The server has all events up to this number. */
  sent(no: number): void {
    this.add({ sent: no })
  }
  pieceSent(hash: string): void {
    this.kept.delete(hash)
    rmSync(this.pieceOf(hash), { force: true })
  }
  result(result: AttemptResult): void {
    this.add({ result })
  }
  /** The server does not take it: it is kept where it is not delivered again. */
  setAside(): void {
    this.tryTo(() => moveAside(this.file))
    this.broken = true
  }
  /** Everything was taken, or nobody wants it any more. */
  end(): void {
    for (const hash of this.kept) rmSync(this.pieceOf(hash), { force: true })
    rmSync(this.file, { force: true })
  }

  private add(line: Line): void {
    this.tryTo(() => this.disk.append(this.file, `${JSON.stringify(line)}\n`))
  }

  private tryTo(write: () => void): void {
    if (this.broken) return
    try {
      write()
    } catch (error) {
      this.broken = true
      this.end()
      this.onBroken(error as Error)
    }
  }
}

/** Newest first, so many are kept. */
const ASIDE_KEPT = 20

function moveAside(file: string): string {
  const folder = join(dirname(file), 'aside')
  mkdirSync(folder, { recursive: true })
  const to = join(folder, basename(file))
  renameSync(file, to)
  const names = readdirSync(folder).map((name) => ({ name, at: statSync(join(folder, name)).mtimeMs }))
  for (const { name } of names.sort((a, b) => b.at - a.at).slice(ASIDE_KEPT))
    rmSync(join(folder, name), { force: true })
  return to
}

function readLeftover(file: string): Leftover | undefined {
  const lines = readFileSync(file, 'utf8')
    .split('\n')
    .flatMap((text): Line[] => {
      try {
        return text === '' ? [] : [JSON.parse(text) as Line]
      } catch {
        return [] // cut off
      }
    })
  const head = lines.find((line): line is SpoolHead => 'attemptId' in line)
  if (!head) return undefined
  const sent = Math.max(0, ...lines.map((line) => ('sent' in line ? line.sent : 0)))
  const result = lines.findLast((line) => 'result' in line)
  return {
    ...head,
    events: lines.flatMap((line) => ('event' in line && line.event.no > sent ? [line.event] : [])),
    pieces: new Map(lines.flatMap((line) => ('piece' in line ? [[line.piece, line.mime] as const] : []))),
    ...(result && 'result' in result && { result: result.result }),
  }
}
