/** Reading the log of an attempt part by part. Threads keep logs that were read lately; only what they do not
 * have is read from the database. */
import type { BesideAnswer } from '@/core/view-models'
import { lastEventNo, logBytesOf } from '@/db/logs'
import { attemptContext, type AttemptContext } from '../attempt-context'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { openingAnswer } from './opening'
import type { BesideAsk, LogAnswers, LogAsk, LogGiven } from './kept-logs'

/** A log of the largest size takes a tenth of this. */
const LIMIT_MS = 20_000
const limits = { limitMs: LIMIT_MS }

/** @throws {Problem} NOT_FOUND; BUSY, TOOK_TOO_LONG */
export async function askLog<A extends LogAsk>(
  ctx: Context,
  id: string,
  ask: A,
): Promise<LogAnswers[A['ask']]> {
  return askLogOf(ctx, await attemptContext(ctx, id), ask)
}

export async function askLogOf<A extends LogAsk>(
  ctx: Context,
  of: AttemptContext,
  ask: A,
): Promise<LogAnswers[A['ask']]> {
  const key = await keyOf(ctx, of)
  const reply = await ctx.work.run('readLog', { key, ask }, limits)
  if ('answer' in reply) return reply.answer as LogAnswers[A['ask']]
  const opening = await openingAnswer(ctx, of.attempt.id, ask)
  if (opening !== undefined) return opening
  const answered = await ctx.work.run('readLog', { key, ask, log: await logOf(ctx, of) }, limits)
  if ('missing' in answered) throw new Problem('BUSY')
  return answered.answer as LogAnswers[A['ask']]
}

/** @param then, now ids of attempts @throws {Problem} NOT_FOUND; BUSY, TOOK_TOO_LONG */
export async function askBeside(
  ctx: Context,
  then: string,
  now: string,
  ask: BesideAsk,
): Promise<BesideAnswer> {
  const both = await Promise.all([attemptContext(ctx, then), attemptContext(ctx, now)])
  const keys = (await Promise.all(both.map((of) => keyOf(ctx, of)))) as [string, string]
  const reply = await ctx.work.run('besideLogs', { keys, ask }, limits)
  if ('answer' in reply) return reply.answer
  const logs = (await Promise.all(both.map((of, i) => (reply.missing[i] ? logOf(ctx, of) : undefined)))) as [
    LogGiven?,
    LogGiven?,
  ]
  const again = await ctx.work.run('besideLogs', { keys, ask, logs }, limits)
  if ('answer' in again) return again.answer
  throw new Problem('BUSY')
}

/** Another log of the same attempt has another key: it goes on, or kinds of evidence were deleted. */
async function keyOf(ctx: Context, { attempt }: AttemptContext): Promise<string> {
  const { id, state, dropped } = attempt
  return state === 'ended' ? `${id} ended ${dropped.join(' ')}` : `${id} ${await lastEventNo(ctx.db, id)}`
}

async function logOf(ctx: Context, { attempt, testCase, frozen }: AttemptContext): Promise<LogGiven> {
  return {
    testCase,
    routines: Object.values(frozen.routines),
    log: await logBytesOf(ctx.db, attempt.id),
  }
}
