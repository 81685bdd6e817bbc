/** Tokens: what agents, pipelines and calendars prove themselves with. Only their hashes are kept. */
import { and, asc, eq, isNull, sql } from 'drizzle-orm'
import type { Conn } from './client'
import { tokens, type TOKEN_PURPOSES } from './schema'

export type TokenPurpose = (typeof TOKEN_PURPOSES)[number]

/** The use of a token is noted this often: all agents of a machine share one, and must not queue for its
 * row. */
const USE_NOTED_S = 60

export async function noteUse(db: Conn, { id, usedAt }: { id: string; usedAt: Date | null }): Promise<void> {
  if (Date.now() - (usedAt?.getTime() ?? 0) > USE_NOTED_S * 1000)
    await db
      .update(tokens)
      .set({ usedAt: sql`now()` })
      .where(eq(tokens.id, id))
}

/** `scope`: the only agent it is for; empty: any. `environments`: those that agent may serve; empty: any.
 * `pool`: where it begins; empty: where it says. */
export type KnownToken = Pick<typeof tokens.$inferSelect, 'id' | 'name' | 'scope' | 'environments' | 'pool'>

/** A token's row, if it is known and not revoked. */
export async function takeToken(
  db: Conn,
  hash: string,
  purpose: TokenPurpose,
): Promise<KnownToken | undefined> {
  const [row] = await db
    .select()
    .from(tokens)
    .where(and(eq(tokens.hash, hash), eq(tokens.purpose, purpose), isNull(tokens.revokedAt)))
  if (!row) return undefined
  await noteUse(db, row)
  const { id, name, scope, environments, pool } = row
  return { id, name, scope, environments, pool }
}

export const tokenLines = async (db: Conn) =>
  await db
    .select({
      id: tokens.id,
      purpose: tokens.purpose,
      name: tokens.name,
      createdBy: tokens.createdBy,
      createdAt: tokens.createdAt,
      usedAt: tokens.usedAt,
    })
    .from(tokens)
    .where(isNull(tokens.revokedAt))
    .orderBy(asc(tokens.purpose), asc(tokens.name), asc(tokens.createdAt))
/** @returns the name of the token, or `undefined` when it was not there or revoked before */
export async function revokeToken(db: Conn, id: string): Promise<string | undefined> {
  return (
    await db
      .update(tokens)
      .set({ revokedAt: sql`now()` })
      .where(and(eq(tokens.id, id), isNull(tokens.revokedAt)))
      .returning({ name: tokens.name })
  )[0]?.name
}

export async function addToken(
  db: Conn,
  token: {
    purpose: TokenPurpose
    name: string
    hash: string
    createdBy: string
    scope?: string
    environments?: string[]
    pool?: string
  },
): Promise<string> {
  const [row] = await db
    .insert(tokens)
    .values(token)
    .onConflictDoUpdate({
      target: tokens.hash,
      set: { name: token.name, environments: token.environments ?? [] },
    })
    .returning({ id: tokens.id })
  return row!.id
}
