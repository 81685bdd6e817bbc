/** Who did what, for an auditor. Lines are added and never changed; soon after, each is sealed together with
 * all before it. */
import { and, asc, desc, gte, isNull, lt, lte, sql, type SQL } from 'drizzle-orm'
import { currentActor } from './actor'
import type { Conn, Tx } from './client'
import { audit } from './schema'

export type AuditRow = typeof audit.$inferSelect

type Entry = [who: string, action: string, subject: string, detail?: Record<string, unknown>]

/** Notes a change in the transaction that makes it: both are kept, or neither.
 * @param entry `who` as people read it; who it really was, and from where, is known from the request */
export const note = (tx: Tx, ...entry: Entry): Promise<void> => add(tx, entry)

/** Notes what changes nothing here, or what a library has changed: a sign-in, a refusal. */
export const noteEvent = (db: Conn, ...entry: Entry): Promise<void> => add(db, entry)

async function add(db: Conn, [who, action, subject, detail = {}]: Entry): Promise<void> {
  const { id, address } = currentActor()
  await db.insert(audit).values({ who, actor: id, address, action, subject, detail })
}

export type AuditFilter = { who?: string; action?: string; from?: Date; to?: Date; before?: number }

const filtered = ({ who, action, from, to, before }: AuditFilter): SQL | undefined =>
  and(
    who ? sql`(${audit.who} ilike ${`%${escapeLike(who)}%`} or ${audit.actor} = ${who})` : undefined,
    action ? sql`${audit.action} like ${`${escapeLike(action)}%`}` : undefined,
    from ? gte(audit.at, from) : undefined,
    to ? lte(audit.at, to) : undefined,
    before !== undefined ? lt(audit.id, before) : undefined,
  )
const escapeLike = (text: string) => text.replace(/[\\%_]/g, '\\$&')

/** Newest first. */
export const auditLines = async (db: Conn, filter: AuditFilter, most: number): Promise<AuditRow[]> =>
  await db.select().from(audit).where(filtered(filter)).orderBy(desc(audit.id)).limit(most)

/** A line as it is sealed: every value as PostgreSQL writes it, so that the same line is always the same
 * text. */
export type SealedLine = { id: number; seal: number; hash: string; content: string }
const CONTENT = sql<string>`jsonb_build_array(id,
  to_char(at at time zone 'utc', 'YYYY-MM-DD"T"HH24:MI:SS.US'), who, actor, address, action, subject,
  detail)::text`

/** The end of the chain; `undefined` before its first line. */
export const lastSealed = async (db: Conn): Promise<{ seal: number; hash: string } | undefined> => {
  const [row] = await db
    .select({ seal: audit.seal, hash: audit.hash })
    .from(audit)
    .where(sql`${audit.seal} is not null`)
    .orderBy(desc(audit.seal))
    .limit(1)
  return row && { seal: row.seal!, hash: row.hash! }
}

const SEALING = 0x0a4b02

/** Lines that are not sealed yet, oldest first. One process at a time: the lock holds until the transaction
 * ends. */
export async function unsealedLines(tx: Tx, most: number): Promise<{ id: number; content: string }[]> {
  await tx.execute(sql`select pg_advisory_xact_lock(${SEALING})`)
  return await tx
    .select({ id: audit.id, content: CONTENT })
    .from(audit)
    .where(isNull(audit.seal))
    .orderBy(asc(audit.id))
    .limit(most)
}
export async function sealLines(tx: Tx, lines: readonly Omit<SealedLine, 'content'>[]): Promise<void> {
  if (lines.length === 0) return
  await tx.execute(sql`
    update audit a set seal = s.seal, hash = s.hash
    from jsonb_to_recordset(${JSON.stringify(lines)}::jsonb) s(id bigint, seal bigint, hash text)
    where a.id = s.id and a.seal is null`)
}

/** The chain from a place on, in its order. */
export const sealedFrom = async (db: Conn, after: number, most: number): Promise<SealedLine[]> =>
  (await db
    .select({ id: audit.id, seal: audit.seal, hash: audit.hash, content: CONTENT })
    .from(audit)
    .where(sql`${audit.seal} > ${after}`)
    .orderBy(asc(audit.seal))
    .limit(most)) as SealedLine[]

export const countUnsealed = (db: Conn): Promise<number> => db.$count(audit, isNull(audit.seal))
