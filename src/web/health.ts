/** Health of the server and its database. Answered from the result of the last check, so that it is quick
 * under any load. */
import type { ServerResponse } from 'node:http'
import pg from 'pg'

const EVERY_MS = 1000
const ANSWER_MS = 2000
/** A check that timed out may only mean that this process was busy: the last complete check counts for this
 * long. */
const COUNTS_MS = 6000

export class Health {
  private foundAt = -Infinity
  private client: pg.Client | undefined
  private timer: NodeJS.Timeout | undefined

  /** A connection of its own: the pools may be exhausted. */
  constructor(private readonly url: string) {
    void this.look()
  }

  answer(outgoing: ServerResponse): void {
    const ok = performance.now() - this.foundAt < COUNTS_MS
    outgoing.writeHead(ok ? 200 : 503, {
      'content-type': 'application/json',
      'cache-control': 'no-store',
    })
    outgoing.end(JSON.stringify({ ok }))
  }

  end(): void {
    clearTimeout(this.timer)
    void this.client?.end().catch(() => {})
  }

  private async look(): Promise<void> {
    try {
      await this.ask()
      this.foundAt = performance.now()
    } catch (error) {
      if (!/timeout/i.test((error as Error).message)) this.foundAt = -Infinity
      void this.client?.end().catch(() => {})
      this.client = undefined
    }
    this.timer = setTimeout(() => void this.look(), EVERY_MS)
    this.timer.unref()
  }

  private async ask(): Promise<void> {
    if (!this.client) {
      const client = new pg.Client({
        connectionString: this.url,
        connectionTimeoutMillis: ANSWER_MS,
        query_timeout: ANSWER_MS,
        application_name: 'oak health',
      })
      client.on('error', () => {}) // found at the next look
      await client.connect()
      this.client = client
    }
    await this.client.query('select 1')
  }
}
