/** Numbers and times the events of one attempt, and hands them on with their evidence. */
import { createHash } from 'node:crypto'
import { USUAL_HOW, type RotationHow } from '@/core/model'
import type { AttemptEvent, NumberedEvent } from '@/core/execution'
import type { Masker } from './secrets'
import type { BrowserDriver, Pace } from '../driver/port'

/** Bytes to keep under their hash. */
export type Piece = { hash: string; mime: string; bytes: Uint8Array }
/** Takes what an attempt produces. Must not fail: what cannot be sent now is kept and sent later. */
export interface Sink {
  event(event: NumberedEvent): void
  evidence(piece: Piece): void
}

type Untimed = AttemptEvent extends infer E ? (E extends AttemptEvent ? Omit<E, 'atMs'> : never) : never

/** A screen this fresh, with no action since, is still the screen: before the next step, and after a check that held at once. */
const FRESH_MS = 400

export class AttemptLog {
  private no = 0
  private readonly held: { event: Untimed; atMs: number }[] = []
  private lastScreen: { atMs: number; hash: string; width: number; height: number } | undefined

  /** @param hide takes secrets out of whatever is said */
  constructor(private readonly sink: Sink, private readonly pace: Pace, readonly hide: Masker = (value) => value, private readonly how: Pick<RotationHow, 'console' | 'network'> = USUAL_HOW) {}

  say(event: Untimed, atMs = this.pace.now()): void {
    this.sink.event({ ...this.hide(event), atMs, no: ++this.no } as NumberedEvent)
  }

  /** Moves what the browser said since the last call into the log, under the step it happened in. What is kept on failure only waits until there is one. */
  gather(driver: BrowserDriver, path: string): void {
    for (const { atMs, ...entry } of driver.takeLog()) {
      const kept = this.how[entry.type === 'console' ? 'console' : 'network']
      if (kept === 'always') this.say({ ...entry, path }, atMs)
      else if (kept === 'on-failure') this.held.push({ event: { ...entry, path }, atMs })
    }
  }

  /** Says what was held back: something failed. */
  release(): void {
    for (const { event, atMs } of this.held.splice(0)) this.say(event, atMs)
  }

  /** @param acted whether the step did something to the page; then its screen is always taken anew */
  async screen(driver: BrowserDriver, path: string, phase: 'before' | 'after', acted: boolean): Promise<void> {
    const known = this.lastScreen
    if (!acted && known && this.pace.now() - known.atMs <= FRESH_MS) return this.say({ type: 'screen', path, phase, hash: known.hash, width: known.width, height: known.height })
    const shot = await driver.screen()
    if (!shot) return
    const hash = this.keep(shot.mime, shot.bytes)
    this.lastScreen = { atMs: this.pace.now(), hash, width: shot.width, height: shot.height }
    this.say({ type: 'screen', path, phase, hash, width: shot.width, height: shot.height })
  }

  keep(mime: string, bytes: Uint8Array): string {
    const hash = createHash('sha256').update(bytes).digest('hex')
    this.sink.evidence({ hash, mime, bytes })
    return hash
  }
}
