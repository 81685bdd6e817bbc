/** What changed, told to every process by PostgreSQL when the transaction commits. */
import { sql } from 'drizzle-orm'
import type { Conn, Db } from './client'

export const CHANNEL = 'oak'
export type Topic =
  | 'run'
  | 'attempt'
  | 'fleet'
  | 'defects'
  | 'definitions'
  | 'settings'
  | 'rota'
  | 'recovery'
  | 'work'
  | 'joint'
  | 'screen'
  | 'live'
  | 'triage'
  | 'looking'
  | 'release'
export type Change = { topic: Topic; id: string }

/** Equal notifications within one transaction are sent once (PostgreSQL folds them). */
export async function notify(db: Conn, topic: Topic, id: string | number = ''): Promise<void> {
  await db.execute(sql`select pg_notify(${CHANNEL}, ${`${topic}:${id}`})`)
}

/** Delay that collects notifications of many attempts; too short to be seen. */
const GATHER_MS = 40

/** Notifies of what attempts do, many notifications in one statement. PostgreSQL commits transactions that
 * notify one after the other, each with its own write to disk: in the transactions of claims and events that
 * would serialise them. So these are sent after the commit; a crash loses notifications, never data. */
export class Notifier {
  private readonly waiting = new Set<string>()
  private timer: NodeJS.Timeout | undefined

  constructor(private readonly db: Db) {}

  send(topic: Topic, id: string | number = ''): void {
    this.waiting.add(`${topic}:${id}`)
    this.timer ??= setTimeout(() => void this.flush(), GATHER_MS)
  }

  async flush(): Promise<void> {
    clearTimeout(this.timer)
    this.timer = undefined
    const notes = [...this.waiting]
    this.waiting.clear()
    if (notes.length === 0) return
    await this.db
      .execute(sql`select pg_notify(${CHANNEL}, note) from unnest(${sql.param(notes)}::text[]) note`)
      .catch(() => {}) // the database is away: who listens reads everything again when it is back
  }
}

export function readChange(payload: string): Change {
  const colon = payload.indexOf(':')
  return { topic: payload.slice(0, colon) as Topic, id: payload.slice(colon + 1) }
}
