/** What every use case is given: the database, the evidence store, the clock. */
import { randomBytes } from 'node:crypto'
import { resolve } from 'node:path'
import { connect, type Connection, type Tx } from '@/db/client'
import { databaseNow, type Now } from '@/db/moment'
import { Notifier } from '@/db/notify'
import { evidenceStoreAt } from './evidence/place'
import type { EvidenceStore } from './evidence/store'
import { threadedWork, type WorkPool } from './work'

export type Context = {
  connection: Connection
  db: Connection['db']
  notifier: Notifier
  evidence: EvidenceStore
  work: WorkPool
  now: Now
  leaseMs: number
  home: string
}

/** The same, with every statement in a transaction: what reads while rows are locked asks no second
 * connection, which it might have to wait for while others wait for the rows. */
export const within = (ctx: Context, tx: Tx): Context => ({ ...ctx, db: tx as unknown as Context['db'] })

const SECOND_MS = 1000
/** An agent silent for longer than this has lost its work: six missed heartbeats. */
export const LEASE_MS = 30 * SECOND_MS

export function makeContext(env: NodeJS.ProcessEnv): Context {
  const url = env.DATABASE_URL
  if (!url) throw new Error('DATABASE_URL is not set: start with ./oak start, or say where PostgreSQL is')
  const home = resolve(/*turbopackIgnore: true*/ env.OAK_HOME ?? '.oak')
  const connection = connect(url)
  const bundle = (name: string) => resolve(/*turbopackIgnore: true*/ env.OAK_ROOT ?? '.', 'build', name)
  return {
    connection,
    db: connection.db,
    notifier: new Notifier(connection.db),
    evidence: evidenceStoreAt(env.OAK_EVIDENCE, { home, env }),
    work: threadedWork(bundle('jobs.mjs')),
    now: databaseNow,
    leaseMs: Number(env.OAK_LEASE_MS ?? LEASE_MS),
    home,
  }
}

const shared = globalThis as { oakContext?: Context; oakSecret?: string }
/** One context a process. On `globalThis`, because the bundler may load this module more than once. */
export const context = (): Context => (shared.oakContext ??= makeContext(process.env))

/** Signs cookies. Without one in the environment, sessions last as long as the process. */
export const secret = (): string =>
  (shared.oakSecret ??= process.env.OAK_SECRET ?? randomBytes(32).toString('hex'))
