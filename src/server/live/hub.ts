/** One LISTEN connection for each process, shared by all who watch. */
import { EventEmitter } from 'node:events'
import pg from 'pg'
import { CHANNEL, readChange, type Change } from '@/db/notify'

const RECONNECT_MS = 1000
/** A page that was rendered within this time may not be connected yet: it is sent what changed since. */
const RECENT_MS = 10_000

export class LiveHub {
  private readonly emitter = new EventEmitter().setMaxListeners(0)
  private client: pg.Client | undefined
  private closed = false
  /** When each "topic:id" changed last, the longest ago first. */
  private readonly changes = new Map<string, number>()

  constructor(private readonly url: string) {
    void this.listen()
  }

  /** Subscribes to changes until the returned function is called. After a lost connection, a change of topic
   * "*" means: read everything again. */
  on(listener: (change: Change | { topic: '*'; id: '' }) => void): () => void {
    this.emitter.on('change', listener)
    return () => void this.emitter.off('change', listener)
  }

  /** What changed in the last moments, as "topic:id". */
  recent(): string[] {
    this.forget(Date.now())
    return [...this.changes.keys()]
  }

  private emit(change: Change | { topic: '*'; id: '' }): void {
    const name = `${change.topic}:${change.id}`
    this.changes.delete(name) // so that it goes to the end
    this.changes.set(name, Date.now())
    this.forget(Date.now())
    this.emitter.emit('change', change)
  }

  private forget(now: number): void {
    for (const [name, at] of this.changes) {
      if (now - at <= RECENT_MS) return
      this.changes.delete(name)
    }
  }

  /** Resolves at the next change of a topic (of one thing of it, if `id` is given), or after `ms`, or when
   * `signal` aborts. */
  next(topic: Change['topic'], ms: number, signal?: AbortSignal, id?: string): Promise<void> {
    return new Promise((resolve) => {
      const done = () => {
        off()
        clearTimeout(timer)
        signal?.removeEventListener('abort', done)
        resolve()
      }
      const timer = setTimeout(done, ms)
      const off = this.on(
        (change) =>
          ((change.topic === topic && (id === undefined || change.id === id)) || change.topic === '*') &&
          done(),
      )
      signal?.addEventListener('abort', done)
    })
  }

  async close(): Promise<void> {
    this.closed = true
    await this.client?.end().catch(() => {})
  }

  private async listen(again = false): Promise<void> {
    if (this.closed) return
    const client = new pg.Client({ connectionString: this.url, keepAlive: true })
    const retry = () => setTimeout(() => void this.listen(true), RECONNECT_MS).unref()
    // 'end' follows; PostgreSQL that is stopped makes two of them, and one nobody hears would end the process
    client.on('error', () => {})
    client.once('end', retry)
    client.on('notification', ({ payload }) => payload && this.emit(readChange(payload)))
    try {
      await client.connect()
      await client.query(`listen ${CHANNEL}`)
      this.client = client
      if (again) this.emit({ topic: '*', id: '' })
    } catch {
      client.removeListener('end', retry)
      await client.end().catch(() => {})
      retry()
    }
  }
}

const shared = globalThis as { oakHub?: LiveHub }
export const liveHub = (url: string): LiveHub => (shared.oakHub ??= new LiveHub(url))
/** For who ends and is not the whole process. */
export async function closeHub(): Promise<void> {
  await shared.oakHub?.close()
  delete shared.oakHub
}
