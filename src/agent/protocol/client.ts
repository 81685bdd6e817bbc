/** The agent's side of docs/agent-protocol.md: plain HTTP and JSON, tried again while the server is away. */
import type { AttemptResult, NumberedEvent, Work } from '@/core/execution'
import type { Meeting, MeetingAnswer } from '../interpreter'
import type { LiveLine } from '../live/channel'

export type Registration = {
  name: string
  instance: string
  pool: string
  version: string
  protocol: number
  seats: number
  environments: string[]
  simulated: boolean
  /** Host its browsers are behind. */ through?: string
  missing?: { what: string; get: string }[]
}
export type Command = { attemptId: string } & (
  | { command: 'cancel'; undo: boolean }
  | { command: 'end'; because: string }
  | { command: 'drop' | 'pause' | 'watch' }
)
/** What a simulated agent is to do wrong, and how much longer. */
export type Ordered = {
  what: 'lost' | 'slow' | 'upset'
  factor?: number
  environment?: string
  forMs: number
}

type Attempt = { attemptId: string; lease: number }

export type HeartbeatAnswer = { draining: boolean; commands: Command[]; misbehaviours?: Ordered[] }

/** The server no longer counts on us for this attempt. */
export class LeaseLost extends Error {}
/** The server refuses us; trying again would not help. */
export class Refused extends Error {}

/** Each wait before another try is twice the one before, up to a most. */
type Waits = { firstMs: number; mostMs: number }
const WAITS: Waits = { firstMs: 250, mostMs: 5000 }
const REQUEST_LIMIT_MS = 30_000
/** About a quarter of a minute. */
const FAULTS_MOST = 8
/** The server answers a claim after this long at the latest. */
const CLAIM_WAIT_MS = 20_000

/** Answers of the 4xx that say nothing of what was sent: it did not arrive in time (as when the network is
 * cut in the middle of it), or the server has no time for it now. */
const AGAIN = new Set([408, 429])

export class ProtocolClient {
  constructor(
    private readonly server: string,
    private readonly token: string,
    private readonly warn: (text: string) => void = () => {},
    private readonly waits = WAITS,
  ) {}

  register = (registration: Registration, signal: AbortSignal) =>
    this.json<{ id: string; heartbeatMs: number }>('POST', '/api/agents/register', registration, signal)
  claim = (agentId: string, seat: number, signal: AbortSignal) =>
    this.json<{ work: Work | null }>(
      'POST',
      `/api/agents/${agentId}/claim`,
      { waitMs: CLAIM_WAIT_MS, seat },
      signal,
      CLAIM_WAIT_MS + REQUEST_LIMIT_MS,
    )
  heartbeat = (agentId: string, attempts: { attemptId: string; lease: number }[], signal: AbortSignal) =>
    this.json<HeartbeatAnswer>(
      'POST',
      `/api/agents/${agentId}/heartbeat`,
      { attempts, clock: new Date().toISOString() },
      signal,
    )
  meet = (agentId: string, attemptId: string, meeting: Meeting & { lease: number }, signal: AbortSignal) =>
    this.json<MeetingAnswer>(
      'POST',
      `/api/agents/${agentId}/attempts/${attemptId}/meeting`,
      meeting,
      signal,
      CLAIM_WAIT_MS + REQUEST_LIMIT_MS,
    )
  sendEvents = (
    agentId: string,
    attemptId: string,
    lease: number,
    events: NumberedEvent[],
    signal: AbortSignal,
  ) =>
    this.json<void>('POST', `/api/agents/${agentId}/attempts/${attemptId}/events`, { lease, events }, signal)
  /** Ends an attempt of which nothing else is taken. */
  abandon = (
    { agentId, attemptId, lease }: Attempt & { agentId: string },
    why: string,
    signal: AbortSignal,
    ms = 0,
  ) =>
    this.finish(
      agentId,
      attemptId,
      { lease, result: { outcome: 'errored', ms, failure: { kind: 'agent', message: why } } },
      signal,
    )
  /** `next`: asks for the seat's next work with it. */
  finish = (
    agentId: string,
    attemptId: string,
    end: { lease: number; result: AttemptResult; events?: NumberedEvent[]; next?: { seat: number } },
    signal: AbortSignal,
  ) =>
    this.json<{ work: Work | null } | undefined>(
      'POST',
      `/api/agents/${agentId}/attempts/${attemptId}/finish`,
      end,
      signal,
    )
  missing = (agentId: string, { attemptId, lease }: Attempt, hashes: string[], signal: AbortSignal) =>
    this.json<{ missing: string[] }>(
      'POST',
      `/api/agents/${agentId}/attempts/${attemptId}/evidence`,
      { lease, hashes },
      signal,
    )

  async sendEvidence(
    agentId: string,
    { attemptId, lease }: Attempt,
    { hash, mime, bytes }: { hash: string; mime: string; bytes: Uint8Array },
    signal: AbortSignal,
  ): Promise<void> {
    await this.send(
      'PUT',
      `/api/agents/${agentId}/attempts/${attemptId}/evidence/${hash}?lease=${lease}`,
      { 'content-type': mime },
      bytes,
      signal,
    )
  }

  /** Where a live session's line is opened to, and what it says there. */
  liveLine(agentId: string, { attemptId, lease }: Attempt): LiveLine {
    const path = `/api/agents/${agentId}/attempts/${attemptId}/live?lease=${lease}`
    return {
      url: this.server.replace(/^http/, 'ws').replace(/\/$/, '') + path,
      headers: { authorization: `Bearer ${this.token}` },
    }
  }

  async sendScreen(
    agentId: string,
    { attemptId, lease }: Attempt,
    mime: string,
    bytes: Uint8Array,
    signal: AbortSignal,
  ): Promise<void> {
    await this.send(
      'PUT',
      `/api/agents/${agentId}/attempts/${attemptId}/screen?lease=${lease}`,
      { 'content-type': mime },
      bytes,
      signal,
    )
  }

  /** Waits until the server answers at all. */
  async untilThere(signal: AbortSignal): Promise<void> {
    await this.send('GET', '/api/health', {}, undefined, signal).catch((error: unknown) => {
      if (!(error instanceof Refused)) throw error
    })
  }

  private async json<T>(
    method: string,
    path: string,
    body: unknown,
    signal: AbortSignal,
    limitMs?: number,
  ): Promise<T> {
    const response = await this.send(
      method,
      path,
      { 'content-type': 'application/json' },
      JSON.stringify(body),
      signal,
      limitMs,
    )
    return (response.status === 204 ? undefined : await response.json()) as T
  }

  /** Sends until it is answered. A network fault or a 5xx is the server being away; a 4xx is an answer, but
   * for those of AGAIN. So is a 500 to the same words again and again: the server is there, and cannot take
   * them.
   * @throws {LeaseLost} {Refused}; an AbortError when `signal` aborts */
  private async send(
    method: string,
    path: string,
    headers: Record<string, string>,
    body: string | Uint8Array | undefined,
    signal: AbortSignal,
    limitMs = REQUEST_LIMIT_MS,
  ): Promise<Response> {
    let faults = 0
    for (let waitMs = this.waits.firstMs; ; waitMs = Math.min(waitMs * 2, this.waits.mostMs)) {
      signal.throwIfAborted()
      const answer = await fetch(this.server + path, {
        method,
        headers: { ...headers, authorization: `Bearer ${this.token}` },
        ...(body !== undefined && { body: body as BodyInit }),
        signal: AbortSignal.any([signal, AbortSignal.timeout(limitMs)]),
      }).catch((error: unknown) => error as Error)
      signal.throwIfAborted()
      if (answer instanceof Response) {
        if (answer.ok) return answer
        const text = await answer.text().catch(() => '')
        if (answer.status === 409 && path.includes('/attempts/')) throw new LeaseLost(text)
        if (answer.status < 500 && !AGAIN.has(answer.status))
          throw new Refused(`${method} ${path}: ${answer.status} ${text.slice(0, 300)}`)
        if (answer.status === 500 && path.includes('/attempts/') && ++faults >= FAULTS_MOST)
          throw new Refused(
            `${method} ${path}: the server answered 500 ${faults} times ${text.slice(0, 300)}`,
          )
        this.warn(
          `the server answers ${answer.status} to ${method} ${path}${said(text)}; trying again in ` +
            `${waitMs} ms`,
        )
      } else this.warn(`no answer from ${this.server} (${answer.message}); trying again in ${waitMs} ms`)
      await pause(waitMs, signal)
    }
  }
}

/** Ends early when the signal aborts, and at once when it has. */
export function pause(ms: number, signal: AbortSignal): Promise<void> {
  if (signal.aborted) return Promise.resolve()
  return new Promise((resolve) => {
    const done = () => {
      clearTimeout(timer)
      signal.removeEventListener('abort', done)
      resolve()
    }
    const timer = setTimeout(done, ms)
    signal.addEventListener('abort', done)
  })
}

/** The sentence of a refusal, if the answer has one. */
function said(text: string): string {
  try {
    const { message } = JSON.parse(text) as { message?: unknown }
    return typeof message === 'string' ? ` (${message})` : ''
  } catch {
    return ''
  }
}
