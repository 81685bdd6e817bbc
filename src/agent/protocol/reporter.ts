/** Sends what an attempt produces, in order and in batches; evidence goes before the events that name it. */
import type { AttemptResult, NumberedEvent, Work } from '@/core/execution'
import type { Piece, Sink } from '../interpreter'
import { LeaseLost, pause, Refused, type ProtocolClient } from './client'
import { fitting } from './fitting'
import type { AttemptSpool } from './spool'

/** Often enough to watch, seldom enough not to be one request an event. */
const GATHER_MS = 400
const BATCH_EVENTS = 200
const SENT_REMEMBERED = 20_000

/** Hashes this process has sent or found known: most screens repeat. */
export class SentHashes {
  private readonly hashes = new Set<string>()
  has = (hash: string) => this.hashes.has(hash)
  add(hash: string) {
    if (this.hashes.size >= SENT_REMEMBERED) this.hashes.delete(this.hashes.values().next().value!)
    this.hashes.add(hash)
  }
}

export class Reporter implements Sink {
  private events: NumberedEvent[] = []
  private pieces = new Map<string, Piece>()
  /** Aborts when nothing more is gathered. */
  private readonly ending = new AbortController()
  private readonly sending: Promise<void>
  private problem: Error | undefined

  /** @param signal aborts when the attempt is not ours any more; then nothing more is sent */
  constructor(
    private readonly client: ProtocolClient,
    private readonly agentId: string,
    private readonly work: Pick<Work, 'attemptId' | 'lease'>,
    private readonly sent: SentHashes,
    private readonly signal: AbortSignal,
    onLost: () => void,
    private readonly spool?: AttemptSpool,
  ) {
    this.sending = this.loop().catch((error: Error) => {
      this.problem = error
      onLost()
    })
  }

  /** Everything was taken. */
  get isEmpty(): boolean {
    return this.events.length === 0 && this.pieces.size === 0
  }

  event(said: NumberedEvent) {
    const event = fitting(said)
    this.spool?.event(event)
    this.events.push(event)
  }
  evidence(piece: Piece) {
    if (this.sent.has(piece.hash)) return
    this.spool?.piece(piece)
    this.pieces.set(piece.hash, piece)
  }

  /** Sends the rest with the result.
   * @param seat asks for the next work for this seat with it
   * @returns that work, if there is some. @throws what stopped the sending, if something did */
  async finish(ended: AttemptResult, seat?: number): Promise<Work | undefined> {
    const result = fitting(ended)
    this.spool?.result(result)
    const { attemptId, lease } = this.work
    await this.allButLast().catch(async (error: unknown) => {
      // The log is refused, and the result will be: said all the same, so that the server can show that we
      // came too late.
      if (error instanceof LeaseLost)
        await this.client.finish(this.agentId, attemptId, { lease, result }, this.signal).catch(() => {})
      throw error
    })
    await this.sendEvidence()
    const answer = await this.client.finish(
      this.agentId,
      attemptId,
      { lease, result, events: this.events, ...(seat !== undefined && { next: { seat } }) },
      this.signal,
    )
    this.events = []
    return answer?.work ?? undefined
  }

  /** The server does not take what this attempt has to say: it is ended without that, so that neither the
   * seat nor the run waits for it.
   * @param why a sentence that people read. @throws {LeaseLost} {Refused} */
  async abandon(why: string, ms: number): Promise<void> {
    this.ending.abort()
    this.events = []
    this.pieces.clear()
    await this.client.abandon({ agentId: this.agentId, ...this.work }, fitting(why), this.signal, ms)
  }

  /** Sends the rest; there is no result. @throws what stopped the sending */
  async flush(): Promise<void> {
    await this.allButLast()
    await this.sendAll()
  }

  /** What goes on by itself ends; at most one batch is left. */
  private async allButLast(): Promise<void> {
    this.ending.abort()
    await this.sending
    if (this.problem) throw this.problem
  }

  private async loop(): Promise<void> {
    for (;;) {
      if (this.ending.signal.aborted && this.events.length <= BATCH_EVENTS) return
      await this.sendAll()
      await pause(GATHER_MS, AbortSignal.any([this.signal, this.ending.signal]))
      this.signal.throwIfAborted()
    }
  }

  private async sendAll(): Promise<void> {
    const events = this.events.slice(0, BATCH_EVENTS)
    if (events.length === 0) return
    await this.sendEvidence()
    await this.client.sendEvents(this.agentId, this.work.attemptId, this.work.lease, events, this.signal)
    this.events = this.events.slice(events.length)
    this.spool?.sent(events.at(-1)!.no)
  }

  /** A piece that the server refuses is missing, and nothing else is. */
  private async sendPiece({ hash, mime, bytes }: Piece): Promise<void> {
    await this.client
      .sendEvidence(this.agentId, this.work, { hash, mime, bytes }, this.signal)
      .catch((error: unknown) => {
        if (!(error instanceof Refused)) throw error
      })
  }

  private async sendEvidence(): Promise<void> {
    const hashes = [...this.pieces.keys()]
    if (hashes.length === 0) return
    const { missing } = await this.client.missing(this.agentId, this.work, hashes, this.signal)
    const wanted = new Set(missing)
    for (const hash of hashes) {
      const piece = this.pieces.get(hash)!
      if (wanted.has(hash)) await this.sendPiece(piece)
      this.sent.add(hash)
      this.pieces.delete(hash)
      this.spool?.pieceSent(hash)
    }
  }
}
