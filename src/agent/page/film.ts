/** A video out of the screens that are taken anyway, for browsers that have no stream of their own. */
import { inTime } from '../driver/in-time'
import { encode, type Encoder } from '../video/encode'

/** Limit of the last picture. */
const LAST_MS = 1500

export class Film {
  private encoder: Encoder | undefined
  private last: Buffer | undefined
  private startMs = 0
  private isOver = false

  constructor(
    private readonly size: { width: number; height: number },
    private readonly now: () => number,
  ) {}

  add(jpeg: Buffer): void {
    if (this.isOver) return // a screen that came late, of a page that was busy
    if (!this.encoder) {
      this.encoder = encode(this.size)
      this.startMs = this.now()
    }
    this.last = jpeg
    this.encoder.frame(jpeg, this.now() - this.startMs)
  }

  /** @param takeLast adds the last picture, which is part of the story where the page still gives one
   * @returns `undefined` when no screen was taken, or ffmpeg is not there */
  async stop(takeLast?: () => Promise<unknown>): Promise<{ bytes: Uint8Array; startMs: number } | undefined> {
    if (takeLast) await inTime(takeLast(), LAST_MS).catch(() => undefined)
    this.isOver = true
    if (!this.encoder || !this.last) return undefined
    this.encoder.frame(this.last, this.now() - this.startMs + 1)
    const { encoder } = this
    this.encoder = undefined
    const bytes = await encoder.end()
    return bytes.length > 0 ? { bytes, startMs: this.startMs } : undefined
  }
}
