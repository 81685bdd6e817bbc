/** A video out of the screens that are taken anyway, for browsers that have no stream of their own. */
import { encode, type Encoder } from '../video/encode'

export class Film {
  private encoder: Encoder | undefined
  private last: Buffer | undefined
  private startMs = 0

  constructor(
    private readonly size: { width: number; height: number },
    private readonly now: () => number,
  ) {}

  add(jpeg: Buffer): void {
    if (!this.encoder) {
      this.encoder = encode(this.size)
      this.startMs = this.now()
    }
    this.last = jpeg
    this.encoder.frame(jpeg, this.now() - this.startMs)
  }

  /** @returns `undefined` when no screen was taken, or ffmpeg is not there */
  async stop(): Promise<{ bytes: Uint8Array; startMs: number } | undefined> {
    if (!this.encoder || !this.last) return undefined
    this.encoder.frame(this.last, this.now() - this.startMs + 1)
    const { encoder } = this
    this.encoder = undefined
    const bytes = await encoder.end()
    return bytes.length > 0 ? { bytes, startMs: this.startMs } : undefined
  }
}
