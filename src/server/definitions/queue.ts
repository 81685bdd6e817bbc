/** Reading again without being asked: by a timer, or when a git server says that something was pushed. */
import { createHmac, timingSafeEqual } from 'node:crypto'
import { sql } from 'drizzle-orm'
import type { Conn } from '@/db/client'
import { repositoriesDue, repositoryById } from '@/db/definitions'
import type { Context } from '../context'
import { Problem } from '../http/problems'

export const READ_REPOSITORY = 'read-repository'
const TRIES_MOST = 3
/** Standard Webhooks: older ones are refused, so that nobody can send one again. */
const WEBHOOK_AGE_MOST_MS = 5 * 60_000

/** One job a repository: asking again while one waits changes nothing. */
export async function enqueueReading(db: Conn, repositoryId: number): Promise<void> {
  await db.execute(sql`select graphile_worker.add_job(${READ_REPOSITORY}, payload => json_build_object('id', ${repositoryId}::int), job_key => ${`${READ_REPOSITORY}-${repositoryId}`}, max_attempts => ${TRIES_MOST})`)
}

/** Asks for those whose timer ran out. @returns how many */
export async function enqueueDue(ctx: Context): Promise<number> {
  const due = await repositoriesDue(ctx.db)
  for (const { id } of due) await enqueueReading(ctx.db, id)
  return due.length
}

export type WebhookHeaders = { id: string | null; timestamp: string | null; signature: string | null }

/** A signed message of a git server (standardwebhooks.com) asks for a reading. @throws {Problem} NOT_FOUND, SIGNATURE_WRONG */
export async function takeWebhook(ctx: Context, repositoryId: number, body: string, { id, timestamp, signature }: WebhookHeaders, nowMs: number): Promise<void> {
  const repository = await repositoryById(ctx.db, repositoryId)
  if (!repository?.webhookSecret) throw new Problem('NOT_FOUND')
  const ageMs = Math.abs(nowMs - Number(timestamp) * 1000)
  const expected = signatureOf(repository.webhookSecret, id ?? '', timestamp ?? '', body)
  const matches = (signature ?? '').split(' ').some((one) => one.startsWith('v1,') && same(one.slice(3), expected))
  if (!id || !(ageMs <= WEBHOOK_AGE_MOST_MS) || !matches) throw new Problem('SIGNATURE_WRONG')
  await enqueueReading(ctx.db, repositoryId)
}

export const signatureOf = (secret: string, id: string, timestamp: string, body: string): string =>
  createHmac('sha256', Buffer.from(secret.replace(/^whsec_/, ''), 'base64')).update(`${id}.${timestamp}.${body}`).digest('base64')

function same(a: string, b: string): boolean {
  const [x, y] = [Buffer.from(a), Buffer.from(b)]
  return x.length === y.length && timingSafeEqual(x, y)
}
