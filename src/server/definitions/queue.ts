/** Reading again without being asked: by a timer, or when a git server says that something was pushed. */
import { sql } from 'drizzle-orm'
import type { Conn } from '@/db/client'
import { listRepositories, repositoriesDue, repositoryById } from '@/db/definitions'
import type { Context } from '../context'
import { openColumn } from '../sealing'
import { requireSigned, requireToken, type SignedHeaders } from '../http/signed'

export const READ_REPOSITORY = 'read-repository'
const TRIES_MOST = 3

/** One job a repository: asking again while one waits changes nothing. */
export async function enqueueReading(db: Conn, repositoryId: number): Promise<void> {
  await db.execute(
    sql`select graphile_worker.add_job(${READ_REPOSITORY},
      payload => json_build_object('id', ${repositoryId}::int),
      job_key => ${`${READ_REPOSITORY}-${repositoryId}`}, max_attempts => ${TRIES_MOST})`,
  )
}

/** After something that files refer to was set up or removed: what a reading said of it is no longer so. */
export async function enqueueReadingAll(db: Conn): Promise<void> {
  for (const { id } of await listRepositories(db)) await enqueueReading(db, id)
}

/** Asks for those whose timer ran out. @returns how many */
export async function enqueueDue(ctx: Context): Promise<number> {
  const due = await repositoriesDue(ctx.db)
  for (const { id } of due) await enqueueReading(ctx.db, id)
  return due.length
}

type Message = { body: string; headers: SignedHeaders; token: string | null }

/** A message of a git server asks for a reading: one that is signed, or one, of any form, that has the token
 * in its address. @throws {Problem} SIGNATURE_WRONG */
export async function takeWebhook(
  ctx: Context,
  repositoryId: number,
  { body, headers, token }: Message,
  nowMs: number,
): Promise<void> {
  const stored = (await repositoryById(ctx.db, repositoryId))?.webhookSecret
  const secret = stored && openColumn(stored)
  if (token === null) requireSigned(secret, body, headers, nowMs)
  else requireToken(secret, token)
  await enqueueReading(ctx.db, repositoryId)
}
