/** Signs of life of agents, and the watch over what they carry out. Both run beside the loop that carries it
 * out (thread.ts), so that neither waits for a page, a delivery or anything else. */
import { pause, type HeartbeatAnswer, type ProtocolClient } from '../protocol/client'

/** `overdueAt`: by when it must be over (epoch milliseconds); `mark`: of the browser that is ended then. */
export type Carried = { attemptId: string; lease: number; overdueAt?: number; mark?: string }

export type ToPulse =
  | { type: 'agent'; id: string; everyMs: number }
  | { type: 'carried'; id: string; attempts: Carried[] }
  | { type: 'silent'; id: string; silent: boolean }
  | { type: 'end' }
/** `asked`: the attempts the heartbeat was about. */
export type FromPulse =
  | { type: 'answer'; id: string; asked: string[]; answer: HeartbeatAnswer }
  | { type: 'overdue'; id: string; attemptId: string }

/** Six heartbeats make a lease: one that takes longer than this is asked anew. */
const BEAT_LIMIT_MS = 8000
const LOOK_MS = 250
/** A browser that was ended and is there again is ended again after this. */
const AGAIN_MS = 5000

type Agent = { everyMs: number; silent: boolean; attempts: Carried[] }

export class Pulse {
  private readonly agents = new Map<string, Agent>()
  private readonly ending = new AbortController()
  private readonly watching = setInterval(() => this.look(), LOOK_MS)

  constructor(
    private readonly client: Pick<ProtocolClient, 'heartbeat'>,
    private readonly tell: (message: FromPulse) => void,
    private readonly endBrowser: (mark: string) => unknown,
  ) {}

  handle(message: ToPulse): void {
    if (message.type === 'end') {
      clearInterval(this.watching)
      return this.ending.abort()
    }
    if (message.type === 'agent') {
      this.agents.set(message.id, { everyMs: message.everyMs, silent: false, attempts: [] })
      void this.beat(message.id)
      return
    }
    const agent = this.agents.get(message.id)
    if (!agent) return
    if (message.type === 'silent') agent.silent = message.silent
    else agent.attempts = message.attempts
  }

  private async beat(id: string): Promise<void> {
    const agent = this.agents.get(id)!
    const { signal } = this.ending
    while (!signal.aborted) {
      if (!agent.silent) {
        const held = agent.attempts.map(({ attemptId, lease }) => ({ attemptId, lease }))
        const limit = AbortSignal.any([signal, AbortSignal.timeout(BEAT_LIMIT_MS)])
        const answer = await this.client.heartbeat(id, held, limit).catch(() => undefined)
        if (answer && !agent.silent) {
          this.tell({ type: 'answer', id, asked: held.map(({ attemptId }) => attemptId), answer })
        }
      }
      await pause(agent.everyMs, signal)
    }
  }

  private look(): void {
    const now = Date.now()
    for (const [id, { attempts }] of this.agents) {
      for (const one of attempts) {
        if (one.overdueAt === undefined || now < one.overdueAt) continue
        one.overdueAt = now + AGAIN_MS
        if (one.mark !== undefined) this.endBrowser(one.mark)
        this.tell({ type: 'overdue', id, attemptId: one.attemptId })
      }
    }
  }
}
