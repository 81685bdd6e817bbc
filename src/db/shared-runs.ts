/** Addresses at which runs are read without signing in. */
import { and, desc, eq, gt, isNull, sql } from 'drizzle-orm'
import type { Conn } from './client'
import { sharedRuns } from './schema'

const isOpen = and(isNull(sharedRuns.revokedAt), gt(sharedRuns.endsAt, sql`now()`))

export async function addSharedRun(
  db: Conn,
  { days, ...row }: { runId: number; hash: string; createdBy: string; days: number },
): Promise<string> {
  const [made] = await db
    .insert(sharedRuns)
    .values({ ...row, endsAt: sql`now() + ${days} * interval '1 day'` })
    .returning({ id: sharedRuns.id })
  return made!.id
}

/** Those that are open, the newest first. */
export const sharedRunLines = async (db: Conn, runId: number) =>
  await db
    .select({
      id: sharedRuns.id,
      createdBy: sharedRuns.createdBy,
      createdAt: sharedRuns.createdAt,
      endsAt: sharedRuns.endsAt,
      usedAt: sharedRuns.usedAt,
    })
    .from(sharedRuns)
    .where(and(eq(sharedRuns.runId, runId), isOpen))
    .orderBy(desc(sharedRuns.createdAt))

/** The run an address shows now, if any; its use is noted. */
export async function runSharedAt(db: Conn, hash: string): Promise<number | undefined> {
  const [row] = await db
    .update(sharedRuns)
    .set({ usedAt: sql`now()` })
    .where(and(eq(sharedRuns.hash, hash), isOpen))
    .returning({ runId: sharedRuns.runId })
  return row?.runId
}

/** @returns whether it was open */
export const revokeSharedRun = async (db: Conn, runId: number, id: string): Promise<boolean> =>
  (
    await db
      .update(sharedRuns)
      .set({ revokedAt: sql`now()` })
      .where(and(eq(sharedRuns.id, id), eq(sharedRuns.runId, runId), isOpen))
      .returning({ id: sharedRuns.id })
  ).length > 0
