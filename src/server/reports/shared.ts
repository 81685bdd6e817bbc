/** A run as an address for somebody who does not sign in: one report, until a day, revocable. */
import { createHash, randomBytes } from 'node:crypto'
import type { SharedRunLine } from '@/core/view-models'
import { note } from '@/db/audit'
import { runSharedAt, addSharedRun, revokeSharedRun, sharedRunLines } from '@/db/shared-runs'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'
import { runViewModel } from '../view-models'
import { runAsHtml } from './run'

const TOKEN_BYTES = 24
const TOKEN = /^[A-Za-z0-9_-]{32}$/
const SHARED_MOST = 50

export const shareBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['days'],
  properties: { days: { type: 'integer', minimum: 1, maximum: 90 } },
})
export type ShareRequest = BodyOf<typeof shareBody>

/** @returns the path of the address: it is told once
 * @throws {Problem} NOT_FOUND; BODY_INVALID: there are too many */
export async function shareRun(
  ctx: Context,
  runId: number,
  { days }: ShareRequest,
  who: string,
): Promise<{ path: string }> {
  await runViewModel(ctx, runId)
  if ((await sharedRunLines(ctx.db, runId)).length >= SHARED_MOST)
    throw new Problem('BODY_INVALID', `A run has at most ${SHARED_MOST} open addresses: revoke one first.`)
  const token = randomBytes(TOKEN_BYTES).toString('base64url')
  await ctx.db.transaction(async (tx) => {
    const id = await addSharedRun(tx, { runId, hash: hashOf(token), createdBy: who, days })
    await note(tx, who, 'run.share', String(runId), { id, days })
  })
  return { path: `/shared/${token}` }
}

/** @throws {Problem} NOT_FOUND */
export async function revokeShare(ctx: Context, runId: number, id: string, who: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    if (!(await revokeSharedRun(tx, runId, id)))
      throw new Problem('NOT_FOUND', 'This address was revoked before, or has ended.')
    await note(tx, who, 'run.unshare', String(runId), { id })
  })
}

export async function sharesOf(ctx: Context, runId: number): Promise<SharedRunLine[]> {
  return (await sharedRunLines(ctx.db, runId)).map(({ createdAt, endsAt, usedAt, ...line }) => ({
    ...line,
    createdAt: createdAt.toISOString(),
    endsAt: endsAt.toISOString(),
    usedAt: usedAt?.toISOString() ?? null,
  }))
}

/** What whoever has the address is shown: the report, and nothing that leads further. An address that is
 * wrong, has ended or was revoked is the same. @throws {Problem} NOT_FOUND */
export async function serveShared(ctx: Context, token: string): Promise<Response> {
  const runId = TOKEN.test(token) ? await runSharedAt(ctx.db, hashOf(token)) : undefined
  if (runId === undefined) return answer(404, GONE)
  return answer(200, await runAsHtml(ctx, runId))
}

const GONE =
  '<!doctype html><html lang="en"><meta charset="utf-8"><title>Not here</title><p>There is nothing ' +
  'at this address, or not any more. Ask who gave it to you for another one.</p></html>'

/** What the page may do is set for its address, src/web/guard.ts. */
const answer = (status: number, page: string) =>
  new Response(page, {
    status,
    headers: {
      'content-type': 'text/html; charset=utf-8',
      'x-content-type-options': 'nosniff',
      'x-robots-tag': 'noindex',
      'cache-control': 'private, no-store',
    },
  })

const hashOf = (token: string) => createHash('sha256').update(token).digest('hex')
