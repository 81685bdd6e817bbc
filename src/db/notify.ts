/** What changed, told to every process by PostgreSQL when the transaction commits. */
import { sql } from 'drizzle-orm'
import type { Conn } from './client'

export const CHANNEL = 'oak'
export type Topic = 'run' | 'attempt' | 'fleet' | 'defects' | 'definitions' | 'settings' | 'rota' | 'recovery' | 'work'
export type Change = { topic: Topic; id: string }

/** Equal notes within one transaction are sent once (PostgreSQL folds them). */
export async function notify(db: Conn, topic: Topic, id: string | number = ''): Promise<void> {
  await db.execute(sql`select pg_notify(${CHANNEL}, ${`${topic}:${id}`})`)
}

export function readChange(payload: string): Change {
  const colon = payload.indexOf(':')
  return { topic: payload.slice(0, colon) as Topic, id: payload.slice(colon + 1) }
}
