/** Who is told what happens to runs, and which signed messages were taken. */
import { asc, eq, sql } from 'drizzle-orm'
import type { Conn } from './client'
import { hooks, takenMessages } from './schema'

export const HOOK_EVENTS = ['run.started', 'run.ended', 'failure.new'] as const
export type HookEvent = (typeof HOOK_EVENTS)[number]
export type HookRow = typeof hooks.$inferSelect
export const TELL = 'tell-hook'
/** graphile-worker waits e^try seconds between tries: about two days in all. */
const TRIES_MOST = 13

/** A job for each address that wants to know, in the same transaction as what happened: nothing when there is
 * none. */
export async function tellOfRun(db: Conn, event: HookEvent, runId: number): Promise<void> {
  await db.execute(
    sql`select graphile_worker.add_job(${TELL},
      payload => json_build_object('hook', h.id, 'event', ${event}::text, 'run', ${runId}::int, 'id',
      gen_random_uuid(), 'at', now()), max_attempts => ${TRIES_MOST}) from hooks h
      where ${event} = any(h.events)`,
  )
}

export const listHooks = async (db: Conn): Promise<HookRow[]> =>
  await db.select().from(hooks).orderBy(asc(hooks.createdAt))
export const hookById = async (db: Conn, id: string): Promise<HookRow | undefined> =>
  (await db.select().from(hooks).where(eq(hooks.id, id)))[0]
export const addHook = async (db: Conn, hook: typeof hooks.$inferInsert): Promise<string> =>
  (await db.insert(hooks).values(hook).returning({ id: hooks.id }))[0]!.id
export const dropHook = async (db: Conn, id: string): Promise<string | undefined> =>
  (await db.delete(hooks).where(eq(hooks.id, id)).returning({ address: hooks.address }))[0]?.address
export async function noteAnswer(db: Conn, id: string, answer: string): Promise<void> {
  await db
    .update(hooks)
    .set({ lastAt: sql`now()`, lastAnswer: answer })
    .where(eq(hooks.id, id))
}

/** @returns false when it was taken before */
export const takeMessage = async (db: Conn, id: string): Promise<boolean> =>
  (await db.insert(takenMessages).values({ id }).onConflictDoNothing()).rowCount === 1
export const dropOldMessages = async (db: Conn): Promise<void> =>
  void (await db.delete(takenMessages).where(sql`at < now() - interval '1 day'`))
