/** Numbers and times the events of one attempt, and hands them on with their evidence. */
import { createHash } from 'node:crypto'
import { USUAL_HOW, type RotationHow } from '@/core/model'
import type { AttemptEvent, NumberedEvent } from '@/core/execution'
import type { Masker } from './secrets'
import type { BrowserDriver, LogEntry, Pace } from '../driver/port'

/** Bytes to keep under their hash. */
export type Piece = { hash: string; mime: string; bytes: Uint8Array }
/** Takes what an attempt produces. Must not fail: what cannot be sent now is kept and sent later. */
export interface Sink {
  event(event: NumberedEvent): void
  evidence(piece: Piece): void
}

type Untimed = AttemptEvent extends infer E ? (E extends AttemptEvent ? Omit<E, 'atMs'> : never) : never

/** Lines of an attempt's log, and characters in it. What has to be said at its end has room beyond. */
const LINES_MOST = 100_000
const CHARS_MOST = 50_000_000
/** Bytes of evidence of one attempt, and of one piece (what the server takes). */
const EVIDENCE_MOST_BYTES = 500_000_000
const PIECE_MOST_BYTES = 64_000_000

/** A screen this fresh, with no action since, is still the screen: before the next step, and after a check
 * that held at once. */
const FRESH_MS = 400

export class AttemptLog {
  private no = 0
  private chars = 0
  private evidenceBytes = 0
  /** Evidence that was too large, or too much. */
  private leftOut = 0
  private readonly held: { entry: LogEntry; path: string }[] = []
  private lastScreen: { atMs: number; hash: string; width: number; height: number } | undefined

  /** @param hide takes secrets out of whatever is said */
  constructor(
    private readonly sink: Sink,
    private readonly pace: Pace,
    readonly hide: Masker = (value) => value,
    private readonly how: Pick<RotationHow, 'console' | 'network'> = USUAL_HOW,
  ) {}

  say(event: Untimed, atMs = this.pace.now()): void {
    const hidden = this.hide(event)
    this.chars += lengthOf(hidden)
    this.sink.event({ ...hidden, atMs, no: ++this.no } as NumberedEvent)
  }

  /** Nothing more should be begun: what is said then is the end. */
  get isFull(): boolean {
    return this.no >= LINES_MOST || this.chars >= CHARS_MOST
  }

  /** Says what of the page's own words, and of evidence, was too much to keep. */
  sayWhatIsMissing(driver: BrowserDriver, path: string): void {
    const { console: lines, request: requests } = driver.lost?.() ?? { console: 0, request: 0 }
    const missing = [
      ...(lines > 0 ? [`${lines.toLocaleString('en')} more lines of the page's console`] : []),
      ...(requests > 0 ? [`${requests.toLocaleString('en')} more requests`] : []),
      ...(this.leftOut > 0
        ? [`${this.leftOut.toLocaleString('en')} pieces of evidence that were too large or too many`]
        : []),
    ]
    if (missing.length > 0)
      this.say({
        type: 'console',
        path,
        level: 'warning',
        text: `and ${missing.join(', and ')}: more than is kept of an attempt`,
      })
  }

  /** Moves what the browser said since the last call into the log, under the step it happened in. What is
   * kept on failure only waits until there is one. */
  gather(driver: BrowserDriver, path: string): void {
    for (const entry of driver.takeLog()) {
      const kept = this.how[entry.type === 'console' ? 'console' : 'network']
      if (kept === 'always') this.sayEntry(entry, path)
      else if (kept === 'on-failure') this.held.push({ entry, path })
    }
  }

  private sayEntry({ atMs, ...entry }: LogEntry, path: string): void {
    if (entry.type !== 'exchange') return this.say({ ...entry, path }, atMs)
    const { url, askedAtMs, text } = entry
    const hash = this.keep('text/plain', Buffer.from(this.hide(text)))
    if (hash !== undefined) this.say({ type: 'exchange', path, url, askedAtMs, hash }, atMs)
  }

  /** Says what was held back: something failed. */
  release(): void {
    for (const { entry, path } of this.held.splice(0)) this.sayEntry(entry, path)
  }

  /** @param acted whether the step did something to the page; then its screen is always taken anew */
  async screen(
    driver: BrowserDriver,
    path: string,
    phase: 'before' | 'after',
    acted: boolean,
  ): Promise<void> {
    const known = this.lastScreen
    if (!acted && known && this.pace.now() - known.atMs <= FRESH_MS)
      return this.say({
        type: 'screen',
        path,
        phase,
        hash: known.hash,
        width: known.width,
        height: known.height,
      })
    const shot = await driver.screen()
    if (!shot) return
    const hash = this.keep(shot.mime, shot.bytes)
    if (hash === undefined) return
    this.lastScreen = { atMs: this.pace.now(), hash, width: shot.width, height: shot.height }
    this.say({ type: 'screen', path, phase, hash, width: shot.width, height: shot.height })
  }

  /** @returns its hash; `undefined` when it is too large, or too much already: then it is left out */
  keep(mime: string, bytes: Uint8Array): string | undefined {
    if (bytes.length > PIECE_MOST_BYTES || this.evidenceBytes + bytes.length > EVIDENCE_MOST_BYTES) {
      this.leftOut++
      return undefined
    }
    this.evidenceBytes += bytes.length
    const hash = createHash('sha256').update(bytes).digest('hex')
    this.sink.evidence({ hash, mime, bytes })
    return hash
  }
}

/** Characters of all texts in an event, nearly: what its size goes by. */
function lengthOf(value: unknown): number {
  if (typeof value === 'string') return value.length
  if (value === null || typeof value !== 'object') return 8
  return Object.values(value).reduce((sum: number, item) => sum + lengthOf(item), 0)
}
